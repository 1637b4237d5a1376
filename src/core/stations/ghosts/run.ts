import { luminanceSum } from '../../image/luminance-sum';
import type { Rectangle } from '../../image/rectangle';
import type { Rgb } from '../../image/rgb';
import { withSeparation, type Light } from '../../light/light';
import { scaledFrame } from '../../light/plate';
import type { StationContext, StationEffect } from '../../light/station';
import { subProgress } from '../../kernels/runtime/parallel';
import type { Look } from '../../look/look';
import { computeFeed } from '../veil/fed-light';
import { airLight } from './air';
import { flareLight, flareReads } from './flare';
import type { ResolvedLight } from '../../light/resolved-light';
import { plateReads } from '../plate/run';
import { lightsKey, nearbyKey, resolveLights } from './lights';
import { activeMirrors, mirrorVeil } from './mirror';
import { sceneAt } from './occlusion';
import { shaftLight } from './shafts';

const hasLights = ({ ghosts }: Look): boolean => ghosts.lights.some(({ on }) => on) || ghosts.find.on;
const hasFlare = (look: Look): boolean => hasLights(look) && look.ghosts.amount > 0;
const hasShafts = (look: Look): boolean => hasLights(look) && look.ghosts.shafts.amount > 0;
const hasAir = (look: Look): boolean => hasLights(look) && look.ghosts.air.amount > 0;
const hasMirror = (look: Look): boolean => activeMirrors(look).length > 0;

/** A name for what is added, and the light. */
type Part = [name: string, rgb: Rgb];

/**
 * Ghosts: what is reflected back and forth between the surfaces of the lens, what dust and air before it send on from its
 * lights, and what filter glasses mirror. All of it is added to the picture. Without a light there is nothing.
 */
export const ghostEffect: StationEffect = {
  isActive: (look) =>
    look.ghosts.on && (hasFlare(look) || hasShafts(look) || hasAir(look) || hasMirror(look)),
  reads: (look, nearby) => [
    hasLights(look) && [lightsKey(look), nearbyKey(look, nearby), look.ghosts.perLight],
    hasFlare(look) && flareReads(look),
    hasShafts(look) && look.ghosts.shafts,
    hasAir(look) && look.ghosts.air,
    (hasShafts(look) || hasAir(look)) && [plateReads(look), look.ghosts.find.threshold],
    hasMirror(look) && [look.ghosts.mirror, look.veil.feed, plateReads(look)],
  ],
  // Ghosts are drawn where they are wanted; what follows rays across the picture needs all of it.
  reach: () => 0,
  needsWhole: (look) => hasShafts(look) || hasAir(look) || hasMirror(look),
  async run(light, look, context) {
    const lights = hasLights(look) ? await resolveLights(look, context) : [];
    const seen = lights.filter(({ visibility, flare }) => visibility * flare > 0);
    const frame = scaledFrame(context.plate, light.scale);
    const parts: Part[] = [];
    if (hasFlare(look) && seen.length > 0)
      parts.push(
        ...(await flares(seen, light, look, frame, { ...context, ...subProgress(context, 0, 0.7) })),
      );
    if ((hasShafts(look) || hasAir(look)) && lights.length > 0) {
      const scene = await sceneAt(look, light, context);
      if (hasShafts(look)) parts.push(['ghosts.shafts', shaftLight(look, lights, scene, frame, light.scale)]);
      if (hasAir(look)) parts.push(['ghosts.air', airLight(look, lights, scene, frame, light.scale)]);
    }
    if (hasMirror(look)) {
      const { feed } = await computeFeed(light, look, look.veil.feed, 'veil.feed', context);
      parts.push(['ghosts.mirror', mirrorVeil(look, feed.rgb, light.width, light.height, frame)]);
    }
    const result = parts.reduce((sum, [name, rgb]) => withSeparation(sum, { name, rgb }), light);
    const moved = shareAdded(light, parts);
    return { light: result, account: { moved, lostOutsideFrame: 0, gain: 1 + moved } };
  },
};

/** Ghosts of all lights at once, or of each by itself. */
async function flares(
  lights: readonly ResolvedLight[],
  { width, height, scale }: Light,
  look: Look,
  frame: Rectangle,
  context: StationContext,
): Promise<Part[]> {
  const size = { width, height };
  const place = { ...frame, scale };
  if (!context.separate || !look.ghosts.perLight)
    return [['ghosts.flare', await flareLight(look, lights, size, place, context)]];
  const parts: Part[] = [];
  for (const light of lights) {
    const name = `ghosts.${light.isFound ? 'found' : 'lights'}[${light.index}]`;
    parts.push([name, await flareLight(look, [light], size, place, context)]);
  }
  return parts;
}

/** Light that was added, as a share of what came in. */
function shareAdded(light: Light, parts: readonly Part[]): number {
  const all = luminanceSum(light.total);
  return all > 0 ? parts.reduce((sum, [, rgb]) => sum + luminanceSum(rgb), 0) / all : 0;
}
