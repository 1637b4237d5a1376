'use client';
import Box from '@mui/material/Box';
import { withKey } from '../../core/look/track-edits';
import { asFocusDistance } from '../../core/optics/camera';
import { solveDisc } from '../../core/stations/focus/blur-facts';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { askBench, notify, reportError, type PlateCard } from '../session';
import type { Layout } from '../common';
import { useFrameMapping } from './use-frame-mapping';

/** A key of the focus at the playhead, and where it was clicked. */
function pullTo(distance: number, [x, y]: readonly [number, number]): void {
  const { tracks, reel, setTracks } = useShot.getState();
  const { pulls, pullEase, set } = useDesk.getState();
  const frame = reel.playhead;
  setTracks(
    withKey(tracks, 'camera.focusDistance', { frame, value: asFocusDistance(distance), ease: pullEase }),
  );
  set({ pulls: [...pulls.filter((one) => one.frame !== frame), { frame, x, y }] });
}

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
      if (picking !== 'focus' && picking !== 'pull') {
        if (share !== undefined)
          set({ depthPick: { end: picking, x: place[0], y: place[1], share, distance } });
        return;
      }
      if (picking === 'pull') return pullTo(distance, place);
      change('camera.focusDistance', asFocusDistance(distance));
    } catch (error) {
      reportError(error);
    } finally {
      // The focus is pulled to place after place.
      if (picking !== 'pull') set({ picking: null });
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
