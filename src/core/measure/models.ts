import { LUMINANCE } from '../color/primaries';
import { ANGLES, STEP, type LogPolarPsf } from '../optics/log-polar-psf';
import { encircledShare, radialIntegral } from '../optics/power-law';
import { ringProfiles } from '../optics/ring';

/** How one unit of light is spread about a point. */
export interface Glow {
  /** Light per square pixel by distance in pixels, and by direction in radians where it goes by that. */
  light: (radius: number, angle: number) => number;
  /** The share of it that falls within a distance. */
  within: (radius: number) => number;
}

/** Points over which a source's disc is averaged: rings of equal area. */
const DISC: readonly { share: number; angle: number }[] = Array.from({ length: 2 }, (_, ring) =>
  Array.from({ length: 6 }, (_, k) => ({
    share: Math.sqrt((ring + 0.5) / 2),
    angle: ((k + ring / 2) * Math.PI) / 3,
  })),
).flat();

/** A power law as the veil's bloom has it, cut off at `reach`. */
export function powerLaw(core: number, falloff: number, reach: number): Glow {
  const scale = 1 / (2 * Math.PI * core ** falloff * radialIntegral(core, falloff, reach));
  return {
    light: (radius) => scale * (1 + (radius / core) ** 2) ** (-falloff / 2),
    within: (radius) => encircledShare({ core, falloff, reach }, radius),
  };
}

/** The ring of a halo, brightness of white, by its radius and width as settings have them. */
export function haloRing(radius: number, width: number): Glow {
  const { profiles, step } = ringProfiles({ radius, width });
  const light = profiles[0]!.map((_, k) =>
    LUMINANCE.reduce((sum, share, c) => sum + share * profiles[c]![k]!, 0),
  );
  const at = (r: number): number => {
    const place = r / step;
    const below = Math.floor(place);
    if (below + 1 >= light.length) return 0;
    return light[below]! + (place - below) * (light[below + 1]! - light[below]!);
  };
  return {
    light: at,
    within: (r) =>
      light.reduce((sum, value, k) => sum + (k * step < r ? value * k : 0), 0) * 2 * Math.PI * step ** 2,
  };
}

/** Exponent at which the image of a pupil falls off beyond what is computed. */
const FAR = -3;

/** The image of a pupil in white light, turned by an angle in radians; `unit` is the pixels of a wavelength times the f-number. */
export function pupilGlow(images: readonly LogPolarPsf[], unit: number, turn: number): Glow {
  const { first, rows } = images[0]!;
  const { density, encircled } = whiteImage(images);
  const rowAt = (radius: number): number => (Math.log(Math.max(radius, 1e-6) / unit) - first) / STEP;
  const densityAt = (radius: number, angle: number): number => {
    const row = rowAt(radius);
    const held = Math.min(rows - 1.001, Math.max(0, row));
    // Directions of an image are counted from straight down.
    const across = ((((angle - turn) / Math.PI + 0.5) % 1) + 1) % 1;
    const place = across * ANGLES;
    const [below, left] = [Math.floor(held), Math.floor(place) % ANGLES];
    const [fy, fx] = [held - below, place - Math.floor(place)];
    const at = (r: number, a: number): number => density[r * ANGLES + (a % ANGLES)]!;
    const near = at(below, left) + fx * (at(below, left + 1) - at(below, left));
    const far = at(below + 1, left) + fx * (at(below + 1, left + 1) - at(below + 1, left));
    const value = (near + fy * (far - near)) / unit ** 2;
    return row > held ? value * Math.exp((row - held) * STEP * FAR) : value;
  };
  return {
    light: densityAt,
    within: (radius) => {
      const row = Math.floor(rowAt(radius));
      return row < 0 ? 0 : encircled[Math.min(rows - 1, row)]!;
    },
  };
}

interface WhiteImage {
  /** Light per square unit, of which all together is 1. */
  density: Float32Array;
  /** Share of the light within each row. */
  encircled: Float64Array;
}

const whites = new WeakMap<readonly LogPolarPsf[], WhiteImage>();

function whiteImage(images: readonly LogPolarPsf[]): WhiteImage {
  const known = whites.get(images);
  if (known) return known;
  const { first, rows } = images[0]!;
  const density = images[0]!.density.map((_, i) =>
    LUMINANCE.reduce((sum, share, c) => sum + share * images[c]!.density[i]!, 0),
  );
  const mean = (row: number): number =>
    density.subarray(row * ANGLES, (row + 1) * ANGLES).reduce((sum, value) => sum + value, 0) / ANGLES;
  const area = (row: number): number => Math.PI * Math.exp(2 * (first + row * STEP));
  const encircled = new Float64Array(rows);
  let sum = mean(0) * area(0);
  for (let row = 0; row < rows; row++) {
    sum += mean(row) * 2 * STEP * area(row);
    encircled[row] = sum;
  }
  // Beyond, a power of the distance.
  const all = sum + (mean(rows - 1) * 2 * area(rows - 1)) / (-FAR - 2);
  const white = {
    density: density.map((value) => value / all),
    encircled: encircled.map((share) => share / all),
  };
  whites.set(images, white);
  return white;
}

/** A glow about every point of a source's disc. */
export const aroundDisc = ({ light, within }: Glow, disc: number): Glow => ({
  within,
  light: (radius, angle) => {
    if (disc === 0) return light(radius, angle);
    const [x, y] = [radius * Math.cos(angle), radius * Math.sin(angle)];
    let sum = 0;
    for (const point of DISC) {
      const [dx, dy] = [
        x - disc * point.share * Math.cos(point.angle),
        y - disc * point.share * Math.sin(point.angle),
      ];
      sum += light(Math.hypot(dx, dy), Math.atan2(dy, dx));
    }
    return sum / DISC.length;
  },
});

/** A glow that is the same in all directions, computed once for samples of one distance that follow each other. */
export function evenly({ light, within }: Glow): Glow {
  let [last, value] = [NaN, 0];
  return {
    within,
    light: (radius) => {
      if (radius !== last) [last, value] = [radius, light(radius, 0)];
      return value;
    },
  };
}
