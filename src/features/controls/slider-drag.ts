import { useDesk } from '../../state/desk-store';
import { beginGesture, endGesture } from '../../state/shot-store';

/** Makes a drag of a slider one step to undo, and lets drafts be shown while it lasts. */
export const SLIDER_DRAG = {
  onPointerDown(): void {
    beginGesture();
    useDesk.getState().set({ dragging: true });
  },
  onChangeCommitted(): void {
    endGesture();
    useDesk.getState().set({ dragging: false });
  },
} as const;

/** A slider of the panels; its track may be painted over. */
export const sliderSx = (track = 'none') =>
  ({
    color: 'primary.main',
    height: 2,
    py: 1,
    '& .MuiSlider-rail': { opacity: 1, height: 3, bgcolor: 'divider', backgroundImage: track },
    '& .MuiSlider-track': { height: 2, border: 0 },
    '& .MuiSlider-thumb': {
      width: 4,
      height: 13,
      borderRadius: '1px',
      '&::before': { boxShadow: 'none' },
    },
  }) as const;
