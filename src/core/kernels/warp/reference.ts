import { mapRgb, type Rgb } from '../../image/rgb';
import { NO_MOVE, RATIO_STEPS, type WarpInput, type WarpKernel } from '.';
import { lanczosWeights } from './filter';

/** What {@link sharpnessAt} compares, and how wide it looks (see assembly/index.ts). */
const [RING, FLOOR, TILE, BORDER] = [0.1, 0.1, 4, 8];

const clampTo = (value: number, last: number): number => Math.min(last, Math.max(0, value));

/** Share of the sharp filter for what is read from a column and a row on: none where it would ring about a lamp. */
function sharpnessAt(guide: Rgb, width: number, height: number, left: number, top: number): number {
  const tileOf = (first: number): number => Math.floor((first + BORDER) / TILE) * TILE - BORDER;
  const [x0, y0] = [tileOf(left), tileOf(top)];
  let [most, least] = [-Infinity, Infinity];
  for (let v = y0; v < y0 + 3 * TILE; v++)
    for (let u = x0; u < x0 + 5 * TILE; u++)
      for (const plane of guide) {
        const value = plane[clampTo(v, height - 1) * width + clampTo(u, width - 1)]!;
        most = Math.max(most, value);
        least = Math.min(least, value);
      }
  const over = ((RING * (most - least)) / (Math.max(0, least) + FLOOR) - 1) / 2;
  return 1 - Math.min(1, Math.max(0, over));
}

/** The warp, pixel by pixel; the kernel reads eight at once where that misplaces none. */
export const referenceWarp: WarpKernel = {
  warp({ width, height, light, guide = light, axisX, axisY, move = NO_MOVE, limit, samples }: WarpInput) {
    const out: Rgb = mapRgb(light, (plane) => new Float32Array(plane.length));
    const weights = (phase: number, sharp: number): number[] =>
      lanczosWeights(phase).map(
        (weight, k) => sharp * weight + (1 - sharp) * (k === 2 ? 1 - phase : k === 3 ? phase : 0),
      );
    const known = new Map<string, number>();
    const sharpness = (left: number, top: number): number => {
      const key = `${(left + BORDER) >> 2} ${(top + BORDER) >> 2}`;
      const share = known.get(key) ?? sharpnessAt(guide, width, height, left, top);
      known.set(key, share);
      return share;
    };
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [dx, dy] = [x + 0.5 - axisX, y + 0.5 - axisY];
        const place = Math.min(RATIO_STEPS - 0.001, ((dx * dx + dy * dy) / limit) * RATIO_STEPS);
        const step = Math.floor(place);
        for (const { ratios, weight } of samples) {
          const ratio = ratios[step]! + (place - step) * (ratios[step + 1]! - ratios[step]!);
          const within = (value: number, last: number): number =>
            Math.min(last + BORDER - 3, Math.max(-BORDER + 3, value));
          const { xx, xy, yx, yy, x0, y0 } = move;
          const sx = within(axisX - 0.5 + ratio * (xx * dx + xy * dy) + x0, width - 1);
          const sy = within(axisY - 0.5 + ratio * (yx * dx + yy * dy) + y0, height - 1);
          const [left, top] = [Math.floor(sx), Math.floor(sy)];
          const sharp = sharpness(left - 2, top - 2);
          const [wx, wy] = [weights(sx - left, sharp), weights(sy - top, sharp)];
          for (const [c, plane] of light.entries()) {
            let sum = 0;
            for (let j = 0; j < 6; j++)
              for (let i = 0; i < 6; i++)
                sum +=
                  wx[i]! *
                  wy[j]! *
                  plane[clampTo(top - 2 + j, height - 1) * width + clampTo(left - 2 + i, width - 1)]!;
            out[c]![y * width + x]! += weight[c]! * sum;
          }
        }
      }
    return Promise.resolve(out);
  },
};
