import { GAUSS, radialQuadrant } from './radial';

/**
 * Scatter that falls off with a power of the distance: `1 / (r0^2 + r^2)^(p/2)`, cut off at the radius `reach` and
 * normalised so that all of it together is 1. With p = 2 it is the inverse square of veiling glare.
 * [Stiles 1929 and Holladay 1927 for the exponent; Spencer et al. 1995 for its use on pictures]
 */
export interface PowerLaw {
  /** Core radius r0 in pixels. */
  core: number;
  /** Exponent p of the fall-off, over 1. */
  falloff: number;
  /** Radius beyond which there is nothing, in pixels. */
  reach: number;
}

/** The integral of r (r0^2 + r^2)^(-p/2) from 0 to `radius`. */
export function radialIntegral(core: number, falloff: number, radius: number): number {
  const square = core * core;
  if (falloff === 2) return Math.log1p((radius * radius) / square) / 2;
  const power = 1 - falloff / 2;
  return ((square + radius * radius) ** power - square ** power) / (2 * power);
}

/** The share of the scattered light that falls within `radius` pixels of its source. */
export function encircledShare(law: PowerLaw, radius: number): number {
  if (radius >= law.reach) return 1;
  return radialIntegral(law.core, law.falloff, radius) / radialIntegral(law.core, law.falloff, law.reach);
}

/**
 * The light that the law puts into each pixel around a source in the middle of pixel (0, 0): a quadrant of
 * `width * height` values, row-major, [dy * width + dx]. Near the source the law is integrated over each pixel's
 * area, so that a small picture gets the same light as a large one.
 */
export function powerLawQuadrant(law: PowerLaw, width: number, height: number): Float32Array {
  const { core, falloff, reach } = law;
  const scale = 1 / (2 * Math.PI * radialIntegral(core, falloff, reach));
  const core2 = core * core;
  const exponent = -falloff / 2;
  const out = radialQuadrant(
    falloff === 2 ? (square) => scale / (core2 + square) : (square) => scale * (core2 + square) ** exponent,
    { width, height, scaleLength: core, reach },
  );
  if (core < 2) out[0] = scale * centrePixel(core, falloff);
  return out;
}

/** The integral over the source's own pixel, in polar coordinates, where it is known along each ray. */
function centrePixel(core: number, falloff: number): number {
  let sum = 0;
  for (const [u, weight] of GAUSS[8]) {
    const angle = (u * Math.PI) / 4;
    sum += weight * radialIntegral(core, falloff, 0.5 / Math.cos(angle));
  }
  return 8 * (Math.PI / 4) * sum;
}
