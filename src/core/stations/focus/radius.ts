import { depthReads } from '../../light/depth';
import { sampleDistances } from '../../light/depth';
import { readDepth } from '../../light/distances';
import { geometryReads } from '../../light/elements';
import type { Plate } from '../../light/plate';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { blurDiameter } from '../../optics/camera';

/** What of a look the distances of a plate depend on. */
export const depthReading = (look: Look): unknown => [depthReads(look), geometryReads(look)];

/** Planar distance of every pixel at a scale, in metres. Throws {@link SettingError} without a depth pass. */
export function distancePlane(
  look: Look,
  scale: number,
  { plate, cache }: Pick<StationContext, 'plate' | 'cache'>,
): Promise<Float32Array> {
  return cache.getOrCompute(
    `${plate.id} distances ${JSON.stringify(depthReading(look))} @${scale}`,
    () => sampleDistances(readDepth(plate, look), plate, scale),
    (plane) => plane.byteLength,
  );
}

/** Signed blur radius of every pixel at a scale, in its pixels; negative before the focus. */
export async function radiusPlane(
  look: Look,
  scale: number,
  context: Pick<StationContext, 'plate' | 'cache'>,
): Promise<Float32Array> {
  const { plate } = context;
  const distance = await distancePlane(look, scale, context);
  const radiusAt = radiusReader(look, plate, scale);
  const out = new Float32Array(distance.length);
  for (let i = 0; i < out.length; i++) out[i] = radiusAt(distance[i]!);
  return out;
}

/** What gives the signed radius in pixels at a scale for a distance. */
export function radiusReader(look: Look, plate: Plate, scale: number): (distance: number) => number {
  const { amount, limit, breathing } = look.focus;
  const pixels = (plate.frame.width * scale) / look.camera.sensorWidth;
  const most = limit * plate.frame.height * scale;
  const { camera } = look;
  return (distance) => {
    const radius = (amount * pixels * blurDiameter(camera, distance, breathing)) / 2;
    return Math.max(-most, Math.min(most, radius));
  };
}

/** The signed radius in pixels at a scale that a distance gives. */
export function blurRadius(look: Look, plate: Plate, scale: number, distance: number): number {
  return radiusReader(look, plate, scale)(distance);
}
