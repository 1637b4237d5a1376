'use client';
import Box from '@mui/material/Box';
import { useDesk } from '../../state/desk-store';
import type { Layout } from '../common';
import { useCompareName } from './compare-name';

/** The edge between plate (left) and final (right): dragged, or moved with the arrow keys. */
export function WipeEdge({ layout, width, height }: { layout: Layout; width: number; height: number }) {
  const wipe = useDesk((state) => state.wipe);
  const name = useCompareName();
  const set = useDesk((state) => state.set);
  const span = width * layout.zoom;
  const place = (value: number): void => set({ wipe: Math.min(1, Math.max(0, value)) });
  return (
    <Box
      role="slider"
      tabIndex={0}
      aria-label={`Wipe edge: ${name} on the left, final on the right`}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(wipe * 100)}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        event.stopPropagation();
        const box = event.currentTarget.parentElement!.getBoundingClientRect();
        place((event.clientX - box.left - layout.left) / span);
      }}
      onKeyDown={(event) => {
        const step = event.shiftKey ? 0.1 : 0.01;
        if (event.key === 'ArrowLeft') place(wipe - step);
        else if (event.key === 'ArrowRight') place(wipe + step);
        else if (event.key === 'Home') place(0);
        else if (event.key === 'End') place(1);
        else return;
        event.preventDefault();
      }}
      sx={{
        position: 'absolute',
        left: layout.left + span * wipe - 8,
        top: layout.top,
        width: 16,
        height: height * layout.zoom,
        cursor: 'ew-resize',
        touchAction: 'none',
        '&::before': {
          content: '""',
          position: 'absolute',
          left: 7.5,
          top: 0,
          bottom: 0,
          width: '1px',
          bgcolor: 'text.primary',
        },
        '&::after': {
          content: '""',
          position: 'absolute',
          left: 4,
          top: 'calc(50% - 12px)',
          width: 8,
          height: 24,
          borderRadius: '4px',
          border: '1px solid',
          borderColor: 'text.primary',
          bgcolor: 'background.paper',
        },
      }}
    />
  );
}
