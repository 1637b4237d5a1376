'use client';
import Box from '@mui/material/Box';
import { solveDisc } from '../../core/stations/focus/blur-facts';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { askBench, notify, reportError, type PlateCard } from '../session';
import type { Layout } from '../common';
import { useFrameMapping } from './use-frame-mapping';

/** While the focus, an end of the depth or a place for a wished disc is picked: a click takes what is there. */
export function FocusPicker({ layout, card }: { layout: Layout; card: PlateCard }) {
  const picking = useDesk((state) => state.picking);
  const set = useDesk((state) => state.set);
  const change = useShot((state) => state.change);
  const { toFrame } = useFrameMapping(layout, card);
  if (!picking) return null;
  const pick = async (x: number, y: number): Promise<void> => {
    try {
      const { look } = useShot.getState();
      const { frame } = card;
      const [u, v] = toFrame([x, y]);
      const place = [Math.floor(frame.x + u * frame.width), Math.floor(frame.y + v * frame.height)] as const;
      const input = { x: place[0], y: place[1] };
      const picked = await askBench({ name: 'pickDistance', look, input, plate: card.id });
      const { distance, share } = picked;
      if (picking === 'disc') {
        const solved = solveDisc(look, frame, { distance, ...useDesk.getState().wishedDisc });
        if ('why' in solved) notify(solved.why, 'warning');
        else change(solved.path, solved.value);
        return;
      }
      if (picking !== 'focus') {
        if (share !== undefined)
          set({ depthPick: { end: picking, x: place[0], y: place[1], share, distance } });
        return;
      }
      change('camera.focusDistance', Number(Math.min(100_000, Math.max(0.01, distance)).toPrecision(4)));
    } catch (error) {
      reportError(error);
    } finally {
      set({ picking: null });
    }
  };
  return (
    <Box
      data-testid="focus-picker"
      onPointerDown={(event) => {
        event.stopPropagation();
        const box = event.currentTarget.getBoundingClientRect();
        void pick(event.clientX - box.left, event.clientY - box.top);
      }}
      sx={{ position: 'absolute', inset: 0, cursor: 'crosshair' }}
    />
  );
}
