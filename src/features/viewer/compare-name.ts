import { useDesk, type CompareTarget } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';

/** What the picture is held against, as people call it. */
export function useCompareName(): string {
  const against = useDesk((state) => state.against);
  return useShot(({ proofs, references }) => nameOf(against, proofs, references));
}

interface Named {
  id: string;
  name: string;
}

function nameOf(against: CompareTarget, proofs: readonly Named[], references: readonly Named[]): string {
  switch (against.kind) {
    case 'plate':
      return 'the plate';
    case 'present':
      return 'the present look';
    case 'version':
      return `version ${against.version + 1}`;
    case 'proof':
      return proofs.find(({ id }) => id === against.id)?.name ?? 'a proof';
    case 'reference':
      return references.find(({ id }) => id === against.id)?.name ?? 'a reference';
  }
}
