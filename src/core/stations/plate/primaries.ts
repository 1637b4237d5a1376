import {
  ACES_AP0,
  ACES_AP1,
  DISPLAY_P3,
  REC2020,
  REC709_CHROMATICITIES,
  type Chromaticities,
} from '../../color/chromaticities';
import { inPrimaries, stackOf, type Plate } from '../../light/plate';
import { elementOf } from '../../settings/element';
import type { Look } from '../../look/look';

/** Primaries that a plate can be told to be in. */
const PLATE_PRIMARIES = {
  rec709: REC709_CHROMATICITIES,
  acescg: ACES_AP1,
  aces2065: ACES_AP0,
  p3: DISPLAY_P3,
  rec2020: REC2020,
} as const satisfies Record<string, Chromaticities>;

/** The plate in the primaries that a look says its renders are in, whatever their files say. */
export function plateUnderLook(plate: Plate, look: Look): Plate {
  const stack = stackOf(plate);
  const told = stack.map((one, index) => {
    const { primaries } = elementOf(look, index);
    return primaries === 'file' ? one : inPrimaries(one, primaries, PLATE_PRIMARIES[primaries]);
  });
  if (told.every((one, index) => one === stack[index])) return plate;
  const own = told[plate.stackIndex ?? 0]!;
  if (!plate.stack) return own;
  const id = `${plate.id} told ${told.map((one) => one.id).join(' and ')}`;
  return { ...plate, id, stack: told, primaries: own.primaries, toWorking: own.toWorking };
}
