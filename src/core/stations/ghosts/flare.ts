import { luminance, type Triple } from '../../color/primaries';
import type { Rgb } from '../../image/rgb';
import type { GhostDrawing, GhostRaster, GhostRays, StopMask } from '../../kernels/ghosts';
import { subProgress, type RunOptions } from '../../kernels/runtime/parallel';
import type { Kernels } from '../../kernels';
import type { ContentCache } from '../../light/cache';
import { pupilImage, type Images } from '../../light/image';
import type { Look } from '../../look/look';
import {
  affineRays,
  exactRays,
  lightDirection,
  spreadOf,
  type MountedLens,
} from '../../optics/lens/ghost-rays';
import { pathWeight } from '../../optics/lens/ghosts';
import type { RankedGhost } from '../../optics/lens/ghost-rank';
import { shapeAt } from '../../optics/pupil';
import { pupilMask } from '../../optics/pupil-mask';
import { spectralBins, type SpectralSample } from '../../optics/spectral-weights';
import { ghostsOfLens, keptGhosts, lensKey, mountLens, pairSettings } from './lens';
import { fieldTangents, tintOf } from './light-place';
import type { ResolvedLight } from '../../light/resolved-light';

/** Pixels across the stop's mask, at rest and while a hand moves. */
const MASK_SIZE = { final: 256, draft: 128 };
/** Rays along each side of a ghost, at rest and while a hand moves. */
const NODES = { final: 25, draft: 17 };
/** Rays along each side by which it is found where a ghost lies. */
const SURVEY_NODES = 17;
/** Wavelengths between which a ghost's spread is measured, nm: the middle and both ends. */
const SURVEYED = [545, 430, 665] as const;
/** Wavelengths at which the light's own image is measured. */
const DIRECT = [450, 545, 650] as const;
/** Wavelengths of a ghost, at least; as many more as keep neighbours within this share of the blur. */
const LEAST_WAVELENGTHS = 7;
const MOST_WAVELENGTHS = 31;
const COLOUR_SPACING = 1.5;
/** Share of what comes straight through on the axis that counts where the lens lets through less: outside its field it ends. */
const LEAST_DIRECT = 0.1;

/** What drawing flares needs of the bench. */
export interface FlareContext extends RunOptions, Images {
  cache: ContentCache;
  kernels: Pick<Kernels, 'ghosts'>;
  draft?: boolean | undefined;
}

/** Where the picture lies in what is drawn, in its pixels. */
export interface FlareFrame {
  /** Of the frame. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** Share of full size. */
  scale: number;
}

/** A ghost of a light, ready to be drawn. */
export interface PreparedGhost {
  ghost: RankedGhost;
  light: ResolvedLight;
  drawing: GhostDrawing;
}

/** The stop's mask, from the pupil with its blades, marks and image. */
export function stopMask(look: Look, context: FlareContext): Promise<StopMask> {
  const { pupil, camera } = look;
  const image = pupilImage(look, context);
  const shape = shapeAt(pupil, camera.fStop);
  const size = context.draft ? MASK_SIZE.draft : MASK_SIZE.final;
  return context.cache.getOrCompute(
    `stop ${size} ${JSON.stringify([pupil, shape, image?.key])}`,
    () => ({ plane: pupilMask(shape, pupil, size, image), size }),
    ({ plane }) => plane.byteLength,
  );
}

/** What a look's stop depends on. */
export const stopReads = ({ pupil, camera }: Look): unknown => [pupil, shapeAt(pupil, camera.fStop)];

function raysOf(look: Look, lens: MountedLens, direction: Triple, ghost: RankedGhost): GhostRays {
  if (look.ghosts.quality === 'exact') return exactRays(lens, direction, ghost);
  return affineRays(lens, direction, ghost, spreadOf(lens, ghost, ghost.path));
}

/** Quadratic through three values at the wavelengths of the light's own image; not below a share of the least. */
function directAt(values: readonly number[], wavelength: number): number {
  const [a, b, c] = DIRECT;
  const term = (at: number, one: number, other: number): number =>
    ((wavelength - one) * (wavelength - other)) / ((at - one) * (at - other));
  const value = values[0]! * term(a, b, c) + values[1]! * term(b, a, c) + values[2]! * term(c, a, b);
  return Math.max(value, 0.5 * Math.min(...values));
}

/** Light that comes straight through, square millimetres of the entrance by wavelength: at a field angle, and on the axis. */
async function measureDirect(
  look: Look,
  lens: MountedLens,
  directions: readonly Triple[],
  mask: StopMask,
  nodes: number,
  { kernels, signal }: FlareContext,
): Promise<number[][]> {
  const rays = [lightDirection(0, 0), ...directions].map((direction) => exactRays(lens, direction));
  const bounds = await kernels.ghosts.survey(rays, SURVEYED, SURVEY_NODES, { signal });
  const lit = rays.flatMap((one, k) => (bounds[k] ? [{ rays: one, bounds: bounds[k] }] : []));
  const measured = await kernels.ghosts.measure(lit, DIRECT, mask, nodes, { signal });
  const values = rays.map((one) => measured[lit.findIndex(({ rays: own }) => own === one)] ?? [0, 0, 0]);
  const [axis, ...others] = values;
  return others.map((own) => own.map((value, k) => Math.max(value, LEAST_DIRECT * axis![k]!)));
}

/** The wavelengths of a ghost whose colours lie so many blurs apart. */
function wavelengthsFor(apart: number, blur: number): readonly SpectralSample[] {
  const wanted = Math.ceil((2 * apart) / (COLOUR_SPACING * blur));
  // Few different numbers, so that tables for wavelengths are used again.
  const steps = Math.ceil((wanted - LEAST_WAVELENGTHS) / 6);
  return bins(Math.min(MOST_WAVELENGTHS, LEAST_WAVELENGTHS + 6 * Math.max(0, steps)));
}

/** Colours whose places lie within a blur of each other are drawn in one place: their sum is as smooth as before (5e-9). */
const MERGED_SPACING = 1;

/**
 * Wavelengths put together where a ghost's colours hardly lie apart; each keeps what the surfaces reflect of it, by the
 * weights of rays along the axis.
 */
function mergeColours(
  samples: readonly SpectralSample[],
  apart: number,
  blur: number,
  weightAt: (wavelength: number) => number,
): SpectralSample[] {
  const places = Math.max(1, Math.ceil((2 * apart) / (MERGED_SPACING * blur)) + 1);
  if (places >= samples.length) return [...samples];
  const groups = Array.from({ length: places }, () => [] as SpectralSample[]);
  samples.forEach((sample, k) => groups[Math.floor((k * places) / samples.length)]!.push(sample));
  return groups.map((group) => {
    const weights = group.map(({ wavelength }) => weightAt(wavelength));
    // The place is that of the colour of which most is reflected.
    const most = weights.indexOf(Math.max(...weights));
    const sum: Triple = [0, 0, 0];
    group.forEach(({ weight }, k) => {
      for (let c = 0; c < 3; c++) sum[c]! += (weight[c]! * weights[k]!) / (weights[most]! || 1);
    });
    return { wavelength: group[most]!.wavelength, weight: sum };
  });
}

/** Shares of rays along the axis that ghosts have, by lens: the same for every light. */
const axialWeights = new WeakMap<MountedLens, Map<string, number>>();

function axialWeight(lens: MountedLens, ghost: RankedGhost, wavelength: number): number {
  const weights = axialWeights.get(lens) ?? new Map<string, number>();
  axialWeights.set(lens, weights);
  const key = `${ghost.name} ${wavelength}`;
  const found = weights.get(key) ?? pathWeight(lens.design, ghost.path, lens.coating, wavelength, ghost);
  weights.set(key, found);
  return found;
}

const known = new Map<number, readonly SpectralSample[]>();
function bins(count: number): readonly SpectralSample[] {
  const found = known.get(count) ?? spectralBins(count);
  known.set(count, found);
  return found;
}

/** The ghosts that lights have, with all that is needed to draw them. `gain` multiplies their light. */
export async function prepareGhosts(
  look: Look,
  lights: readonly ResolvedLight[],
  ghosts: readonly RankedGhost[],
  aspect: number,
  gain: number,
  context: FlareContext,
): Promise<PreparedGhost[]> {
  const lit = lights.filter(({ flux, visibility, flare }) => luminance(...flux) * visibility * flare > 0);
  if (lit.length === 0 || ghosts.length === 0) return [];
  const { camera } = look;
  const lens = await mountLens(look, context.cache);
  const mask = await stopMask(look, context);
  const nodes = context.draft ? NODES.draft : NODES.final;
  const directions = lit.map((light) => {
    const tangents = fieldTangents(light, camera, aspect);
    return lightDirection(tangents.x, tangents.y);
  });
  const direct = await measureDirect(look, lens, directions, mask, nodes, context);
  const asked = lit.flatMap((light, k) =>
    ghosts.map((ghost) => ({
      light,
      ghost,
      own: direct[k]!,
      rays: raysOf(look, lens, directions[k]!, ghost),
    })),
  );
  const bounds = await context.kernels.ghosts.survey(
    asked.map(({ rays }) => rays),
    SURVEYED,
    SURVEY_NODES,
    { signal: context.signal },
  );
  const height = camera.sensorWidth / aspect;
  return asked.flatMap(({ light, ghost, own, rays }, k) => {
    const area = bounds[k];
    if (!area) return [];
    const settings = pairSettings(look, ghost.name);
    // The light's own disc, as the ghost magnifies it.
    const disc = (Math.abs(ghost.path.sensor.b) / camera.focalLength) * ((light.size * height) / 2);
    const blur = Math.hypot(ghost.diffraction, disc / 2);
    const tint = tintOf(settings.tint);
    const strength = gain * settings.gain * light.visibility * light.flare;
    const samples = wavelengthsFor(area.apart, blur).map(({ wavelength, weight }) => ({
      wavelength,
      weight: weight.map(
        (share, c) => (share * strength * light.flux[c]! * tint[c]!) / directAt(own, wavelength),
      ) as Triple,
    }));
    const colours = mergeColours(samples, area.apart, blur, (wavelength) =>
      axialWeight(lens, ghost, wavelength),
    );
    return [{ ghost, light, drawing: { rays, bounds: area, blur, colours } }];
  });
}

/** Draws prepared ghosts on `width * height` pixels in which the frame lies as told. */
export async function drawGhosts(
  look: Look,
  prepared: readonly PreparedGhost[],
  { width, height }: { width: number; height: number },
  frame: FlareFrame,
  context: FlareContext,
): Promise<Rgb> {
  const mask = await stopMask(look, context);
  const nodes = context.draft ? NODES.draft : NODES.final;
  const raster: GhostRaster = {
    width,
    height,
    pitch: frame.width / look.camera.sensorWidth,
    axisX: frame.x + frame.width / 2,
    axisY: frame.y + frame.height / 2,
  };
  return context.kernels.ghosts.draw(
    prepared.map(({ drawing }) => drawing),
    raster,
    mask,
    nodes,
    context,
  );
}

/** What lights throw back and forth inside the lens. */
export async function flareLight(
  look: Look,
  lights: readonly ResolvedLight[],
  size: { width: number; height: number },
  frame: FlareFrame,
  context: FlareContext,
): Promise<Rgb> {
  const aspect = frame.width / frame.height;
  const { sensorWidth } = look.camera;
  const half = Math.hypot(sensorWidth, sensorWidth / aspect) / 2;
  const ranked = await ghostsOfLens(look, half, context);
  const kept = keptGhosts(look, ranked, sensorWidth / aspect);
  // A pixel at a scale is a mean of full-size ones.
  const gain = look.ghosts.amount * frame.scale ** 2;
  const prepared = await prepareGhosts(look, lights, kept, aspect, gain, {
    ...context,
    ...subProgress(context, 0, 0.3),
  });
  return drawGhosts(look, prepared, size, frame, { ...context, ...subProgress(context, 0.3, 1) });
}

/** What of a look flares depend on, its lights apart. */
export function flareReads(look: Look): unknown {
  const { quality, amount, count, minSize, maxSize, pairs } = look.ghosts;
  return [lensKey(look), quality, amount, count, minSize, maxSize, pairs, stopReads(look)];
}
