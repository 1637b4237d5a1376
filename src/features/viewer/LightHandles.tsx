'use client';
import Box from '@mui/material/Box';
import { useRef } from 'react';
import { clamp } from '../../core/image/clamp';
import type { Look } from '../../core/look/look';
import { projectPoint } from '../../core/stations/ghosts/light-place';
import type { ResolvedLight } from '../../core/light/resolved-light';
import { useDesk } from '../../state/desk-store';
import { beginGesture, endGesture, useShot, type Gesture } from '../../state/shot-store';
import type { PlateCard } from '../session';
import { useLights } from '../stations';
import { ARROW_KEYS } from './arrow-keys';
import { HANDLE_SURFACE } from './handle-surface';
import type { Layout } from '../common';
import { useFrameMapping } from './use-frame-mapping';

/** Distance from the viewer's edge at which the handle of a light outside it stands, screen pixels. */
const INSET = 14;
/** Screen pixels that an arrow key moves a light, and with Shift. */
const STEP = 2;
const LONG_STEP = 20;
/** Farthest place that a light can have, in pictures. */
const FARTHEST = 50;
const REACH = [-FARTHEST, FARTHEST] as const;

type LightSettings = Look['ghosts']['lights'][number];
type Place = readonly [x: number, y: number];

/** Puts a light of the list where it is seen at a place of the frame, as part of the present step. */
function moveLight(index: number, [x, y]: Place, aspect: number): void {
  const { look, setLook } = useShot.getState();
  const light = look.ghosts.lights[index];
  if (!light) return;
  const { focalLength, sensorWidth } = look.camera;
  // In space it keeps its distance.
  const change = light.space
    ? {
        px: ((x - 0.5) * sensorWidth * -light.pz) / focalLength,
        py: ((0.5 - y) * (sensorWidth / aspect) * -light.pz) / focalLength,
      }
    : { x, y };
  const lights = look.ghosts.lights.map((one, k) => (k === index ? { ...one, ...change } : one));
  setLook({ ...look, ghosts: { ...look.ghosts, lights } });
}

/** Where a light of the list is seen, in shares of the frame; undefined behind the camera. */
function placeOf(light: LightSettings, camera: Look['camera'], aspect: number): Place | undefined {
  if (!light.space) return [light.x, light.y];
  const place = projectPoint(light, camera, aspect);
  return place && [place.x, place.y];
}

/** Handles of the lights on the picture: drag one, also out of the picture. Those that were found are marked. */
export function LightHandles({
  layout,
  card,
  size,
}: {
  layout: Layout;
  card: PlateCard;
  size: { width: number; height: number };
}) {
  const isShown = useDesk(({ station }) => station === 'ghosts');
  const on = useShot(({ look }) => look.ghosts.on);
  if (!isShown || !on) return null;
  return <Handles layout={layout} card={card} size={size} />;
}

function Handles({ layout, card, size }: Parameters<typeof LightHandles>[0]) {
  const lights = useShot(({ look }) => look.ghosts.lights);
  const camera = useShot(({ look }) => look.camera);
  const chosen = useDesk((state) => state.light);
  const set = useDesk((state) => state.set);
  const resolved = useLights() ?? [];
  const surface = useRef<SVGSVGElement>(null);
  const drag = useRef<{ index: number; dx: number; dy: number; gesture: Gesture } | null>(null);
  const { frame } = card;
  const aspect = frame.width / frame.height;
  const { toScreen, toFrame } = useFrameMapping(layout, card, REACH);
  const held = ([x, y]: Place): [number, number] => [
    clamp(x, INSET, size.width - INSET),
    clamp(y, INSET, size.height - INSET),
  ];
  const end = (): void => {
    if (!drag.current) return;
    endGesture(drag.current.gesture);
    drag.current = null;
    set({ dragging: false });
  };
  const at = (event: React.PointerEvent): [number, number] => {
    const box = surface.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  return (
    <Box
      component="svg"
      ref={surface}
      role="group"
      aria-label="Lights"
      onPointerMove={(event: React.PointerEvent) => {
        if (!drag.current) return;
        event.stopPropagation();
        const [x, y] = at(event);
        const { index, dx, dy } = drag.current;
        moveLight(index, toFrame([x + dx, y + dy]), aspect);
      }}
      onPointerUp={end}
      onPointerCancel={end}
      sx={HANDLE_SURFACE}
    >
      {resolved
        .filter(({ isFound }) => isFound)
        .map((light) => (
          <FoundMark key={light.index} light={light} at={toScreen([light.x, light.y])} />
        ))}
      {lights.map((light, index) => {
        const place = placeOf(light, camera, aspect);
        if (!place) return null;
        const real = toScreen(place);
        const shown = held(real);
        const isOutside = real[0] !== shown[0] || real[1] !== shown[1];
        const seen = resolved.find((one) => !one.isFound && one.index === index);
        return (
          <Handle
            key={index}
            name={light.name || `Light ${index + 1}`}
            at={shown}
            turn={isOutside ? Math.atan2(real[1] - shown[1], real[0] - shown[0]) : undefined}
            isChosen={index === chosen}
            isOff={!light.on || !seen}
            visibility={seen?.visibility ?? 1}
            onPress={(event) => {
              event.stopPropagation();
              surface.current!.setPointerCapture(event.pointerId);
              const [x, y] = at(event);
              // One outside is drawn in to where its handle stands.
              const from = isOutside ? shown : real;
              drag.current = { index, dx: from[0] - x, dy: from[1] - y, gesture: beginGesture() };
              set({ light: index, dragging: true });
            }}
            onKeyDown={(event) => {
              const way = ARROW_KEYS[event.key];
              if (!way) return;
              event.preventDefault();
              event.stopPropagation();
              const step = event.shiftKey ? LONG_STEP : STEP;
              set({ light: index });
              moveLight(index, toFrame([real[0] + step * way[0], real[1] + step * way[1]]), aspect);
            }}
          />
        );
      })}
    </Box>
  );
}

interface HandleProps {
  name: string;
  at: Place;
  /** Of a light outside the viewer: in which direction it lies. */
  turn: number | undefined;
  isChosen: boolean;
  isOff: boolean;
  visibility: number;
  onPress: (event: React.PointerEvent) => void;
  onKeyDown: (event: React.KeyboardEvent) => void;
}

/** A ring with a point; the part of the ring that is drawn full is the share of the light that is seen. */
function Handle({ name, at: [x, y], turn, isChosen, isOff, visibility, onPress, onKeyDown }: HandleProps) {
  const colour = isChosen ? '#e8a33d' : '#d6d6d6';
  const around = 2 * Math.PI * 8;
  const seen = `${Math.round(visibility * 100)} % seen`;
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${name}, ${isOff ? 'off' : seen}: drag it, or move it by arrow keys`}
      onPointerDown={onPress}
      onDoubleClick={(event) => event.stopPropagation()}
      onKeyDown={onKeyDown}
      opacity={isOff ? 0.5 : 1}
      style={{ pointerEvents: 'all', cursor: 'grab', touchAction: 'none' }}
    >
      <circle cx={x} cy={y} r={11} fill="transparent" />
      <circle cx={x} cy={y} r={8} fill="none" stroke="#1f1f1f" strokeWidth={3.5} opacity={0.6} />
      <circle
        cx={x}
        cy={y}
        r={8}
        fill="none"
        stroke={colour}
        strokeWidth={1.6}
        strokeDasharray={`${around * visibility} ${around}`}
        transform={`rotate(-90 ${x} ${y})`}
      />
      <circle cx={x} cy={y} r={2} fill={colour} />
      {turn !== undefined && (
        <path
          d="M11 -4 L16 0 L11 4"
          fill="none"
          stroke={colour}
          strokeWidth={1.6}
          transform={`translate(${x} ${y}) rotate(${(turn * 180) / Math.PI})`}
        />
      )}
      <text
        x={x + 13}
        y={y - 9}
        fill={colour}
        fontSize={11}
        style={{ paintOrder: 'stroke', stroke: '#161616', strokeWidth: 3 }}
      >
        {name}
        {!isOff && visibility < 0.995 && ` ${Math.round(visibility * 100)} %`}
      </text>
    </g>
  );
}

function FoundMark({ light, at: [x, y] }: { light: ResolvedLight; at: Place }) {
  return (
    <g aria-hidden>
      <rect
        x={x - 6}
        y={y - 6}
        width={12}
        height={12}
        fill="none"
        stroke="#57b894"
        strokeWidth={1.4}
        strokeDasharray="3 3"
        transform={`rotate(45 ${x} ${y})`}
      />
      <text
        x={x + 12}
        y={y - 8}
        fill="#57b894"
        fontSize={11}
        style={{ paintOrder: 'stroke', stroke: '#161616', strokeWidth: 3 }}
      >
        {light.name}
      </text>
    </g>
  );
}
