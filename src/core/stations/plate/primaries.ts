import {
  ACES_AP0,
  ACES_AP1,
  DISPLAY_P3,
  REC2020,
  REC709_CHROMATICITIES,
  type Chromaticities,
} from '../../color/chromaticities';
import { inPrimaries, type Plate } from '../../light/plate';
import type { Look } from '../../look/look';

/** Primaries that a plate can be told to be in. */
const PLATE_PRIMARIES = {
  rec709: REC709_CHROMATICITIES,
  acescg: ACES_AP1,
  aces2065: ACES_AP0,
  p3: DISPLAY_P3,
  rec2020: REC2020,
} as const satisfies Record<string, Chromaticities>;

/** The plate in the primaries that a look says it is in, whatever its file says. */
export function plateUnderLook(plate: Plate, { plate: { primaries } }: Look): Plate {
  return primaries === 'file' ? plate : inPrimaries(plate, primaries, PLATE_PRIMARIES[primaries]);
}
