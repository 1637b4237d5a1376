'use client';
import Box from '@mui/material/Box';
import { useRef, useState } from 'react';
import { isDrawn, type MaskShape } from '../../core/settings/mask';
import { useDesk } from '../../state/desk-store';
import { beginGesture, endGesture, useShot } from '../../state/shot-store';
import type { PlateCard } from '../session';
import type { FramePlace, Layout } from '../common';
import { useFrameMapping } from './use-frame-mapping';

/** A drag shorter than this is a slip of the hand. */
const LEAST = 4;
const round = (value: number): number => Math.round(value * 10_000) / 10_000;

/**
 * Draws the shape that was just added where it is wanted, in place of the one that stands ready: an ellipse from its
 * middle outwards, a gradient from where it is full to where it ends, a polygon corner by corner (a double click, or a
 * click on the first corner, closes it).
 */
export function MaskPen({ layout, card }: { layout: Layout; card: PlateCard }) {
  const pen = useDesk((state) => state.pen);
  const set = useDesk((state) => state.set);
  const change = useShot((state) => state.change);
  const shape = useShot(
    (state) => state.look.masks.find(({ id }) => id === pen?.mask)?.shapes[pen?.shape ?? 0],
  );
  const surface = useRef<HTMLDivElement>(null);
  const start = useRef<FramePlace | null>(null);
  const [corners, setCorners] = useState<FramePlace[]>([]);
  const { toFrame, toScreen } = useFrameMapping(layout, card);
  if (!pen || !shape || !isDrawn(shape)) return null;

  const place = (event: React.PointerEvent | React.MouseEvent): FramePlace => {
    const box = surface.current!.getBoundingClientRect();
    return toFrame([event.clientX - box.left, event.clientY - box.top]);
  };
  const put = (next: MaskShape): void =>
    change(
      'masks',
      useShot
        .getState()
        .look.masks.map((mask) =>
          mask.id === pen.mask
            ? { ...mask, shapes: mask.shapes.map((old, i) => (i === pen.shape ? next : old)) }
            : mask,
        ),
    );
  const layDown = (): void => {
    start.current = null;
    setCorners([]);
    endGesture();
    set({ pen: null, dragging: false });
  };
  const close = (): void => {
    // A double click is two clicks in one place: that is one corner.
    const apart = corners.filter((corner, index) => {
      const [a, b] = [toScreen(corner), toScreen(corners[index - 1] ?? corner)];
      return index === 0 || Math.hypot(a[0] - b[0], a[1] - b[1]) >= LEAST;
    });
    if (shape.kind === 'polygon' && apart.length >= 3) put({ ...shape, points: apart });
    layDown();
  };
  const drawn = (to: FramePlace): MaskShape | undefined => {
    const from = start.current;
    if (!from) return undefined;
    if (shape.kind === 'gradient') return { ...shape, from, to };
    if (shape.kind !== 'ellipse') return undefined;
    const aspect = card.frame.width / card.frame.height;
    const [rx, ry] = [Math.abs(to[0] - from[0]) * aspect, Math.abs(to[1] - from[1])];
    return {
      ...shape,
      centre: from,
      radii: [Math.max(0.005, round(rx)), Math.max(0.005, round(ry))],
      rotation: 0,
    };
  };
  const moved = (to: FramePlace): boolean => {
    if (!start.current) return false;
    const [a, b] = [toScreen(start.current), toScreen(to)];
    return Math.hypot(b[0] - a[0], b[1] - a[1]) >= LEAST;
  };

  return (
    <Box
      ref={surface}
      data-testid="mask-pen"
      tabIndex={-1}
      onPointerDown={(event) => {
        event.stopPropagation();
        if (event.button !== 0) return layDown();
        const at = place(event);
        if (shape.kind === 'polygon') {
          const [first] = corners.map(toScreen);
          const box = surface.current!.getBoundingClientRect();
          const near =
            first && Math.hypot(event.clientX - box.left - first[0], event.clientY - box.top - first[1]) < 8;
          if (near) close();
          else setCorners([...corners, at]);
          return;
        }
        event.currentTarget.setPointerCapture(event.pointerId);
        start.current = at;
        beginGesture();
        set({ dragging: true });
      }}
      onPointerMove={(event) => {
        const to = place(event);
        const next = drawn(to);
        if (next && moved(to)) put(next);
      }}
      onPointerUp={(event) => {
        if (!start.current) return;
        if (moved(place(event))) layDown();
        else start.current = null;
      }}
      onDoubleClick={(event) => {
        event.stopPropagation();
        if (shape.kind === 'polygon') close();
      }}
      sx={{ position: 'absolute', inset: 0, cursor: 'crosshair', touchAction: 'none' }}
    >
      <svg width="100%" height="100%" aria-hidden="true">
        <polyline
          points={corners.map((corner) => toScreen(corner).join(',')).join(' ')}
          fill="none"
          stroke="#e8a33d"
          strokeWidth={1.25}
        />
        {corners.map((corner, index) => {
          const [x, y] = toScreen(corner);
          return <circle key={index} cx={x} cy={y} r={4} fill="#1f1f1f" stroke="#e8a33d" strokeWidth={1.5} />;
        })}
      </svg>
      <Box
        role="status"
        sx={{
          position: 'absolute',
          left: '50%',
          bottom: 8,
          transform: 'translateX(-50%)',
          px: 1,
          py: 0.25,
          bgcolor: 'background.paper',
          borderRadius: 0.5,
          fontSize: 11,
          pointerEvents: 'none',
        }}
      >
        {shape.kind === 'ellipse' && 'Drag from the middle of the ellipse outwards'}
        {shape.kind === 'gradient' && 'Drag from where the mask is full to where it ends'}
        {shape.kind === 'polygon' && 'Click corner by corner; a double click closes the polygon'}
      </Box>
    </Box>
  );
}
