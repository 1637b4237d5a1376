import type { PlateEntry } from '../core/shot/shot';
import { useDesk } from './desk-store';
import { useShot } from './shot-store';

type Bench = Pick<ReturnType<typeof useShot.getState>, 'plates' | 'activePlate'>;

export const plateOnBench = ({ plates, activePlate }: Bench = useShot.getState()): PlateEntry | undefined =>
  plates.find(({ id }) => id === activePlate);

const isSequence = (plate: PlateEntry | undefined): boolean =>
  plate !== undefined && plate.versions[plate.version]!.frames.length > 1;

/** Whether frames differ: by what the plate on the bench has, or by what is keyed. */
export const isMoving = (): boolean =>
  isSequence(plateOnBench()) || Object.keys(useShot.getState().tracks).length > 0;

/** Whether the reel stands under the picture. */
export function isReelShown(): boolean {
  const { reel, alone } = useDesk.getState();
  return !alone && (reel ?? isSequence(plateOnBench()));
}

export function useReelShown(): boolean {
  const isShown = useDesk(isReelShown);
  // The plate on the bench counts, too.
  const byPlate = useShot(isReelShown);
  return isShown && byPlate;
}
