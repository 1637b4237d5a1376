'use client';
import Box from '@mui/material/Box';
import { useRef, useState } from 'react';
import { clamp } from '../../core/image/clamp';
import type { Rectangle } from '../../core/image/rectangle';
import { useDesk } from '../../state/desk-store';
import type { Layout } from '../common';

interface PatchToolProps {
  side: 'shown' | 'compared';
  picture: { width: number; height: number };
  layout: Layout;
}

/** A patch that is drawn on a picture, as shares of it, while patches are wanted. */
export function PatchTool({ side, picture, layout }: PatchToolProps) {
  // They are drawn on a picture and a reference beside it.
  const patches = useDesk(({ patches: drawn, compare, against }) =>
    compare === 'beside' && against.kind === 'reference' ? drawn : null,
  );
  const set = useDesk((state) => state.set);
  const surface = useRef<HTMLDivElement>(null);
  const start = useRef<[number, number] | null>(null);
  const [drawn, setDrawn] = useState<Rectangle>();
  if (!patches) return null;
  const [width, height] = [picture.width * layout.zoom, picture.height * layout.zoom];
  const place = (event: React.PointerEvent): [number, number] => {
    const box = surface.current!.getBoundingClientRect();
    return [
      clamp((event.clientX - box.left - layout.left) / width, 0, 1),
      clamp((event.clientY - box.top - layout.top) / height, 0, 1),
    ];
  };
  const spanTo = (event: React.PointerEvent): Rectangle | undefined => {
    if (!start.current) return undefined;
    const [a, b] = [start.current, place(event)];
    return {
      x: Math.min(a[0], b[0]),
      y: Math.min(a[1], b[1]),
      width: Math.abs(a[0] - b[0]),
      height: Math.abs(a[1] - b[1]),
    };
  };
  const shown = drawn ?? patches[side];
  return (
    <Box
      ref={surface}
      data-testid={`patch-${side}`}
      onPointerDown={(event) => {
        event.stopPropagation();
        if (event.button !== 0) return set({ patches: null });
        event.currentTarget.setPointerCapture(event.pointerId);
        start.current = place(event);
      }}
      onPointerMove={(event) => setDrawn(spanTo(event))}
      onPointerUp={(event) => {
        const patch = spanTo(event);
        start.current = null;
        setDrawn(undefined);
        if (patch) set({ patches: { ...patches, [side]: patch } });
      }}
      onDoubleClick={(event) => event.stopPropagation()}
      sx={{ position: 'absolute', inset: 0, cursor: 'crosshair' }}
    >
      {shown && (
        <Box
          sx={{
            position: 'absolute',
            left: layout.left + shown.x * width,
            top: layout.top + shown.y * height,
            width: Math.max(2, shown.width * width),
            height: Math.max(2, shown.height * height),
            outline: '1px solid',
            outlineColor: 'primary.main',
            pointerEvents: 'none',
          }}
        />
      )}
    </Box>
  );
}
