import { luminance } from '../color/primaries';
import type { Rgb } from './rgb';
import type { Size } from './rectangle';

/** Pixels that lie together and are brighter than a threshold. Places in pixels, the first pixel's middle at 0.5. */
export interface BrightRegion {
  /** Middle of its light. */
  x: number;
  y: number;
  /** Sum of its light a channel. */
  flux: [r: number, g: number, b: number];
  /** Luminance of its brightest pixel. */
  peak: number;
  pixels: number;
  /** Index of its brightest pixel. */
  brightest: number;
}

/** A stretch of bright pixels in a row, and the region that it belongs to. */
interface Run {
  from: number;
  to: number;
  label: number;
}

/**
 * Connected regions (by sides and corners) whose luminance exceeds a threshold, the one with the most light first: row by
 * row in runs, which are joined by union and find. (Rosenfeld & Pfaltz 1966)
 */
export function brightRegions([r, g, b]: Rgb, { width, height }: Size, threshold: number): BrightRegion[] {
  const parents: number[] = [];
  const find = (label: number): number => {
    let root = label;
    while (parents[root] !== root) root = parents[root]!;
    while (parents[label] !== root) [parents[label], label] = [root, parents[label]!];
    return root;
  };
  const regions: BrightRegion[] = [];
  let before: Run[] = [];
  for (let y = 0; y < height; y++) {
    const row: Run[] = [];
    let at = 0;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const red = r[i]!;
      const green = g[i]!;
      const blue = b[i]!;
      // Luminance is a mean of the three: most pixels are told by comparing alone.
      if (red <= threshold && green <= threshold && blue <= threshold) continue;
      const light = luminance(red, green, blue);
      if (!(light > threshold)) continue;
      let run = row.at(-1);
      if (run?.to !== x) {
        run = { from: x, to: x, label: -1 };
        row.push(run);
        // Runs above that end before this one, corners counted, are past.
        while (at < before.length && before[at]!.to < x) at++;
      }
      run.to = x + 1;
      for (let k = at; k < before.length && before[k]!.from <= x + 1; k++) {
        const label = find(before[k]!.label);
        if (run.label < 0) run.label = label;
        else parents[label] = run.label = find(run.label);
      }
      if (run.label < 0) {
        run.label = parents.length;
        parents.push(run.label);
        regions.push({ x: 0, y: 0, flux: [0, 0, 0], peak: 0, pixels: 0, brightest: i });
      }
      const region = regions[run.label]!;
      region.x += light * (x + 0.5);
      region.y += light * (y + 0.5);
      region.flux[0] += red;
      region.flux[1] += green;
      region.flux[2] += blue;
      region.pixels++;
      if (light > region.peak) [region.peak, region.brightest] = [light, i];
    }
    before = row;
  }
  return gather(
    regions,
    parents.map((_, label) => find(label)),
  );
}

/** Adds the parts of each region together. */
function gather(parts: readonly BrightRegion[], roots: readonly number[]): BrightRegion[] {
  const whole = new Map<number, BrightRegion>();
  parts.forEach((part, label) => {
    const known = whole.get(roots[label]!);
    if (!known) return whole.set(roots[label]!, { ...part, flux: [...part.flux] });
    known.x += part.x;
    known.y += part.y;
    known.pixels += part.pixels;
    part.flux.forEach((value, c) => (known.flux[c]! += value));
    if (part.peak > known.peak) Object.assign(known, { peak: part.peak, brightest: part.brightest });
    return whole;
  });
  const light = ({ flux }: BrightRegion): number => luminance(...flux);
  return [...whole.values()]
    .map((region) => ({ ...region, x: region.x / light(region), y: region.y / light(region) }))
    .sort((a, b) => light(b) - light(a));
}
