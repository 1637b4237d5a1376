import { bilinearSampler } from '../../image/bilinear';
import { mapRgb } from '../../image/rgb';
import { LEAN_STEPS, type DispersionKernel } from '.';

/** Normals that lean by less bend nothing. */
const UPRIGHT = 1e-4;

/** The dispersion, pixel by pixel. */
export const referenceDispersion: DispersionKernel = {
  disperse({ width, height, seen, matte, right, down, steepest, levels }) {
    // What is seen beside the glass is not seen through it.
    const within = mapRgb(seen, (plane) => plane.map((value, i) => (matte[i]! > 0 ? value : 0)));
    const read = [...within, matte].map((plane) => bilinearSampler(plane, width, height));
    const out = mapRgb(seen, (plane) => new Float32Array(plane.length));
    for (let i = 0; i < matte.length; i++) {
      const lean = Math.hypot(right[i]!, down[i]!);
      if (matte[i]! <= 0 || lean < UPRIGHT) continue;
      const place = Math.min(1, lean / steepest) * LEAN_STEPS;
      const step = Math.min(LEAN_STEPS - 1, Math.floor(place));
      const sum = [0, 0, 0];
      const { samples } = levels.find(({ upTo }) => lean < upTo) ?? levels.at(-1)!;
      for (const { shifts, weight } of samples) {
        const shift = shifts[step]! + (place - step) * (shifts[step + 1]! - shifts[step]!);
        const x = (i % width) + (shift * right[i]!) / lean;
        const y = Math.floor(i / width) + (shift * down[i]!) / lean;
        const lacking = 1 - Math.min(1, read[3]!(x, y));
        for (let c = 0; c < 3; c++) sum[c]! += weight[c]! * (read[c]!(x, y) + lacking * seen[c]![i]!);
      }
      for (let c = 0; c < 3; c++) out[c]![i] = matte[i]! * (sum[c]! - seen[c]![i]!);
    }
    return Promise.resolve(out);
  },
};
