import { SettingError } from '../../errors';
import type { ContentCache } from '../../light/cache';
import type { Look } from '../../look/look';
import { canFocus } from '../../optics/camera';
import { scaleLens, stopLens, type LensDesign } from '../../optics/lens/design';
import { LENS_DESIGNS } from '../../optics/lens/designs';
import type { Kernels } from '../../kernels';
import type { MountedLens } from '../../optics/lens/ghost-rays';
import { rankGhosts, type RankedGhost } from '../../optics/lens/ghost-rank';
import { OWN_DESIGN } from './settings';

/** The design that a look names, as it is listed. Throws {@link SettingError} if it brings none of its own. */
export function listedDesign({ ghosts }: Look): LensDesign {
  const design = ghosts.design === OWN_DESIGN ? ghosts.own : LENS_DESIGNS.get(ghosts.design);
  if (design) return design;
  throw new SettingError('the look has no lens design of its own', {
    where: 'ghosts.own',
    todo: 'Bring one in, or choose one of the designs that come with the program',
  });
}

/** How far the sensor moves back for the focus, mm: `f^2 / (z - f)` (thin-lens equation). */
export function focusShift(look: Look): number {
  const { focalLength, focusDistance } = look.camera;
  if (!look.ghosts.refocus || !canFocus(look.camera)) return 0;
  return focalLength ** 2 / (focusDistance * 1000 - focalLength);
}

/** The design at the camera's focal length and f-stop. */
export function mountedDesign(look: Look): LensDesign {
  const { focalLength, fStop } = look.camera;
  const design = stopLens(scaleLens(listedDesign(look), focalLength), fStop);
  const shift = focusShift(look);
  if (shift === 0) return design;
  const last = design.surfaces.length - 1;
  const surfaces = design.surfaces.map((surface, k) =>
    k === last ? { ...surface, thickness: surface.thickness + shift } : surface,
  );
  return { ...design, surfaces };
}

/** Everything of a look that its lens depends on. */
export function lensKey(look: Look): string {
  const { design, own, coating, coatingWavelength } = look.ghosts;
  const { focalLength, fStop } = look.camera;
  return JSON.stringify([
    design === OWN_DESIGN ? own : design,
    coating,
    coatingWavelength,
    focalLength,
    fStop,
    focusShift(look),
  ]);
}

const LENS_BYTES = 1_000_000;

/** The lens of a look, the same for the same settings, since what is computed of it is kept with it. */
export function mountLens(look: Look, cache: ContentCache): Promise<MountedLens> {
  return cache.getOrCompute(
    `lens ${lensKey(look)}`,
    () => ({
      design: mountedDesign(look),
      coating: { coating: look.ghosts.coating, coatingWavelength: look.ghosts.coatingWavelength },
    }),
    () => LENS_BYTES,
  );
}

/** What ranking ghosts needs of the bench. */
export interface RankContext {
  cache: ContentCache;
  kernels: Pick<Kernels, 'ghosts'>;
}

/**
 * The ghosts of a look's lens, the brightest over the field first: an order that stays as a light moves. `half` is half the
 * picture's diagonal on the sensor, mm.
 */
export async function ghostsOfLens(
  look: Look,
  half: number,
  { cache, kernels }: RankContext,
): Promise<RankedGhost[]> {
  const lens = await mountLens(look, cache);
  return cache.getOrCompute(
    `ghosts ${half.toPrecision(6)} ${lensKey(look)}`,
    () => rankGhosts(lens, half, kernels.ghosts),
    (list) => list.length * 4000,
  );
}

/** What a look makes of a pair of surfaces. */
export function pairSettings({ ghosts }: Look, name: string): Look['ghosts']['pairs'][string] {
  return ghosts.pairs[name] ?? { on: true, solo: false, gain: 1, tint: '#ffffff' };
}

/**
 * The ghosts that a look shows: the brightest, up to its number, of a size within its limits; of those the ones that are
 * on, or, if any are soloed, these alone. `height` is the picture's on the sensor, mm.
 */
export function keptGhosts(look: Look, ranked: readonly RankedGhost[], height: number): RankedGhost[] {
  const { count, minSize, maxSize } = look.ghosts;
  const soloed = ranked.filter(({ name }) => pairSettings(look, name).solo);
  if (soloed.length > 0) return soloed;
  return ranked
    .filter(({ radius }) => {
      const size = (2 * radius) / height;
      return size >= minSize && size <= maxSize;
    })
    .slice(0, count)
    .filter(({ name }) => pairSettings(look, name).on);
}
