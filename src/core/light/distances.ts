import type { Look } from '../look/look';
import { depthReads, FARTHEST, hasOwnDepth, ownDistanceAt, readOwnDepth, sampleDistances } from './depth';
import {
  distancesInPlace,
  elementsOf,
  geometryReads,
  hasDistances,
  isAlone,
  seenDistanceAt,
  seenDistances,
} from './elements';
import type { Layer } from './layers';
import type { StationContext } from './station';
import { scaledSize, type Plate } from './plate';

/** Whether there is anything that a look reads distances from. */
export function hasDepth(plate: Plate, look: Look): boolean {
  return isAlone(plate, look) ? hasOwnDepth(plate, look) : hasDistances(plate, look);
}

/**
 * Planar distances in metres of what is seen at every pixel of the full-size picture, all finite and over 0. Throws
 * {@link SettingError} without any.
 */
export function readDepth(plate: Plate, look: Look): Float32Array {
  return isAlone(plate, look) || !hasDistances(plate, look)
    ? readOwnDepth(plate, look)
    : seenDistances(plate, look);
}

/** The planar distance of what is seen at one pixel; undefined outside the picture and without depth. */
export function distanceAt(plate: Plate, look: Look, x: number, y: number): number | undefined {
  return isAlone(plate, look) ? ownDistanceAt(plate, look, x, y) : seenDistanceAt(plate, look, x, y);
}

/** Share of the way from near to far at one pixel of a normalised depth; undefined outside and for other readings. */
export function shareAt(plate: Plate, look: Look, x: number, y: number): number | undefined {
  const { near, far, reading: kind } = look.focus.depth;
  const distance = kind === 'normalised' ? distanceAt(plate, look, x, y) : undefined;
  return distance === undefined || far === near ? undefined : (distance - near) / (far - near);
}

/** Distances as grey, the nearest white and the farthest black by their logarithm, `width` pixels across. */
export function depthPicture(
  plate: Plate,
  look: Look,
  width: number,
): { width: number; height: number; pixels: Uint8ClampedArray<ArrayBuffer> } {
  const distances = readDepth(plate, look);
  const { width: full, height: fullHeight } = plate.picture;
  const across = Math.min(width, full);
  const height = Math.max(1, Math.round((fullHeight * across) / full));
  const logarithms = new Float32Array(across * height);
  let [low, high] = [Infinity, -Infinity];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < across; x++) {
      const at =
        Math.floor(((y + 0.5) * fullHeight) / height) * full + Math.floor(((x + 0.5) * full) / across);
      const value = Math.log(Math.min(FAR_SHOWN, distances[at]!));
      logarithms[y * across + x] = value;
      low = Math.min(low, value);
      high = Math.max(high, value);
    }
  const pixels = new Uint8ClampedArray(across * height * 4).fill(255);
  logarithms.forEach((value, i) =>
    pixels.fill(255 * (1 - (value - low) / (high - low || 1)), 4 * i, 4 * i + 3),
  );
  return { width: across, height, pixels };
}

/** In the picture of the depth, what is farther than this is black like it. */
const FAR_SHOWN = 2000;

/** How the picture's pixels are spread over distance: shares in bins of a twentieth of a decade, from 0.1 m to 10 km. */
export interface DepthHistogram {
  /** log10 of each bin's middle in metres. */
  place: number[];
  share: number[];
  /** What lies beyond the last bin. */
  beyond: number;
}

const BINS_PER_DECADE = 20;
const [FIRST_DECADE, LAST_DECADE] = [-1, 4];

export function depthHistogram(plate: Plate, look: Look): DepthHistogram {
  const distances = readDepth(plate, look);
  const share = new Array<number>((LAST_DECADE - FIRST_DECADE) * BINS_PER_DECADE).fill(0);
  let beyond = 0;
  for (const distance of distances) {
    const bin = Math.floor((Math.log10(distance) - FIRST_DECADE) * BINS_PER_DECADE);
    if (bin >= share.length) beyond++;
    else share[Math.max(0, bin)]!++;
  }
  return {
    place: share.map((_, bin) => FIRST_DECADE + (bin + 0.5) / BINS_PER_DECADE),
    share: share.map((count) => count / distances.length),
    beyond: beyond / distances.length,
  };
}

/** Distances of a picture's layers at a scale; the background lies as far as can be. Throws {@link SettingError} without any depth. */
export async function layerDistances(
  layers: readonly Layer[],
  { plate, cache }: Pick<StationContext, 'plate' | 'cache'>,
  look: Look,
  scale: number,
): Promise<Float32Array[]> {
  // Says what is missing, where there is no depth at all.
  if (!hasDistances(plate, look)) readOwnDepth(plate, look);
  const elements = elementsOf(plate, look);
  const planes = await cache.getOrCompute(
    `${plate.id} distances of elements ${JSON.stringify([depthReads(look), geometryReads(look)])} @${scale}`,
    () => distancesInPlace(elements, plate, look).each.map((full) => sampleDistances(full, plate, scale)),
    (made) => made.reduce((sum, { byteLength }) => sum + byteLength, 0),
  );
  const { width, height } = scaledSize(plate, scale);
  const far = new Float32Array(width * height).fill(FARTHEST);
  return layers.map(({ element }) => planes[elements.findIndex(({ index }) => index === element)] ?? far);
}
