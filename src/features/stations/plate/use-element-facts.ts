import type { ElementFacts } from '../../../core/stations/plate/queries';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { useLatest } from '../../controls';
import { askBench, usePlates } from '../../session';

/** What is known of the elements that are on, of a plate of several; undefined until it is. */
export function useElementFacts(): readonly ElementFacts[] | undefined {
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const look = useShot((state) => state.look);
  const dragging = useDesk((state) => state.dragging);
  const starts = useDesk((state) => state.engineStarts);
  const isStack = card?.parts !== undefined;
  const key = JSON.stringify([starts, card?.id, look.elements, look.focus.depth, look.camera]);
  const answer = useLatest(isStack && !dragging ? key : undefined, () =>
    askBench({ name: 'elementFacts', look: useShot.getState().look, input: {}, plate: card!.id }),
  );
  return isStack ? answer?.elements : undefined;
}
