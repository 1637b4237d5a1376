import { SettingError } from '../../errors';
import type { ContentCache } from '../../light/cache';
import type { Look } from '../../look/look';
import { canFocus } from '../../optics/camera';
import { scaleLens, stopLens, type LensDesign } from '../../optics/lens/design';
import { LENS_DESIGNS } from '../../optics/lens/designs';
import type { Kernels } from '../../kernels';
import type { GhostKernel, StopMask } from '../../kernels/ghosts';
import { exactRays, lightDirection, type MountedLens } from '../../optics/lens/ghost-rays';
import { NO_MARKS, pupilMask } from '../../optics/pupil-mask';
import { describeGhosts, type RankedGhost } from '../../optics/lens/ghost-rank';
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
    () => rankByRays(lens, half, kernels.ghosts),
    (list) => list.length * 4000,
  );
}

/** Places of the light, as shares of half the diagonal; rays along each side of the start, and their colours, nm. */
const FIELDS = [0, 0.3, 0.6, 0.9];
const NODES = 17;
const [MIDDLE, COLOURS] = [545, [545, 450, 640] as const];
/** A round stop. */
const ROUND_SIZE = 64;
const ROUND: StopMask = {
  size: ROUND_SIZE,
  plane: pupilMask({ blades: 0, curvature: 1, rotation: 0 }, NO_MARKS, ROUND_SIZE),
};

/** Ranks ghosts by what real rays make of them: many that are small near the axis are spread far by aberrations. */
async function rankByRays(lens: MountedLens, half: number, kernel: GhostKernel): Promise<RankedGhost[]> {
  const ghosts = describeGhosts(lens.design);
  const asked = FIELDS.flatMap((field) => {
    const direction = lightDirection((field * half) / lens.design.focalLength, 0);
    return ghosts.map((ghost) => ({ ghost, rays: exactRays(lens, direction, ghost) }));
  });
  const bounds = await kernel.survey(
    asked.map(({ rays }) => rays),
    COLOURS,
    NODES,
  );
  const lit = asked.flatMap(({ ghost, rays }, k) => {
    const area = bounds[k];
    const isSeen = area && Math.min(Math.abs(area.left), Math.abs(area.right)) < half;
    return isSeen || (area && area.left < 0 && area.right > 0) ? [{ ghost, rays, bounds: area }] : [];
  });
  const fluxes = await kernel.measure(lit, [MIDDLE], ROUND, NODES);
  const brightness = new Map(ghosts.map(({ name }) => [name, 0]));
  lit.forEach(({ ghost, bounds: { left, right, top, bottom } }, k) => {
    const area = (Math.PI / 4) * (right - left) * (bottom - top) + 4 * Math.PI * ghost.diffraction ** 2;
    const own = fluxes[k]![0]! / area / FIELDS.length;
    brightness.set(ghost.name, brightness.get(ghost.name)! + own);
  });
  return ghosts
    .map((ghost) => ({ ...ghost, brightness: brightness.get(ghost.name)! }))
    .sort((a, b) => b.brightness - a.brightness);
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
