import type { Rectangle } from '../../image/rectangle';
import { mapRgb, type Rgb } from '../../image/rgb';
import { hexToLinear } from '../../color/hex';
import { scaledFrame } from '../../light/plate';
import type { Light } from '../../light/light';
import type { StationContext } from '../../light/station';
import type { Look } from '../../look/look';
import { radialQuadrant, radialTotal } from '../../optics/radial';
import { computeFeed } from '../veil/fed-light';
import { blendOf } from '../veil/blend';
import { scatterFeed } from '../veil/scatter';
import { evenKernel } from '../veil/parts/pixel-kernel';

/** Index of a film's base, and the tangent of the angle from which on it throws all light back. */
const BASE_INDEX = 1.5;
const CRITICAL_TANGENT = 1 / Math.sqrt(BASE_INDEX ** 2 - 1);
/** Radii of the ring at which halation ends. */
const REACH = 8;

/**
 * Light that the back of a film's base throws on the emulsion at a distance from where it passed, by area, up to a factor: a
 * point of the emulsion scatters evenly into the base (Lambert), whose back reflects by Fresnel's law, all of it beyond the
 * critical angle. `radius` is where that begins: twice the thickness times the tangent of the angle.
 */
export function halationProfile(distance: number, radius: number): number {
  const twice = radius / CRITICAL_TANGENT;
  const square = 1 / (1 + (distance / twice) ** 2);
  const cosine = Math.sqrt(square);
  return square * square * reflectedByBase(cosine);
}

/** Share of unpolarised light that goes back from a base into air, by the cosine of its angle in the base (Fresnel 1823). */
function reflectedByBase(cosine: number): number {
  const sine = BASE_INDEX * Math.sqrt(Math.max(0, 1 - cosine * cosine));
  if (sine >= 1) return 1;
  const out = Math.sqrt(1 - sine * sine);
  const across = (BASE_INDEX * cosine - out) / (BASE_INDEX * cosine + out);
  const along = (cosine - BASE_INDEX * out) / (cosine + BASE_INDEX * out);
  return (across * across + along * along) / 2;
}

export const hasHalation = ({ film: { halation } }: Look): boolean => halation.on && halation.amount > 0;

/** Radius of a look's ring in pixels of its frame. */
function ringRadius({ film, camera }: Look, frame: Pick<Rectangle, 'width'>): number {
  return ((film.halation.radius / 1000) * frame.width) / camera.sensorWidth;
}

/** How far a look's halation carries light, pixels of its frame. */
export const halationReach = (look: Look, frame: Rectangle): number => REACH * ringRadius(look, frame);

/** What halation adds to a light. */
export async function halationLight(light: Light, look: Look, context: StationContext): Promise<Rgb> {
  const { halation } = look.film;
  const frame = scaledFrame(context.plate, light.scale);
  const radius = ringRadius(look, frame);
  const source = await computeFeed(light, look, halation.feed, 'film.halation.feed', context);
  const blend = blendOf([
    {
      name: 'film.halation',
      amount: halation.amount,
      gains: [1, 1, 1],
      saturation: 1,
      feed: halation.feed,
      ownFeed: true,
      key: `halation ${radius}`,
      kernels: (width, height) => {
        const reach = REACH * radius;
        const at = (square: number): number => halationProfile(Math.sqrt(square), radius);
        const total = radialTotal((r) => halationProfile(r, radius), 0.01 * radius, reach);
        const quadrant = radialQuadrant((square) => at(square) / total, {
          width,
          height,
          scaleLength: 0.2 * radius,
          reach,
        });
        return [evenKernel(quadrant, width)];
      },
    },
  ]);
  const scattered = await scatterFeed(source, light, blend, 0, context);
  const tint = hexToLinear(halation.tint);
  // What transforms leave below zero is rounding.
  return mapRgb(scattered, (plane, c) => {
    const gain = halation.amount * tint[c];
    return plane.map((value) => gain * Math.max(0, value));
  });
}
