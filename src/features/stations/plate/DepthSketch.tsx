'use client';
import Box from '@mui/material/Box';
import type { ElementFacts } from '../../../core/stations/plate/queries';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { useElement, useElements } from './use-element';

const [WIDTH, ROW, AXIS, LEFT] = [300, 14, 16, 4];
/** Decades of distance that are drawn, from a tenth of a metre. */
const [FIRST, LAST] = [-1, 3];
const TICKS = [0.1, 1, 10, 100];

const placeOf = (metres: number): number =>
  LEFT +
  ((Math.min(LAST, Math.max(FIRST, Math.log10(metres))) - FIRST) / (LAST - FIRST)) * (WIDTH - 2 * LEFT);

const inMetres = (value: number): string =>
  value >= 10 ** LAST ? 'far' : `${Number(value.toPrecision(3))} m`;

/** Where the elements lie, seen from the side: a bar for each from its nearest to its farthest part, the camera on the left. */
export function DepthSketch({ facts }: { facts: readonly ElementFacts[] }) {
  const elements = useElements();
  const { index: chosen } = useElement();
  const set = useDesk((state) => state.set);
  const focus = useShot((state) => state.look.camera.focusDistance);
  const height = facts.length * ROW + AXIS;
  const rows = facts.toReversed();
  return (
    <Box
      component="svg"
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="img"
      aria-label={`Elements in depth: ${facts.map((one) => `${elements[one.index]?.name ?? ''} ${describe(one)}`).join(', ')}`}
      sx={{ display: 'block', width: '100%', my: 0.5, bgcolor: 'canvas.main', fontFamily: 'var(--figures)' }}
    >
      {TICKS.map((metres) => (
        <g key={metres}>
          <Upright at={metres} height={height - AXIS} colour="divider" />
          <Box
            component="text"
            x={placeOf(metres)}
            y={height - 4}
            textAnchor={metres === TICKS[0] ? 'start' : 'middle'}
            sx={{ fontSize: 9, fill: 'var(--mui-palette-text-secondary)' }}
          >
            {metres} m
          </Box>
        </g>
      ))}
      <Upright at={focus} height={height - AXIS} colour="primary-main" dashes="3 2" />
      {rows.map((one, row) => {
        const [near, far] = [placeOf(one.near ?? 1e6), placeOf(one.far ?? 1e6)];
        const width = Math.max(3, far - near);
        const x = Math.min(near, WIDTH - LEFT - width);
        const name = elements[one.index]?.name ?? '';
        const isChosen = one.index === chosen;
        return (
          <g key={one.index} onClick={() => set({ element: one.index })} style={{ cursor: 'pointer' }}>
            <rect x={0} y={row * ROW} width={WIDTH} height={ROW} fill="transparent" />
            <Box
              component="rect"
              x={x}
              y={row * ROW + 3}
              width={width}
              height={ROW - 6}
              rx={2}
              sx={{
                fill: `var(--mui-palette-${isChosen ? 'primary-main' : 'text-secondary'})`,
                opacity: 0.35 + 0.65 * Math.min(1, one.coverage * 2),
              }}
            />
            <Box
              component="text"
              x={x > WIDTH / 2 ? x - 4 : x + width + 4}
              y={row * ROW + ROW - 4}
              textAnchor={x > WIDTH / 2 ? 'end' : 'start'}
              sx={{ fontSize: 9, fill: `var(--mui-palette-${isChosen ? 'primary-main' : 'text-primary'})` }}
            >
              {fitted(name, describe(one), (x > WIDTH / 2 ? x : WIDTH - x - width) - 8)}
            </Box>
          </g>
        );
      })}
    </Box>
  );
}

/** Width of a letter of the figures' font at the size of the labels. */
const LETTER = 5.45;

/** A name and what is said of it, the name cut short if both do not fit into a width. */
function fitted(name: string, said: string, width: number): string {
  const letters = Math.floor(width / LETTER) - said.length - 1;
  return `${name.length > letters ? `${name.slice(0, Math.max(0, letters - 1))}…` : name} ${said}`;
}

interface UprightProps {
  /** Metres. */
  at: number;
  height: number;
  colour: string;
  dashes?: string;
}

/** A line across all elements at one distance. */
function Upright({ at, height, colour, dashes }: UprightProps) {
  const x = placeOf(at);
  return <path d={`M${x} 0V${height}`} stroke={`var(--mui-palette-${colour})`} strokeDasharray={dashes} />;
}

function describe({ near, far }: ElementFacts): string {
  if (near === undefined || far === undefined) return 'at no distance';
  return far > near * 1.02 ? `${inMetres(near)} to ${inMetres(far)}` : inMetres(near);
}
