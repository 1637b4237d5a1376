import sharp from 'sharp';
import { decodeSrgb, encodeSrgb } from '../../src/core/color/srgb';
import { serialRunner } from '../../src/core/jobs';
import { kernelsOn } from '../../src/core/kernels';
import { NO_MARKS } from '../../src/core/optics/pupil-mask';
import type { LogPolarPsf } from '../../src/core/optics/log-polar-psf';
import { spikeImages } from '../../src/core/stations/veil/parts/spikes';
import type { Estimate } from '../../src/core/measure/light-fit';
import { measureLight, type LightMeasurement } from '../../src/core/measure/measure';
import type { MeasuredPicture } from '../../src/core/measure/polar';

/*
 * Photographs of a lamp by code of their own: a disc about which a glow falls off by the formula, noise, sRGB in eight bits, JPEG 90. What went in must come out.
 */
export const [WIDTH, HEIGHT] = [400, 300];
export const PLACE = { x: WIDTH / 2 + 0.3, y: HEIGHT / 2 - 0.4 };

export function seeded(seed: number): () => number {
  let state = seed;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

export interface Lamp {
  flux?: number;
  disc?: number;
  bloom: { falloff: number; core: number; amount: number };
  ring?: { radius: number; deviation: number; light: number };
  /** The image of a point through an opening, and its share of the lamp's light. */
  spikes?: { image: (x: number, y: number) => number; amount: number };
  /** Light of the heaps that lie behind. */
  texture?: number;
  seed?: number;
}

export function lampLight({
  flux = 4000,
  disc = 4,
  bloom,
  ring,
  spikes,
  texture = 0,
  seed = 1,
}: Lamp): Float32Array {
  const { falloff, core, amount } = bloom;
  const random = seeded(seed);
  const points: [number, number][] = [];
  for (let y = -disc; y <= disc; y += 0.8)
    for (let x = -disc; x <= disc; x += 0.8) if (x * x + y * y < disc * disc) points.push([x, y]);
  let whole = 0;
  for (let r = 0.005; r < 2000; r += 0.01)
    whole += (2 * Math.PI * r * 0.01) / (core ** 2 + r ** 2) ** (falloff / 2);
  const heaps = Array.from({ length: 24 }, () => ({
    x: random() * WIDTH,
    y: random() * HEIGHT,
    size: 10 + 60 * random(),
    light: Math.max(0, (random() - 0.4) * texture),
  }));
  return Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const [dx, dy] = [(i % WIDTH) + 0.5 - PLACE.x, Math.floor(i / WIDTH) + 0.5 - PLACE.y];
    const distance = Math.hypot(dx, dy);
    let glow = 0;
    let rays = 0;
    for (const [px, py] of points) {
      glow += (core ** 2 + (dx - px) ** 2 + (dy - py) ** 2) ** (-falloff / 2);
      if (spikes) rays += spikes.image(dx - px, dy - py);
    }
    const own = distance < disc ? flux / (Math.PI * disc ** 2) : 0;
    const halo = ring ? ring.light * Math.exp(-0.5 * ((distance - ring.radius) / ring.deviation) ** 2) : 0;
    const behind = heaps.reduce(
      (sum, { x, y, size, light }) =>
        sum +
        (light && light * Math.exp(-((dx + PLACE.x - x) ** 2 + (dy + PLACE.y - y) ** 2) / (2 * size ** 2))),
      0.01,
    );
    const scattered = (flux * (amount * glow)) / whole / points.length;
    const bent = spikes ? (flux * spikes.amount * rays) / points.length : 0;
    return own + scattered + bent + halo + behind;
  });
}

/** What a camera makes of it: noise, white at 1, eight bits, JPEG. */
export async function photograph(light: Float32Array, gains = [1, 1, 1], seed = 7): Promise<MeasuredPicture> {
  const random = seeded(seed);
  const raw = new Uint8Array(3 * light.length);
  for (let i = 0; i < raw.length; i++) {
    const value = light[Math.floor(i / 3)]! * gains[i % 3]!;
    const noisy = value * (1 + 0.004 * (random() + random() - 1)) + 0.0004 * (random() + random() - 1);
    raw[i] = Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, noisy))));
  }
  const size = { width: WIDTH, height: HEIGHT };
  const file = await sharp(raw, { raw: { ...size, channels: 3 } })
    .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
    .toBuffer();
  const bytes = await sharp(file).raw().toBuffer();
  const plane = (c: number): Float32Array =>
    Float32Array.from({ length: light.length }, (_, i) => decodeSrgb(bytes[3 * i + c]! / 255));
  return { rgb: [plane(0), plane(1), plane(2)], ...size, clip: decodeSrgb(252.5 / 255) };
}

const kernel = kernelsOn(serialRunner).diffraction;
const images = new Map<number, Promise<readonly LogPolarPsf[]>>();
export const options = {
  spikeUnit: 0.3,
  pupilImages: (blades: number) => {
    const known =
      images.get(blades) ??
      spikeImages(
        { shape: { blades, rotation: 0, curvature: 0 }, marks: NO_MARKS, softness: 0, saturation: 0 },
        { kernel, size: 256 },
      );
    images.set(blades, known);
    return known;
  },
};
export const measure = async (picture: MeasuredPicture, at = PLACE): Promise<LightMeasurement> =>
  (await measureLight(picture, at, 130, options))!;
export const holds = (estimate: Estimate | null, truth: number): boolean =>
  estimate !== null && estimate.low <= truth && truth <= estimate.high;
