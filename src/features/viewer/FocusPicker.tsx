'use client';
import Box from '@mui/material/Box';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { reportError, type PlateCard } from '../session';
import type { Layout } from './placement';

/** While the focus is picked: a click puts it on what is there. */
export function FocusPicker({ layout, card }: { layout: Layout; card: PlateCard }) {
  const picking = useDesk((state) => state.picking);
  const set = useDesk((state) => state.set);
  const change = useShot((state) => state.change);
  if (!picking) return null;
  const pick = async (x: number, y: number): Promise<void> => {
    try {
      const { look } = useShot.getState();
      const distance = unwrap(await benchEngine().pickDistance(card.id, look, Math.floor(x), Math.floor(y)));
      change('camera.focusDistance', Number(Math.min(100_000, Math.max(0.01, distance)).toPrecision(4)));
    } catch (error) {
      reportError(error);
    } finally {
      set({ picking: false });
    }
  };
  return (
    <Box
      data-testid="focus-picker"
      onPointerDown={(event) => {
        event.stopPropagation();
        const box = event.currentTarget.getBoundingClientRect();
        void pick(
          (event.clientX - box.left - layout.left) / layout.zoom,
          (event.clientY - box.top - layout.top) / layout.zoom,
        );
      }}
      sx={{ position: 'absolute', inset: 0, cursor: 'crosshair' }}
    />
  );
}
