import { plateAlone, type Look } from '../../core/look/look';
import type { Proof } from '../../core/shot/shot';
import { notify } from '../session';
import { PLATE, useDesk, type CompareTarget } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';

export const proofOf = (id: string | null): Proof | undefined =>
  useShot.getState().proofs.find((proof) => proof.id === id);

/** The look that is shown: the present one, or that of a proof that takes its place. */
export const shownLook = (): Look => proofOf(useDesk.getState().shownProof)?.look ?? useShot.getState().look;

/** The look of what the picture is held against, if it is another look of the same render. */
export function comparedLook(against: CompareTarget): Look | undefined {
  switch (against.kind) {
    case 'plate':
      return plateAlone(shownLook());
    case 'present':
      return useShot.getState().look;
    case 'proof':
      return proofOf(against.id)?.look;
    default:
      return undefined;
  }
}

/** The look that a difference is taken from, while one is wanted. */
export function differenceLook(): Look | undefined {
  const { compare, against } = useDesk.getState();
  return compare === 'difference' ? comparedLook(against) : undefined;
}

/** Shows what the picture is held against, and holds what was shown against it: of looks. */
export function swapCompared(): void {
  const { against, shownProof, set } = useDesk.getState();
  if (against.kind !== 'proof' && against.kind !== 'present') return;
  set({
    shownProof: against.kind === 'proof' ? against.id : null,
    against: shownProof === null ? { kind: 'present' } : { kind: 'proof', id: shownProof },
  });
}

/** Holds the present look against nothing any more. */
export const endCompare = (): void =>
  useDesk.getState().set({ compare: null, against: PLATE, shownProof: null, patches: null, circles: null });

/** Whether a reference stands beside the picture. */
export const useBesideReference = (): boolean =>
  useDesk(({ compare, against }) => compare === 'beside' && against.kind === 'reference');

/** Begins to measure lamps, beside the reference that the picture is held against or the first one; or ends it. */
export function toggleMeasuring(): void {
  const { circles, against, set } = useDesk.getState();
  if (circles) return set({ circles: null });
  const { references } = useShot.getState();
  const id = against.kind === 'reference' ? against.id : references[0]?.id;
  if (id === undefined)
    return notify('bring in a reference first: a photograph whose light is to be measured', 'warning');
  set({
    against: { kind: 'reference', id },
    ...{ compare: 'beside', subject: { kind: 'final' }, circles: {}, patches: null, strip: null },
  });
}
