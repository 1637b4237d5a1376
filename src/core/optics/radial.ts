import type { Size } from '../image/rectangle';

/** Abscissae on (0, 1) and weights of Gauss-Legendre quadrature (Abramowitz & Stegun 1964, table 25.4). */
export const GAUSS: Readonly<Record<2 | 4 | 8, readonly (readonly [x: number, weight: number])[]>> = {
  2: mirrored([[0.5773502691896257, 1]]),
  4: mirrored([
    [0.3399810435848563, 0.6521451548625461],
    [0.8611363115940526, 0.3478548451374538],
  ]),
  8: mirrored([
    [0.1834346424956498, 0.362683783378362],
    [0.525532409916329, 0.3137066458778873],
    [0.7966664774136267, 0.2223810344533745],
    [0.9602898564975363, 0.1012285362903763],
  ]),
};

function mirrored(half: [number, number][]): [number, number][] {
  return half.flatMap(([x, w]): [number, number][] => [
    [(1 - x) / 2, w / 2],
    [(1 + x) / 2, w / 2],
  ]);
}

interface RadialOptions extends Size {
  /** Smallest scale of variation near the source, pixels; chooses the quadrature order. */
  scaleLength: number;
  /** Radius beyond which there is nothing, in pixels. */
  reach: number;
}

/**
 * Lays a density, which is told by the square of the distance, on the pixels around a source in the middle of pixel
 * (0, 0): a quadrant of `width * height` values, row-major, [dy * width + dx]. Where it changes within a pixel the mean
 * over the pixel's area is taken, so that a small picture gets the same light as a large one.
 */
export function radialQuadrant(at: (square: number) => number, options: RadialOptions): Float32Array {
  const { width, height, scaleLength: fine, reach } = options;
  const reach2 = reach * reach;
  const out = new Float32Array(width * height);
  for (let dy = 0; dy < height; dy++) {
    for (let dx = 0; dx < width; dx++) {
      const r2 = dx * dx + dy * dy;
      if (r2 > reach2) continue;
      const square = fine * fine + r2;
      let mean: number;
      if (square > 10000) mean = at(r2);
      else {
        const points = GAUSS[square > 400 ? 2 : square > 25 ? 4 : 8];
        mean = 0;
        for (const [u, wu] of points) {
          for (const [v, wv] of points) mean += wu * wv * at((dx + u - 0.5) ** 2 + (dy + v - 0.5) ** 2);
        }
      }
      out[dy * width + dx] = mean;
    }
  }
  return out;
}

/** The integral of a density over the plane up to a radius: from `fine`, within which it is even, in even ratios. */
export function radialTotal(at: (radius: number) => number, fine: number, reach: number): number {
  const step = 0.005;
  let sum = Math.PI * fine * fine * at(fine);
  for (let r = fine * Math.exp(step / 2); r < reach; r *= Math.exp(step)) {
    const ring = Math.min(r * Math.exp(step / 2), reach) ** 2 - (r * Math.exp(-step / 2)) ** 2;
    sum += Math.PI * ring * at(r);
  }
  return sum;
}
