'use client';
import Box from '@mui/material/Box';
import { useEffect, useRef, useState } from 'react';
import type { GhostPlace } from '../../core/stations/ghosts/queries';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import type { PlateCard } from '../session';
import { useGhostTable } from '../stations';
import type { Layout } from '../common';
import { useFrameMapping } from './use-frame-mapping';

/** A press that moves farther pans the picture. */
const CLICK = 4;
/** Ghosts may lie far outside the frame. */
const REACH = [-50, 50] as const;

/** Whether a place of the frame lies in the ellipse that fills a ghost's rectangle. */
export function isInGhost({ x, y, width, height }: GhostPlace, at: { x: number; y: number }): boolean {
  const u = (at.x - x - width / 2) / (width / 2 || 1e-6);
  const v = (at.y - y - height / 2) / (height / 2 || 1e-6);
  return u * u + v * v <= 1;
}

/** The ghost at a place: of those that lie there, the smallest. */
export function ghostAt(places: readonly GhostPlace[], at: { x: number; y: number }): GhostPlace | undefined {
  return places
    .filter((place) => isInGhost(place, at))
    .sort((a, b) => a.width * a.height - b.width * b.height)[0];
}

/** Names the ghost under the pointer; a click chooses it. The chosen one is outlined. */
export function GhostMarks({ layout, card }: { layout: Layout; card: PlateCard }) {
  const isShown = useDesk(({ station, dragging }) => station === 'ghosts' && !dragging);
  const on = useShot(({ look }) => look.ghosts.on);
  if (!isShown || !on) return null;
  return <Marks layout={layout} card={card} />;
}

function Marks({ layout, card }: { layout: Layout; card: PlateCard }) {
  const places = useGhostTable()?.places;
  const chosen = useDesk((state) => state.ghost);
  const set = useDesk((state) => state.set);
  const [under, setUnder] = useState<GhostPlace>();
  const surface = useRef<HTMLDivElement>(null);
  const pressed = useRef<{ x: number; y: number } | null>(null);
  const { toFrame, toScreen } = useFrameMapping(layout, card, REACH);
  useEffect(() => {
    const host = surface.current?.parentElement;
    if (!host || !places) return;
    const find = (event: PointerEvent): GhostPlace | undefined => {
      const box = host.getBoundingClientRect();
      const [x, y] = toFrame([event.clientX - box.left, event.clientY - box.top]);
      return ghostAt(places, { x, y });
    };
    const move = (event: PointerEvent): void => setUnder(find(event));
    const leave = (): void => setUnder(undefined);
    const down = (event: PointerEvent): void => {
      pressed.current = { x: event.clientX, y: event.clientY };
    };
    const up = (event: PointerEvent): void => {
      const from = pressed.current;
      pressed.current = null;
      const isOnPicture = event.target === host || event.target instanceof HTMLCanvasElement;
      if (!from || !isOnPicture) return;
      if (Math.hypot(event.clientX - from.x, event.clientY - from.y) > CLICK) return;
      const found = find(event);
      if (found) set({ ghost: found.name === useDesk.getState().ghost ? null : found.name });
    };
    host.addEventListener('pointermove', move);
    host.addEventListener('pointerleave', leave);
    host.addEventListener('pointerdown', down);
    host.addEventListener('pointerup', up);
    return () => {
      host.removeEventListener('pointermove', move);
      host.removeEventListener('pointerleave', leave);
      host.removeEventListener('pointerdown', down);
      host.removeEventListener('pointerup', up);
    };
  }, [places, toFrame, set]);
  const shown = [
    ...(places ?? []).filter(({ name }) => name === chosen).map((place) => ({ place, colour: '#e8a33d' })),
    ...(under && under.name !== chosen ? [{ place: under, colour: '#d6d6d6' }] : []),
  ];
  return (
    <Box ref={surface} sx={{ position: 'absolute', inset: 0, pointerEvents: 'none', overflow: 'hidden' }}>
      <Box component="svg" aria-hidden sx={{ width: '100%', height: '100%', display: 'block' }}>
        {shown.map(({ place, colour }) => {
          const [across, along] = [place.x + place.width / 2, place.y + place.height / 2];
          const [x, y] = toScreen([across, along]);
          const [left, right] = [place.x, place.x + place.width].map((u) => toScreen([u, along])[0]);
          const [top, bottom] = [place.y, place.y + place.height].map((v) => toScreen([across, v])[1]);
          return (
            <g key={`${place.light} ${place.name}`}>
              <ellipse
                cx={x}
                cy={y}
                rx={Math.abs(right! - left!) / 2}
                ry={Math.abs(bottom! - top!) / 2}
                fill="none"
                stroke={colour}
                strokeDasharray="4 3"
              />
              <text
                x={x}
                y={y + 4}
                textAnchor="middle"
                fill={colour}
                fontSize={11}
                style={{ paintOrder: 'stroke', stroke: '#161616', strokeWidth: 3 }}
              >
                ghost {place.name}
              </text>
            </g>
          );
        })}
      </Box>
      {under && (
        <Box
          role="status"
          sx={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' }}
        >
          Ghost {under.name} of {under.light}
        </Box>
      )}
    </Box>
  );
}
