import { hash32 } from './sampler';
import type { Texture } from './scene';

/** Procedural detail, read at a point of the surface; it bends the normal and varies roughness and colour. */
export interface Detail {
  /** Factor on the albedo. */
  shade: number;
  roughness: number;
  nx: number;
  ny: number;
  nz: number;
}

function lattice(x: number, y: number, z: number): number {
  return hash32(Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) / 4294967296;
}

const fade = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10);
const mix = (a: number, b: number, t: number): number => a + (b - a) * t;
const step = (low: number, high: number, x: number): number => {
  const t = Math.min(1, Math.max(0, (x - low) / (high - low)));
  return t * t * (3 - 2 * t);
};

/** Value noise in [0, 1]. */
function noise(x: number, y: number, z: number): number {
  const i = Math.floor(x);
  const j = Math.floor(y);
  const k = Math.floor(z);
  const u = fade(x - i);
  const v = fade(y - j);
  const w = fade(z - k);
  return mix(
    mix(
      mix(lattice(i, j, k), lattice(i + 1, j, k), u),
      mix(lattice(i, j + 1, k), lattice(i + 1, j + 1, k), u),
      v,
    ),
    mix(
      mix(lattice(i, j, k + 1), lattice(i + 1, j, k + 1), u),
      mix(lattice(i, j + 1, k + 1), lattice(i + 1, j + 1, k + 1), u),
      v,
    ),
    w,
  );
}

function turbulence(x: number, y: number, z: number, octaves: number): number {
  let sum = 0;
  let weight = 0.5;
  let scale = 1;
  for (let octave = 0; octave < octaves; octave++) {
    sum += weight * noise(x * scale + octave * 17.3, y * scale, z * scale - octave * 9.1);
    weight *= 0.5;
    scale *= 2.03;
  }
  return sum;
}

const PLANK_WIDTH = 0.19;
const PLANK_GAP = 0.011;

/** Height of the planks' surface in metres over the plane. */
function plankHeight(x: number, z: number): number {
  const board = Math.floor(z / PLANK_WIDTH);
  const across = z - board * PLANK_WIDTH;
  const edge = Math.min(across, PLANK_WIDTH - across);
  const warp = (lattice(board, 3, 7) - 0.5) * 0.003;
  const grain = 0.0016 * turbulence(x * 2.2 + board * 5.7, 0, z * 55, 3);
  const dip = 0.006 * turbulence(x * 0.7, 4, z * 0.7, 2);
  return warp + grain + dip - 0.008 * (1 - step(0, PLANK_GAP, edge));
}

/** Height of the water in metres: long swell and short chop. */
function waveHeight(x: number, z: number): number {
  const swell = 0.05 * Math.sin(0.9 * x + 0.55 * z) + 0.04 * Math.sin(-0.5 * x + 1.3 * z + 1.7);
  return swell + 0.12 * turbulence(x * 0.9, 0, z * 1.3, 3);
}

/** Fills `out` with the detail of a texture at a point with the geometric normal (gx, gy, gz), seen from `distance` metres. */
export function applyTexture(
  texture: Texture,
  x: number,
  y: number,
  z: number,
  gx: number,
  gy: number,
  gz: number,
  distance: number,
  roughness: number,
  out: Detail,
): void {
  out.shade = 1;
  out.roughness = roughness;
  out.nx = gx;
  out.ny = gy;
  out.nz = gz;
  if (texture === 'planks' && gy > 0.5) {
    const board = Math.floor(z / PLANK_WIDTH);
    const across = z - board * PLANK_WIDTH;
    const gap = step(0, PLANK_GAP, Math.min(across, PLANK_WIDTH - across));
    const wet = step(0.3, 0.6, turbulence(x * 0.55 + 3.1, 8, z * 0.42, 4));
    const grain = turbulence(x * 1.4 + board * 3.3, 1, z * 40, 3);
    out.shade = gap * (0.55 + 0.5 * lattice(board, 11, 2)) * (0.6 + 0.8 * grain) * mix(1.15, 0.55, wet);
    out.roughness = mix(0.36, 0.12, wet);
    // Far boards are finer than a pixel: their relief goes over into roughness.
    const relief = mix(0.8, 0.35, wet) / (1 + distance * 0.3);
    bend(out, (px, pz) => plankHeight(px, pz), x, z, 0.004, relief);
    out.roughness = Math.min(0.45, out.roughness + 0.009 * distance);
  } else if (texture === 'waves' && gy > 0.5) {
    const calm = 1 / (1 + distance * 0.09);
    bend(out, (px, pz) => waveHeight(px, pz), x, z, 0.02, calm);
    out.roughness = 0.08 + 0.14 * (1 - calm);
  } else if (texture === 'wood') {
    const grain = turbulence(x * 24, y * 1.6, z * 24, 3);
    out.shade = 0.5 + grain;
    out.roughness = roughness * (0.7 + 0.6 * grain);
  } else if (texture === 'hull') {
    const strake = Math.abs(((((y * 4.2) % 1) + 1) % 1) - 0.5);
    out.shade = 0.75 + 0.25 * step(0.02, 0.07, strake) - 0.25 * turbulence(x * 3, y * 6, z * 3, 3);
  }
}

function bend(
  out: Detail,
  height: (x: number, z: number) => number,
  x: number,
  z: number,
  reach: number,
  share: number,
): void {
  const slopeX = ((height(x + reach, z) - height(x - reach, z)) / (2 * reach)) * share;
  const slopeZ = ((height(x, z + reach) - height(x, z - reach)) / (2 * reach)) * share;
  const length = Math.sqrt(slopeX * slopeX + 1 + slopeZ * slopeZ);
  out.nx = -slopeX / length;
  out.ny = 1 / length;
  out.nz = -slopeZ / length;
}
