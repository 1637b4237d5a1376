import { hasDepth } from '../../light/distances';
import { alphaInPlace, distancesInPlace, elementsOf, geometryReads, isAlone } from '../../light/elements';
import { scaledSize } from '../../light/plate';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { depthReads, sampleDistances } from '../../light/depth';
import { distancePlane } from '../focus/radius';
import { passedByDepth } from './passing';

/** One thing that may stand before a light. */
interface Occluder {
  distance: Float32Array;
  /** What of each pixel it takes up; undefined if it is all of each. */
  cover: Float32Array | undefined;
}

/** What stands before lights: one surface, or every element of a plate. */
export interface Occluders {
  /** Distance of what is seen at each pixel. */
  seen: Float32Array;
  all: readonly Occluder[];
}

type OccluderContext = Pick<StationContext, 'plate' | 'cache'>;

/** What stands before lights at a scale; undefined without any depth. */
export async function occludersAt(
  look: Look,
  scale: number,
  context: OccluderContext,
): Promise<Occluders | undefined> {
  const { plate, cache } = context;
  if (!hasDepth(plate, look)) return undefined;
  const seen = await distancePlane(look, scale, context);
  if (isAlone(plate, look)) return { seen, all: [{ distance: seen, cover: undefined }] };
  const all = await cache.getOrCompute(
    `${plate.id} occluders ${JSON.stringify([depthReads(look), geometryReads(look)])} @${scale}`,
    () => {
      const elements = elementsOf(plate, look);
      const distances = distancesInPlace(elements, plate, look).each;
      const { width, height } = scaledSize(plate, scale);
      return elements.flatMap((element, k): Occluder[] => {
        const { mode, opacity } = element.settings;
        // What only brings light stands before nothing.
        if (mode !== 'over') return [];
        const alpha = alphaInPlace(element, plate, scale);
        const part = opacity < 1 ? new Float32Array(width * height).fill(opacity) : undefined;
        const cover = alpha ? alpha.map((value) => value * opacity) : part;
        return [{ distance: sampleDistances(distances[k]!, plate, scale), cover }];
      });
    },
    (made) => made.reduce((sum, { distance }) => sum + 2 * distance.byteLength, 0),
  );
  return { seen, all };
}

/** Share of a light at a distance that is let past at a pixel: through what is soft, by its alpha. */
export function passedAt({ all }: Occluders, i: number, distance: number): number {
  let passed = 1;
  for (const { distance: depth, cover } of all) {
    const stops = 1 - passedByDepth(depth[i]!, distance);
    if (stops > 0) passed *= 1 - stops * (cover ? cover[i]! : 1);
  }
  return passed;
}
