import { LUMINANCE } from '../color/primaries';
import { ANGLES, STEP, type LogPolarPsf } from '../optics/log-polar-psf';
import { ringProfiles } from '../optics/ring';

/** Light by distance in pixels, and by direction in radians where it goes by that. */
export type Glow = (radius: number, angle: number) => number;

/** Points over which a source's disc is averaged: rings of equal area. */
const DISC: readonly { share: number; angle: number }[] = Array.from({ length: 2 }, (_, ring) =>
  Array.from({ length: 6 }, (_, k) => ({
    share: Math.sqrt((ring + 0.5) / 2),
    angle: ((k + ring / 2) * Math.PI) / 3,
  })),
).flat();

/** A power law of unit height at its core. */
export const powerLaw =
  (core: number, falloff: number): Glow =>
  (radius) =>
    (1 + (radius / core) ** 2) ** (-falloff / 2);

/** The ring of a halo, brightness of white, by its radius and width as settings have them; its largest is 1. */
export function haloRing(radius: number, width: number): Glow {
  const { profiles, step } = ringProfiles({ radius, width });
  const light = profiles[0]!.map((_, k) =>
    LUMINANCE.reduce((sum, share, c) => sum + share * profiles[c]![k]!, 0),
  );
  const most = Math.max(...light);
  return (r) => {
    const place = r / step;
    const below = Math.floor(place);
    if (below + 1 >= light.length) return 0;
    return (light[below]! + (place - below) * (light[below + 1]! - light[below]!)) / most;
  };
}

/** Exponent at which the image of a pupil falls off beyond what is computed. */
const FAR = -3;

/** The image of a pupil in white light, turned by an angle in radians; `unit` is the pixels of a wavelength times the f-number. */
export function pupilGlow(images: readonly LogPolarPsf[], unit: number, turn: number): Glow {
  const { first, rows } = images[0]!;
  const density = whiteDensity(images);
  return (radius, angle) => {
    const row = (Math.log(Math.max(radius, 1e-6) / unit) - first) / STEP;
    const held = Math.min(rows - 1.001, Math.max(0, row));
    // Directions of an image are counted from straight down.
    const across = ((((angle - turn) / Math.PI + 0.5) % 1) + 1) % 1;
    const place = across * ANGLES;
    const [below, left] = [Math.floor(held), Math.floor(place) % ANGLES];
    const [fy, fx] = [held - below, place - Math.floor(place)];
    const at = (r: number, a: number): number => density[r * ANGLES + (a % ANGLES)]!;
    const near = at(below, left) + fx * (at(below, left + 1) - at(below, left));
    const far = at(below + 1, left) + fx * (at(below + 1, left + 1) - at(below + 1, left));
    const value = near + fy * (far - near);
    return row > held ? value * Math.exp((row - held) * STEP * FAR) : value;
  };
}

const whites = new WeakMap<readonly LogPolarPsf[], Float32Array>();

function whiteDensity(images: readonly LogPolarPsf[]): Float32Array {
  let white = whites.get(images);
  if (!white) {
    white = images[0]!.density.map((_, i) =>
      LUMINANCE.reduce((sum, share, c) => sum + share * images[c]!.density[i]!, 0),
    );
    whites.set(images, white);
  }
  return white;
}

/** A glow about every point of a source's disc. */
export const aroundDisc =
  (glow: Glow, disc: number): Glow =>
  (radius, angle) => {
    if (disc === 0) return glow(radius, angle);
    const [x, y] = [radius * Math.cos(angle), radius * Math.sin(angle)];
    let sum = 0;
    for (const point of DISC) {
      const [dx, dy] = [
        x - disc * point.share * Math.cos(point.angle),
        y - disc * point.share * Math.sin(point.angle),
      ];
      sum += glow(Math.hypot(dx, dy), Math.atan2(dy, dx));
    }
    return sum / DISC.length;
  };
