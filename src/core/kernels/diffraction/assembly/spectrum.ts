/** From the transform of a pupil to its image by distance and angle. */
import { ANGLES, Plan, Spectrum, STEP } from './plan';

/** Squares rows `from` to `to` of a transform, without what the square pixels of the mask do to it. */
export function powerRows(at: usize, from: i32, to: i32): void {
  const spectrum = changetype<Spectrum>(at);
  const half = spectrum.length >> 1;
  for (let y = from; y < to; y++) {
    const row = <usize>load<i32>(spectrum.places + ((<usize>y) << 2));
    const mirrored = min<i32>(y, spectrum.length - y);
    const gain = spectrum.scale * load<f32>(spectrum.pixel + ((<usize>mirrored) << 2));
    const gains = f32x4.splat(gain);
    const out = spectrum.power + ((<usize>(y * spectrum.pitch)) << 2);
    for (let k = 0; k < half; k += 4) {
      const block = spectrum.grid + <usize>(k >> 4) * <usize>spectrum.blockBytes;
      const place = block + row * 128 + <usize>((k >> 2) & 3) * 32;
      const re = v128.load(place);
      const im = v128.load(place, 16);
      const square = f32x4.add(f32x4.mul(re, re), f32x4.mul(im, im));
      const pixel = v128.load(spectrum.pixel + ((<usize>k) << 2));
      v128.store(out + ((<usize>k) << 2), f32x4.mul(f32x4.mul(square, gains), pixel));
    }
    const top = spectrum.grid + <usize>spectrum.blocks * <usize>spectrum.blockBytes + row * 32;
    const re = load<f32>(top);
    const im = load<f32>(top, 16);
    const pixel = load<f32>(spectrum.pixel + ((<usize>half) << 2));
    store<f32>(out + ((<usize>half) << 2), (re * re + im * im) * gain * pixel);
  }
}

/** Reads rows `from` to `to` of the image out of the spectra: each cell is the mean of samples over its area. */
export function polarRows(at: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(at);
  for (let row = from; row < to; row++) {
    const spectrum = changetype<Spectrum>(row < plan.middleRows ? plan.middle : plan.far);
    const offset = (<usize>row) << 2;
    const distance = load<f32>(plan.distances + offset);
    const along = load<i32>(plan.along + offset);
    const across = load<i32>(plan.across + offset);
    const directions = <usize>load<i32>(plan.directions + ((<usize>across) << 2));
    const share: f32 = 1 / <f32>(along * across);
    const step = (distance * STEP) / <f32>along;
    const first = distance * (1 - STEP / 2) + step / 2;
    const out = plan.density + ((<usize>(row * ANGLES)) << 2);
    for (let angle = 0; angle < ANGLES; angle++) {
      let sum: f32 = 0;
      for (let b = 0; b < across; b++) {
        const direction = directions + ((<usize>(angle * across + b)) << 3);
        const c = load<f32>(direction);
        const s = load<f32>(direction, 4);
        let r = first;
        for (let a = 0; a < along; a++) {
          sum += sample(spectrum, r * c, r * s);
          r += step;
        }
      }
      store<f32>(out + ((<usize>angle) << 2), sum * share);
    }
  }
}

/** Light between the samples of a spectrum; x at least 0, y to either side. */
function sample(spectrum: Spectrum, x: f32, y: f32): f32 {
  const k = min<i32>((spectrum.length >> 1) - 1, <i32>floor(x));
  const row = <i32>floor(y);
  const u = x - <f32>k;
  const v = y - <f32>row;
  const upperRow = row < 0 ? row + spectrum.length : row;
  const lowerRow = upperRow + 1 === spectrum.length ? 0 : upperRow + 1;
  const upper = spectrum.power + ((<usize>(upperRow * spectrum.pitch + k)) << 2);
  const lower = spectrum.power + ((<usize>(lowerRow * spectrum.pitch + k)) << 2);
  const a = load<f32>(upper);
  const b = load<f32>(lower);
  const above = a + u * (load<f32>(upper, 4) - a);
  const below = b + u * (load<f32>(lower, 4) - b);
  return above + v * (below - above);
}

/** Blurs rows `from` to `to` along the angle, thrice by an even blur. `scratch` holds two rows. */
export function blurRows(at: usize, from: i32, to: i32, scratch: usize): void {
  const plan = changetype<Plan>(at);
  const reach = plan.blurReach;
  const share: f64 = 1 / <f64>(2 * reach + 1);
  const bytes = (<usize>ANGLES) << 2;
  for (let row = from; row < to; row++) {
    const line = plan.density + <usize>row * bytes;
    let source = line;
    let target = scratch;
    for (let pass = 0; pass < 3; pass++) {
      let sum: f64 = 0;
      for (let k = -reach; k <= reach; k++) sum += <f64>value(source, k);
      for (let angle = 0; angle < ANGLES; angle++) {
        store<f32>(target + ((<usize>angle) << 2), <f32>(sum * share));
        sum += <f64>value(source, angle + reach + 1) - <f64>value(source, angle - reach);
      }
      source = target;
      target = target === scratch ? scratch + bytes : scratch;
    }
    memory.copy(line, source, bytes);
  }
}

/** A row's value at an angle, which may lie up to a whole round outside. */
function value(line: usize, angle: i32): f32 {
  return load<f32>(line + ((<usize>(angle & (ANGLES - 1))) << 2));
}

/**
 * Sums rows `from` to `to` of a white image: every wavelength is the same pattern, a row farther out than the one before
 * it, and nearer than the first row it is even.
 */
export function mixRows(at: usize, from: i32, to: i32): void {
  const plan = changetype<Plan>(at);
  const bytes = (<usize>ANGLES) << 2;
  for (let row = from; row < to; row++) {
    const red = plan.red + <usize>row * bytes;
    const green = plan.green + <usize>row * bytes;
    const blue = plan.blue + <usize>row * bytes;
    memory.fill(red, 0, bytes);
    memory.fill(green, 0, bytes);
    memory.fill(blue, 0, bytes);
    for (let k = 0; k < plan.wavelengths; k++) {
      const weights = plan.weights + ((<usize>k) << 4);
      const r = f32x4.splat(load<f32>(weights));
      const g = f32x4.splat(load<f32>(weights, 4));
      const b = f32x4.splat(load<f32>(weights, 8));
      const source = plan.density + <usize>max<i32>(0, row - k) * bytes;
      for (let i: usize = 0; i < bytes; i += 16) {
        const light = v128.load(source + i);
        v128.store(red + i, f32x4.add(v128.load(red + i), f32x4.mul(r, light)));
        v128.store(green + i, f32x4.add(v128.load(green + i), f32x4.mul(g, light)));
        v128.store(blue + i, f32x4.add(v128.load(blue + i), f32x4.mul(b, light)));
      }
    }
    // Single wavelengths lie outside the colours of a screen; their sum may, by a little.
    const none = f32x4.splat(0);
    for (let i: usize = 0; i < bytes; i += 16) {
      v128.store(red + i, f32x4.max(v128.load(red + i), none));
      v128.store(green + i, f32x4.max(v128.load(green + i), none));
      v128.store(blue + i, f32x4.max(v128.load(blue + i), none));
    }
  }
}
