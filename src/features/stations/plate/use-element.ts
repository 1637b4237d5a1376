import { elementsOfPlate, type PlateEntry } from '../../../core/shot/shot';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { usePlates, type PlateCard } from '../../session';

export interface ChosenElement {
  /** Its place in the plate, from the back. */
  index: number;
  /** How many elements the plate has. */
  count: number;
  entry: PlateEntry | undefined;
  /** What is known of its render; undefined while it is not open. */
  card: PlateCard | undefined;
}

/** The elements of the plate on the bench, back to front. */
export function useElements(): PlateEntry[] {
  const plates = useShot((state) => state.plates);
  const activePlate = useShot((state) => state.activePlate);
  const plate = plates.find(({ id }) => id === activePlate);
  return plate ? elementsOfPlate(plate, plates) : [];
}

/** The element that is worked on: the one that was chosen, or the nearest. */
export function useElement(): ChosenElement {
  const elements = useElements();
  const chosen = useDesk((state) => state.element);
  const last = Math.max(0, elements.length - 1);
  const index = chosen === null ? last : Math.min(chosen, last);
  const activePlate = useShot((state) => state.activePlate);
  const entry = elements[index];
  // What a plate by itself knows is there even if the list of it is not.
  const id = entry?.id ?? activePlate;
  const card = usePlates((state) => (id ? state.cards[id] : undefined));
  return { index, count: Math.max(1, elements.length), entry, card };
}
