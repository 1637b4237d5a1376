import { blackRgb, mapRgb, type Rgb } from '../../image/rgb';
import type { Surface } from '../../kernels/scatter';
import { layerDistances } from '../../light/distances';
import { layersOfChanged, type Layer } from '../../light/layers';
import type { Light } from '../../light/light';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { radiusPlane, radiusReader } from './radius';

/** Light that covers nothing, and how many of the surfaces lie behind it. */
export interface Glow {
  surface: Surface;
  behind: number;
}

/** What the lens spreads. */
export interface FocusedPicture {
  /** Back to front. The last lets nothing through. */
  surfaces: readonly Surface[];
  glows: readonly Glow[];
  /** What of each pixel the last surface takes up in the picture, if it is not all of each. */
  lastCoverage: Float32Array | undefined;
}

/** Takes a light apart into what the lens spreads by itself: of a plate of several elements each one, whole behind others. */
export async function surfacesOf(light: Light, look: Look, context: StationContext): Promise<FocusedPicture> {
  if (!light.layers) {
    const radius = await radiusPlane(look, light.scale, context);
    return { surfaces: [{ light: light.total, radius }], glows: [], lastCoverage: undefined };
  }
  const layers = layersOfChanged(light.layers, light.total);
  const distances = await layerDistances(layers, context, look, light.scale);
  return arrange(layers, distances, radiusReader(look, context.plate, light.scale));
}

/** A layer covers by less than this where it only shines. */
const SHINES = 1 / 256;
const LEAST_LIGHT = 1e-4;
/** Nearer by more than this share is nearer. */
const NEARER = 0.999;

/** A layer on its way to become a surface. */
interface Candidate {
  rgb: Rgb;
  coverage: Float32Array | undefined;
  distance: Float32Array;
  /** What layers before it in the stack leave of it where it is nearer than they, though it lies behind them. */
  kept: Float32Array | undefined;
}

function arrange(
  layers: readonly Layer[],
  distances: readonly Float32Array[],
  radiusAt: (distance: number) => number,
): FocusedPicture {
  let covering: Candidate[] = [];
  let glows: Glow[] = [];
  const radiusOf = (distance: Float32Array): Float32Array => distance.map(radiusAt);
  for (const [k, { rgb, coverage, byDepth }] of layers.entries()) {
    const distance = distances[k]!;
    let own: Pick<Candidate, 'kept'> = { kept: undefined };
    if (byDepth && coverage !== 'none') own = { kept: hideBehind(covering, distance, radiusAt) };
    else if (coverage === undefined) {
      // Behind what covers the whole picture nothing is seen.
      covering = [];
      glows = [];
    } else if (coverage !== 'none') covering = covering.map((one) => holdOut(one, coverage, distance));
    // The last lets nothing through and may shine as it likes.
    const shine =
      coverage instanceof Float32Array && covering.length > 0 ? shining(rgb, coverage) : undefined;
    if (coverage !== 'none')
      covering.push({ rgb: shine ? subtractRgb(rgb, shine) : rgb, coverage, distance, ...own });
    const added = coverage === 'none' ? rgb : shine;
    if (added) glows.push({ surface: { light: added, radius: radiusOf(distance) }, behind: covering.length });
  }
  const count = distances[0]?.length ?? 0;
  const [last, ...nearer] = covering;
  const bottom: Surface = last
    ? { light: withKept(last), coverage: last.kept, radius: radiusOf(last.distance) }
    : { light: blackRgb(count), radius: new Float32Array(count) };
  const others = nearer.map((one): Surface => ({
    light: withKept(one),
    coverage: keptCoverage(one),
    radius: radiusOf(one.distance),
  }));
  return {
    surfaces: [bottom, ...others],
    glows,
    lastCoverage: last ? last.coverage : new Float32Array(count),
  };
}

/** Takes off a layer what lies before it in the stack but is farther away: there the order counts. */
function holdOut(one: Candidate, coverage: Float32Array, distance: Float32Array): Candidate {
  let { kept } = one;
  for (let i = 0; i < distance.length; i++) {
    if (coverage[i] === 0 || one.distance[i]! >= NEARER * distance[i]!) continue;
    if (one.coverage && one.coverage[i] === 0) continue;
    kept ??= new Float32Array(distance.length).fill(1);
    kept[i]! *= 1 - coverage[i]!;
  }
  return { ...one, kept };
}

/** Blur that differs by less, in pixels, uncovers nothing of what lies behind. */
const SAME_BLUR = 1;

/** What is left of a layer that goes by depth, where layers behind it in the stack are nearer and blurred alike: there the kernel goes by the stack. */
function hideBehind(
  covering: readonly Candidate[],
  distance: Float32Array,
  radiusAt: (distance: number) => number,
): Float32Array | undefined {
  let kept: Float32Array | undefined;
  for (const one of covering)
    for (let i = 0; i < distance.length; i++) {
      if (one.distance[i]! >= NEARER * distance[i]!) continue;
      if (Math.abs(radiusAt(one.distance[i]!) - radiusAt(distance[i]!)) >= SAME_BLUR) continue;
      kept ??= new Float32Array(distance.length).fill(1);
      kept[i]! *= 1 - (one.coverage ? one.coverage[i]! : 1);
    }
  return kept;
}

function keptCoverage({ coverage, kept }: Candidate): Float32Array | undefined {
  if (!kept || !coverage) return kept ?? coverage;
  return coverage.map((value, i) => value * kept[i]!);
}

const withKept = ({ rgb, kept }: Candidate): Rgb =>
  kept ? mapRgb(rgb, (plane) => plane.map((value, i) => value * kept[i]!)) : rgb;

/** Light where a layer hardly covers anything, as in a flame; undefined if there is none. */
function shining(rgb: Rgb, coverage: Float32Array): Rgb | undefined {
  const isThere = (i: number): boolean =>
    coverage[i]! < SHINES && Math.max(rgb[0][i]!, rgb[1][i]!, rgb[2][i]!) > LEAST_LIGHT;
  if (!coverage.some((_, i) => isThere(i))) return undefined;
  return mapRgb(rgb, (plane) => plane.map((value, i) => (isThere(i) ? value : 0)));
}

const subtractRgb = (a: Rgb, b: Rgb): Rgb =>
  mapRgb(a, (plane, c) => plane.map((value, i) => value - b[c][i]!));
