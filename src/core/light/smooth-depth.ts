/** So many distances or more, and no more than these, evenly apart, are those of whole numbers of 8 bits. */
const [FEWEST, MOST] = [16, 256];
/** Gaps between them are whole steps to within this share of one. */
const EVEN = 0.02;

/** How coarse a depth is: its step in stored values, and how many it has. */
export interface DepthSteps {
  step: number;
  count: number;
}

/** The steps of a depth of 8 bits; undefined if it is finer, or of a few surfaces that are each at one distance. */
export function depthSteps(stored: Float32Array): DepthSteps | undefined {
  const seen = new Set<number>();
  let last = NaN;
  for (const value of stored) {
    // Most values are those of their neighbours.
    if (value === last) continue;
    last = value;
    if (!Number.isFinite(value)) return undefined;
    seen.add(value);
    if (seen.size > MOST) return undefined;
  }
  if (seen.size < FEWEST) return undefined;
  const levels = Float64Array.from(seen).sort();
  const gaps = Array.from(levels.subarray(1), (level, k) => level - levels[k]!);
  const step = gaps.reduce((least, gap) => Math.min(least, gap), Infinity);
  const isEven = gaps.every((gap) => Math.abs(gap / step - Math.round(gap / step)) < EVEN);
  const range = levels.at(-1)! - levels[0]!;
  return isEven && range < (MOST - 0.5) * step ? { step, count: levels.length } : undefined;
}

/** Two neighbours to both sides are of one surface with what lies between if they bend by no more steps than this. */
const BEND = 1.5;
/** Neighbours that differ by more steps than this are apart: beside such an edge compression rings. */
const JUMP = 16;
/** How far it rings, in pixels, and how much, in steps. */
const [RINGS_TO, RINGS_BY] = [8, 8];
/** It does if more of the pixels there than this are peaks or dips of their rows. */
const ZIGZAG = 0.12;
/** Spacings of the smoothing's taps in pixels: together they reach over the widest bands of a slow slope. */
const SPACINGS = [1, 2, 4, 8, 16, 32, 16, 8, 4, 2, 1];
/** Weights of the middle and of the taps beside it that leave slopes and bends as they are (Savitzky & Golay 1964). */
const [MIDDLE, BESIDE, OUTER] = [17 / 35, 12 / 35, -3 / 35];

/**
 * A depth of whole steps, made smooth within its surfaces. No value goes farther from its own than half a step, to which it
 * was rounded; beside edges what rings is taken for the median of its surface first. Taps come in pairs to both sides, so that a slope
 * stays a slope (edge-avoiding a-trous wavelets: Dammertz et al. 2010).
 */
export function smoothDepth(
  stored: Float32Array,
  width: number,
  height: number,
  { step }: DepthSteps,
): Float32Array {
  const calm = withoutRinging(stored, width, height, step);
  let now = calm.slice();
  let next = calm.slice();
  for (const spacing of SPACINGS)
    for (const stride of [1, width]) {
      smoothAlong(now, next, calm, { width, height, spacing, stride, step });
      [now, next] = [next, now];
    }
  return now;
}

interface SmoothPass {
  width: number;
  height: number;
  spacing: number;
  /** Between neighbours along the pass: 1 along rows, the width along columns. */
  stride: number;
  step: number;
}

/** One pass along rows or columns. Where its taps would leave the picture values stay. */
function smoothAlong(
  from: Float32Array,
  to: Float32Array,
  calm: Float32Array,
  { width, height, spacing, stride, step }: SmoothPass,
): void {
  const border = 2 * spacing;
  const [left, top] = stride === 1 ? [border, 0] : [0, border];
  const [near, far] = [spacing * stride, 2 * spacing * stride];
  const bend = BEND * step;
  to.set(from);
  for (let y = top; y < height - top; y++) {
    const end = y * width + width - left;
    for (let i = y * width + left; i < end; i++) {
      const own = from[i]!;
      const beside = from[i - near]! + from[i + near]!;
      if (Math.abs(beside - 2 * own) > bend) continue;
      const outer = from[i - far]! + from[i + far]!;
      if (Math.abs(outer - 2 * own) > 2 * bend) continue;
      const value = MIDDLE * own + BESIDE * beside + OUTER * outer;
      to[i] = Math.min(calm[i]! + step / 2, Math.max(calm[i]! - step / 2, value));
    }
  }
}

/** Values near an edge become the median of those about them that are of their surface. */
function withoutRinging(stored: Float32Array, width: number, height: number, step: number): Float32Array {
  const near = nearEdges(stored, width, height, JUMP * step);
  if (zigzags(stored, near, RINGS_BY * step) < ZIGZAG) return stored;
  const out = stored.slice();
  const about: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!near[i]) continue;
      about.length = 0;
      for (let v = Math.max(0, y - 2); v <= Math.min(height - 1, y + 2); v++)
        for (let u = Math.max(0, x - 2); u <= Math.min(width - 1, x + 2); u++) {
          const value = stored[v * width + u]!;
          if (Math.abs(value - stored[i]!) <= RINGS_BY * step) about.push(value);
        }
      out[i] = about.sort((a, b) => a - b)[about.length >> 1]!;
    }
  return out;
}

/** Share of the marked pixels that are peaks or dips among neighbours of their surface. */
function zigzags(stored: Float32Array, marked: Uint8Array, apart: number): number {
  let [all, found] = [0, 0];
  for (let i = 1; i + 1 < stored.length; i++) {
    if (!marked[i]) continue;
    const [before, after] = [stored[i]! - stored[i - 1]!, stored[i + 1]! - stored[i]!];
    if (Math.abs(before) > apart || Math.abs(after) > apart) continue;
    all++;
    if (before * after < 0) found++;
  }
  return all > 0 ? found / all : 0;
}

/** Which pixels lie near a jump between neighbours. */
function nearEdges(stored: Float32Array, width: number, height: number, jump: number): Uint8Array {
  const edges = new Uint8Array(stored.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const right = x + 1 < width && Math.abs(stored[i + 1]! - stored[i]!) > jump;
      const below = y + 1 < height && Math.abs(stored[i + width]! - stored[i]!) > jump;
      if (right || below) edges[i] = 1;
    }
  return widened(widened(edges, 1, width, height), width, width, height);
}

/** Marks spread by so many pixels to both sides, along rows (`stride` 1) or columns (the width). */
function widened(marks: Uint8Array, stride: number, width: number, height: number): Uint8Array {
  const out = new Uint8Array(marks.length);
  const [lines, length] = stride === 1 ? [height, width] : [width, height];
  for (let line = 0; line < lines; line++) {
    const first = stride === 1 ? line * width : line;
    // Twice over the line, forth and back.
    for (const sign of [1, -1]) {
      let left = 0;
      for (let k = 0; k < length; k++) {
        const i = first + (sign === 1 ? k : length - 1 - k) * stride;
        if (marks[i]) left = RINGS_TO + 1;
        if (left-- > 0) out[i] = 1;
      }
    }
  }
  return out;
}

const smoothed = new WeakMap<object, Float32Array>();

/** The numbers of a depth, smoothed if they are those of 8 bits; `owner` is what they came from, and remembers them. */
export function withoutSteps(
  owner: object,
  stored: Float32Array,
  { width, height }: { width: number; height: number },
): Float32Array {
  const known = smoothed.get(owner);
  if (known) return known;
  const steps = depthSteps(stored);
  if (!steps) return stored;
  const made = smoothDepth(stored, width, height, steps);
  smoothed.set(owner, made);
  return made;
}
