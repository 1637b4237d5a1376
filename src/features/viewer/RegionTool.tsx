'use client';
import Box from '@mui/material/Box';
import { useRef, useState } from 'react';
import { clamp } from '../../core/image/clamp';
import type { Rectangle } from '../../core/image/rectangle';
import { useDesk } from '../../state/desk-store';
import type { PlateCard } from '../session';
import { ARROW_KEYS } from './arrow-keys';
import type { Layout } from '../common';

/** Pixels that a region has at least along each side. */
const LEAST = 16;

/** Pixels that an arrow key moves a region. */
const STEP = 8;

/** A region a step farther, or larger by one, within the picture. */
export function stepRegion(
  { x, y, width, height }: Rectangle,
  [dx, dy]: readonly [number, number],
  isSized: boolean,
  picture: { width: number; height: number },
): Rectangle {
  return isSized
    ? {
        x,
        y,
        width: clamp(width + dx, LEAST, picture.width - x),
        height: clamp(height + dy, LEAST, picture.height - y),
      }
    : {
        x: clamp(x + dx, 0, picture.width - width),
        y: clamp(y + dy, 0, picture.height - height),
        width,
        height,
      };
}

/** The whole pixels between two places, held to the picture; undefined if that is next to nothing. */
export function regionBetween(
  a: readonly [number, number],
  b: readonly [number, number],
  { width, height }: { width: number; height: number },
): Rectangle | undefined {
  const held = (value: number, most: number): number => Math.min(most, Math.max(0, Math.round(value)));
  const [left, right] = [a[0], b[0]].map((x) => held(x, width)).sort((p, q) => p - q) as [number, number];
  const [top, bottom] = [a[1], b[1]].map((y) => held(y, height)).sort((p, q) => p - q) as [number, number];
  if (right - left < LEAST || bottom - top < LEAST) return undefined;
  return { x: left, y: top, width: right - left, height: bottom - top };
}

/** The region on the picture; while it is drawn, a drag spans it. */
export function RegionTool({ layout, card }: { layout: Layout; card: PlateCard }) {
  const region = useDesk((state) => (state.region?.plate === card.plate ? state.region : null));
  const drawing = useDesk((state) => state.drawingRegion);
  const set = useDesk((state) => state.set);
  const surface = useRef<HTMLDivElement>(null);
  const start = useRef<[number, number] | null>(null);
  const [drawn, setDrawn] = useState<Rectangle>();
  const place = (event: React.PointerEvent): [number, number] => {
    const box = surface.current!.getBoundingClientRect();
    return [
      (event.clientX - box.left - layout.left) / layout.zoom,
      (event.clientY - box.top - layout.top) / layout.zoom,
    ];
  };
  const shown = drawn ?? region;
  return (
    <>
      {shown && (
        <Box
          data-testid="region"
          role="group"
          tabIndex={0}
          aria-label="Region: arrow keys move it, with Shift they size it"
          onKeyDown={(event) => {
            const way = ARROW_KEYS[event.key];
            if (!way || !region) return;
            event.preventDefault();
            event.stopPropagation();
            set({
              region: {
                ...stepRegion(region, [STEP * way[0], STEP * way[1]], event.shiftKey, card),
                plate: card.plate,
              },
            });
          }}
          sx={{
            position: 'absolute',
            left: layout.left + shown.x * layout.zoom,
            top: layout.top + shown.y * layout.zoom,
            width: shown.width * layout.zoom,
            height: shown.height * layout.zoom,
            outline: '1px solid',
            outlineColor: 'primary.main',
            pointerEvents: 'none',
          }}
        />
      )}
      {drawing && (
        <Box
          ref={surface}
          data-testid="region-pen"
          onPointerDown={(event) => {
            event.stopPropagation();
            if (event.button !== 0) return set({ drawingRegion: false });
            event.currentTarget.setPointerCapture(event.pointerId);
            start.current = place(event);
          }}
          onPointerMove={(event) => {
            if (start.current) setDrawn(regionBetween(start.current, place(event), card));
          }}
          onPointerUp={(event) => {
            const next = start.current && regionBetween(start.current, place(event), card);
            start.current = null;
            setDrawn(undefined);
            set({ drawingRegion: false, ...(next && { region: { ...next, plate: card.plate } }) });
          }}
          onDoubleClick={(event) => event.stopPropagation()}
          sx={{ position: 'absolute', inset: 0, cursor: 'crosshair' }}
        />
      )}
    </>
  );
}
