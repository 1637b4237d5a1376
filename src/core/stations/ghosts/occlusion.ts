import { luminance } from '../../color/primaries';
import type { Light } from '../../light/light';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { FARTHEST } from '../../light/depth';
import { plateLight } from '../plate/run';
import type { ResolvedLight } from '../../light/resolved-light';
import { occludersAt, passedAt, type Occluders } from './occluders';
import { passedByPicture } from './passing';

/** The scene in front of lights, at the scale of what is drawn. */
export interface Scene {
  width: number;
  height: number;
  /** What stands before lights; undefined without depth. */
  occluders: Occluders | undefined;
  /** What was rendered, without the lens. */
  picture: Light['total'];
  threshold: number;
}

export async function sceneAt(look: Look, light: Light, context: StationContext): Promise<Scene> {
  const { light: rendered } = await plateLight(context, look, light.scale);
  const occluders = await occludersAt(look, light.scale, context);
  return {
    width: light.width,
    height: light.height,
    occluders,
    picture: rendered.total,
    threshold: look.ghosts.find.threshold,
  };
}

/** Distance of a light that may not know its own: that of what is seen where it stands, or as far as can be. */
export function distanceOf(
  light: ResolvedLight,
  { x, y }: { x: number; y: number },
  { occluders, width, height }: Scene,
): number {
  if (light.distance !== undefined) return light.distance;
  const [column, row] = [Math.floor(x), Math.floor(y)];
  const isInside = column >= 0 && row >= 0 && column < width && row < height;
  return isInside && occluders ? occluders.seen[row * width + column]! : FARTHEST;
}

/** For every pixel the share of a light at a distance that what is seen there lets past. */
export function openPlane(scene: Scene, distance: number, by: 'depth' | 'picture'): Float32Array {
  const { occluders, picture, threshold } = scene;
  if (by === 'depth' && occluders) return occluders.seen.map((_, i) => passedAt(occluders, i, distance));
  const [r, g, b] = picture;
  return r.map((_, i) => passedByPicture(luminance(r[i]!, g[i]!, b[i]!), threshold));
}
