/**
 * Transforms in place, depth first: what a level has split is finished while it is still in the cache. The butterflies
 * are written by scripts/butterflies.mjs when the kernel is compiled.
 */
import {
  convolveLeaf,
  forwardLeaf,
  forwardLevel,
  inverseLeaf,
  inverseLevel,
  multiplyLeaf,
} from './butterflies';
import { Stage, STAGE_BYTES } from './plan';

function next(stage: Stage): Stage {
  return changetype<Stage>(changetype<usize>(stage) + STAGE_BYTES);
}

/** Numbers in natural order become frequencies in the order of reversed digits; `bytes` is a number's size. */
export function forward(stage: Stage, base: usize, bytes: usize): void {
  const run = <usize>stage.count * bytes;
  const stop = base + <usize>stage.radix * run;
  if (stage.count === 1) return forwardLeaf(stage.radix, base, stop, bytes);
  forwardLevel(stage.radix, base, stage.count, bytes, stage.twiddles);
  const inner = next(stage);
  if (inner.count === 1) return forwardLeaf(inner.radix, base, stop, bytes);
  for (; base < stop; base += run) forward(inner, base, bytes);
}

/** The way back, without dividing by the length. */
export function inverse(stage: Stage, base: usize, bytes: usize): void {
  const run = <usize>stage.count * bytes;
  const stop = base + <usize>stage.radix * run;
  if (stage.count === 1) return inverseLeaf(stage.radix, base, stop, bytes);
  const inner = next(stage);
  if (inner.count === 1) inverseLeaf(inner.radix, base, stop, bytes);
  else for (let at = base; at < stop; at += run) inverse(inner, at, bytes);
  inverseLevel(stage.radix, base, stage.count, bytes, stage.twiddles);
}

/** There, times a spectrum in the same order, and back; `spectrum` is how far behind each number its factor lies. */
export function convolve(stage: Stage, base: usize, bytes: usize, spectrum: usize): void {
  const run = <usize>stage.count * bytes;
  const stop = base + <usize>stage.radix * run;
  if (stage.count === 1) return convolveLeaf(stage.radix, base, stop, bytes, spectrum);
  forwardLevel(stage.radix, base, stage.count, bytes, stage.twiddles);
  const inner = next(stage);
  if (inner.count === 1) convolveLeaf(inner.radix, base, stop, bytes, spectrum);
  else for (let at = base; at < stop; at += run) convolve(inner, at, bytes, spectrum);
  inverseLevel(stage.radix, base, stage.count, bytes, stage.twiddles);
}

/** Times a spectrum and back, of numbers that were there already and lie `source` behind; they stay as they are. */
export function multiply(stage: Stage, base: usize, bytes: usize, spectrum: usize, source: usize): void {
  const run = <usize>stage.count * bytes;
  const stop = base + <usize>stage.radix * run;
  if (stage.count === 1) return multiplyLeaf(stage.radix, base, stop, bytes, spectrum, source);
  const inner = next(stage);
  if (inner.count === 1) multiplyLeaf(inner.radix, base, stop, bytes, spectrum, source);
  else for (let at = base; at < stop; at += run) multiply(inner, at, bytes, spectrum, source);
  inverseLevel(stage.radix, base, stage.count, bytes, stage.twiddles);
}
