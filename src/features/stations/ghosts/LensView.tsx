'use client';
import Box from '@mui/material/Box';
import { useState } from 'react';
import type { LensDrawing } from '../../../core/stations/ghosts/queries';
import { fieldTangents, listedLight } from '../../../core/stations/ghosts/light-place';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { FigureLine, Pill } from '../../common';
import { useLatest } from '../../controls';
import { askBench } from '../../session';

const WIDTH = 295;
const HEIGHT = 132;
const MARGIN = 6;

/** Colours that rays can be followed in: by the names of their spectral lines, nm. */
const LINES = [
  { name: 'blue', nm: 486.1, colour: '#7fa8d8' },
  { name: 'yellow', nm: 587.6, colour: '#d6c27f' },
  { name: 'red', nm: 656.3, colour: '#d88f7f' },
] as const;

/** Field angle of the light that is worked on, degrees; of a look without lights some angle. */
function useFieldAngle(): number {
  const chosen = useDesk((state) => state.light) ?? 0;
  return useShot(({ look }) => {
    const { camera, ghosts } = look;
    const aspect = camera.sensorWidth / camera.sensorHeight;
    const light = ghosts.lights[chosen] && listedLight(look, chosen, aspect);
    if (!light) return 8;
    const { x, y } = fieldTangents(light, camera, aspect);
    return Math.round((Math.atan(Math.hypot(x, y)) * 1800) / Math.PI) / 10;
  });
}

/** The lens cut through its axis, the way of the light's rays through it, and that of the chosen ghost. */
export function LensView() {
  const [line, setLine] = useState<(typeof LINES)[number]>(LINES[1]);
  const degrees = useFieldAngle();
  const ghost = useDesk((state) => state.ghost);
  const look = useShot((state) => state.look);
  const { design, own, refocus } = look.ghosts;
  const key = [design, own, refocus, look.camera, degrees, line.nm, ghost];
  const drawing = useLatest(JSON.stringify(key), () =>
    askBench({
      name: 'lensDrawing',
      look: useShot.getState().look,
      input: { degrees, wavelength: line.nm, ...(ghost !== null && { ghost }) },
    }),
  );
  return (
    <Box data-testid="lens-view" sx={{ pb: 0.5 }}>
      {drawing ? (
        <Section drawing={drawing} colour={line.colour} degrees={degrees} />
      ) : (
        <Box sx={{ height: HEIGHT }} />
      )}
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, pt: 0.25 }}>
        {LINES.map((one) => (
          <Pill
            key={one.name}
            on={one === line}
            label={one.name}
            name={`Rays in ${one.name}, ${one.nm} nm`}
            onClick={() => setLine(one)}
          />
        ))}
        <Box
          sx={{
            flex: 1,
            textAlign: 'right',
            fontFamily: 'var(--figures)',
            fontSize: 10.5,
            color: 'text.secondary',
          }}
        >
          {degrees} °{ghost !== null && `, ghost ${ghost}`}
        </Box>
      </Box>
      {drawing && <Facts drawing={drawing} fStop={look.camera.fStop} />}
    </Box>
  );
}

function Facts({ drawing: { facts, scale, shift }, fStop }: { drawing: LensDrawing; fStop: number }) {
  const scaled = Math.abs(scale - 1) > 1e-3 ? `scaled x${scale.toPrecision(3)}` : 'as listed';
  return (
    <>
      <FigureLine pt={0.25}>
        <span>{facts.focalLength.toFixed(1)} mm</span>
        <span>f/{fStop}</span>
        <span>{scaled}</span>
      </FigureLine>
      <FigureLine>
        <span>back focus {facts.backFocus.toFixed(1)} mm</span>
        <span>{shift > 0 ? `sensor +${shift.toFixed(2)} mm` : `${facts.length.toFixed(1)} mm long`}</span>
      </FigureLine>
    </>
  );
}

function Section({ drawing, colour, degrees }: { drawing: LensDrawing; colour: string; degrees: number }) {
  const { glasses, stop, sensor, rays, ghost } = drawing.section;
  const first = Math.min(0, ...glasses.flatMap(({ outline }) => outline.map(([z]) => z)));
  const lead = 0.12 * (sensor.z - first);
  const high = Math.max(
    stop.outer * 1.1,
    ...rays.flat().map(([z, y]) => (z > first - lead ? Math.abs(y) : 0)),
    1,
  );
  const scale = Math.min(
    (WIDTH - 2 * MARGIN) / (sensor.z - first + lead),
    (HEIGHT - 2 * MARGIN) / (2 * high),
  );
  const left = (WIDTH - scale * (sensor.z - first + lead)) / 2;
  const place = ([z, y]: readonly [number, number]): string =>
    `${(left + (z - first + lead) * scale).toFixed(2)},${(HEIGHT / 2 - y * scale).toFixed(2)}`;
  const blade = (side: 1 | -1): string =>
    `M${place([stop.z, side * stop.edge])}L${place([stop.z, side * stop.outer * 1.08])}`;
  const half = Math.min(sensor.half, high);
  return (
    <Box
      component="svg"
      role="img"
      aria-label={`Cross-section of the lens with rays at ${degrees} degrees`}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      sx={{
        display: 'block',
        width: '100%',
        bgcolor: 'canvas.main',
        border: '1px solid',
        borderColor: 'divider',
      }}
    >
      <defs>
        <clipPath id="lens-frame">
          <rect x={0} y={0} width={WIDTH} height={HEIGHT} />
        </clipPath>
      </defs>
      <g clipPath="url(#lens-frame)">
        <path d={`M0 ${HEIGHT / 2}H${WIDTH}`} stroke="#383838" strokeDasharray="6 3 1 3" />
        {glasses.map(({ outline, nd }, k) => (
          <polygon
            key={k}
            points={outline.map(place).join(' ')}
            fill="#9ab0b8"
            fillOpacity={0.12 + 0.35 * Math.max(0, nd - 1.45)}
            stroke="#9a9a9a"
            strokeWidth={0.8}
          />
        ))}
        {rays.map((path, k) => (
          <polyline
            key={k}
            points={path.map(place).join(' ')}
            fill="none"
            stroke={colour}
            strokeWidth={0.7}
            opacity={ghost ? 0.35 : 0.85}
          />
        ))}
        {ghost?.rays.map((path, k) => (
          <polyline
            key={k}
            points={path.map(place).join(' ')}
            fill="none"
            stroke="#e8a33d"
            strokeWidth={0.9}
          />
        ))}
        {ghost?.turns.map((turn, k) => {
          const [x, y] = place(turn).split(',');
          return <circle key={k} cx={x} cy={y} r={2.2} fill="#e8a33d" />;
        })}
        <path d={blade(1) + blade(-1)} stroke="#d6d6d6" strokeWidth={2} />
        <path
          d={`M${place([sensor.z, -half])}L${place([sensor.z, half])}`}
          stroke="#d6d6d6"
          strokeWidth={1.5}
          strokeDasharray="2 1.5"
        />
      </g>
    </Box>
  );
}
