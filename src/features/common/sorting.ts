import { KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';

/** Keys that take an entry up and lay it down again; Enter and Space are left to what the entry does. */
const KEYS = { start: ['KeyM'], cancel: ['Escape'], end: ['KeyM', 'Enter'] };

/** How lists are put in order: by a drag of a few pixels, or by the keyboard: M, then the arrows. */
export function useSortSensors() {
  return useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates, keyboardCodes: KEYS }),
  );
}
