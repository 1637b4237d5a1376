import { useRef } from 'react';
import type { NumberMeta } from '../../core/settings/setting';
import { useDesk } from '../../state/desk-store';
import { beginGesture, endGesture, type Gesture } from '../../state/shot-store';
import { fromPosition, SLIDER_STEPS, toPosition } from './slider-scale';

/** Pixels that a hand moves before it drags. */
const LEAST = 3;
/** Steps of the slider that a pixel is: as a rule, with Shift, and with Ctrl. */
const [PLAIN, FINE, COARSE] = [2, 0.25, 10];

interface Drag {
  x: number;
  position: number;
  gesture: Gesture | undefined;
}

/** Drags a number in its field, sideways: with Shift finely, with Ctrl coarsely. A click without a drag opens it for typing. */
export function useScrub(setting: NumberMeta, value: number, onChange: (value: number) => void) {
  const drag = useRef<Drag | null>(null);
  const wasDragged = useRef(false);
  const end = (event: React.PointerEvent<HTMLElement>): void => {
    const held = drag.current;
    drag.current = null;
    if (!held) return;
    if (!held.gesture) return event.currentTarget.querySelector('input')?.focus();
    wasDragged.current = true;
    endGesture(held.gesture);
    useDesk.getState().set({ dragging: false });
  };
  return {
    onPointerDown(event: React.PointerEvent<HTMLElement>): void {
      const isTyping = document.activeElement === event.currentTarget.querySelector('input');
      if (event.button !== 0 || isTyping) return;
      event.preventDefault();
      wasDragged.current = false;
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = { x: event.clientX, position: toPosition(setting, value), gesture: undefined };
    },
    onPointerMove(event: React.PointerEvent<HTMLElement>): void {
      const held = drag.current;
      if (!held) return;
      const moved = event.clientX - held.x;
      if (!held.gesture) {
        if (Math.abs(moved) < LEAST) return;
        held.gesture = beginGesture();
        useDesk.getState().set({ dragging: true });
      }
      const pace = event.shiftKey ? FINE : event.ctrlKey ? COARSE : PLAIN;
      held.x = event.clientX;
      held.position = Math.min(SLIDER_STEPS, Math.max(0, held.position + moved * pace));
      onChange(fromPosition(setting, held.position));
    },
    /** The click at a drag's end must not open the field for typing: keys, undo first, belong to the application then. */
    onClickCapture(event: React.MouseEvent): void {
      if (wasDragged.current) event.stopPropagation();
      wasDragged.current = false;
    },
    onPointerUp: end,
    onPointerCancel: end,
  };
}
