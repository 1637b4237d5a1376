import { gaussianQuadrant } from './gaussian';

/**
 * Scales of the lobes over the radius, each a Gaussian. Particles scatter forwards into lobes as wide as they are small
 * (van de Hulst 1957, Light Scattering by Small Particles); a filter holds them in many sizes.
 */
const SCALES = [0.4, 1, 2.5, 6.25, 15.625] as const;
/** With shares that go as this power of the scale the whole falls off by it less 2: with the power -2.8 of the distance. */
const SHARE_POWER = -0.8;

/**
 * Light behind a mist filter: lobes of several widths that together fall off by a power of the distance, so that a lamp has a
 * tight glow and a far haze in one. A quadrant of `width * height` values about a source in the middle of pixel (0, 0); all of
 * it together is 1. The radius is in pixels.
 */
export function mistQuadrant(radius: number, width: number, height: number): Float32Array {
  const shares = SCALES.map((scale) => scale ** SHARE_POWER);
  const all = shares.reduce((sum, share) => sum + share, 0);
  const out = new Float32Array(width * height);
  SCALES.forEach((scale, k) => {
    const lobe = gaussianQuadrant(scale * radius, width, height);
    const share = shares[k]! / all;
    for (let i = 0; i < out.length; i++) out[i]! += share * lobe[i]!;
  });
  return out;
}
