import { luminance } from '../color/primaries';
import type { Rgb } from '../image/rgb';
import type { Size } from '../image/rectangle';
import { displayBytes } from '../kernels/display';
import { ContentCache } from '../light/cache';
import { scaledFrame, type Plate } from '../light/plate';
import type { StationQuery } from '../light/query';
import type { Feed, StationContext } from '../light/station';
import { setSetting, type Look } from '../look/look';
import { filmView } from '../stations/film/run';
import { evaluate, type Evaluation } from './evaluate';

/** What takes the detail out of lamps. */
export type CoreCause = 'amount' | 'exposure' | 'view';

/** Lamps that the render has detail in and the final has not, and lamps that clamping took out of the feed. */
export interface LampCores {
  flat: { cause: CoreCause; count: number; x: number; y: number } | undefined;
  /** Share of the light that would feed and does not because of it. */
  clamped: number;
}

/** A render's light over this is a lamp, and has detail if the bright parts of it are so many times its dim ones. */
const [LAMP, DETAIL] = [1, 2];
/** Lamps of fewer pixels show none, and of more of them than these the largest are looked at. */
const [LEAST_PIXELS, MOST_LAMPS] = [12, 64];
/** A core is flat white if so much of it shows no darker than this. */
const [FLAT, WHITE] = [0.9, 252];
/** Pixels across at which it is looked for. */
const WIDTH = 480;
const CACHE_BYTES = 256 * 1024 ** 2;

/** Finds them at a share of the plate's full size. */
export async function lampCores(look: Look, bench: StationContext, scale: number): Promise<LampCores> {
  const context = { ...bench, totalOnly: true, cache: new ContentCache(CACHE_BYTES) };
  const run = (one: Look, behind?: 'plate' | 'veil'): Promise<Evaluation> =>
    evaluate(one, context, { scale, behind });
  const unclamped = withoutClamp(look);
  const plain = { ...unclamped, plate: { ...look.plate, exposure: 0, contrast: 1 } };
  const { light } = await run(plain, 'plate');
  const lamps = lampsOf(light.total, light).filter((pixels) => hasDetail(light.total, pixels));
  const flat = await flatLamps(lamps, look, context, scale);
  let found: LampCores['flat'];
  if (flat.length > 0) {
    const causes: [CoreCause, Look][] = [
      ['amount', withoutScatter(look)],
      ['exposure', { ...setSetting(look, 'film.exposure', 0), plate: { ...look.plate, exposure: 0 } }],
      ['view', setSetting(look, 'film.view', 'filmic')],
    ];
    for (const [cause, other] of causes) {
      const still = await flatLamps(flat, other, context, scale);
      const mended = flat.filter((pixels) => !still.includes(pixels));
      if (mended.length === 0) continue;
      found = { cause, count: mended.length, ...placeOf(mended[0]!, light, scale) };
      break;
    }
  }
  if (unclamped === look || !look.veil.on) return { flat: found, clamped: 0 };
  const [held, free] = [fedLight(await run(look, 'veil')), fedLight(await run(unclamped, 'veil'))];
  return { flat: found, clamped: free > 0 ? Math.max(0, 1 - held / free) : 0 };
}

/** The look with lamps as the render has them. The same one if nothing is clamped. */
function withoutClamp(look: Look): Look {
  if (look.elements.every(({ clamp }) => clamp === 0)) return look;
  return { ...look, elements: look.elements.map((element) => ({ ...element, clamp: 0 })) };
}

const withoutScatter = (look: Look): Look => ({
  ...look,
  veil: { ...look.veil, on: false },
  ghosts: { ...look.ghosts, on: false },
});

/** All light that feeds the veil. */
function fedLight({ feeds }: Evaluation): number {
  const feed: Feed | undefined = feeds['veil'];
  if (!feed) return 0;
  const [r, g, b] = feed.rgb;
  let sum = 0;
  for (let i = 0; i < r.length; i++) sum += luminance(r[i]!, g[i]!, b[i]!);
  return sum;
}

/** The lamps whose cores the final shows flat and white. */
async function flatLamps(
  lamps: readonly (readonly number[])[],
  look: Look,
  context: StationContext,
  scale: number,
): Promise<(readonly number[])[]> {
  if (lamps.length === 0) return [];
  const { light } = await evaluate(look, context, { scale });
  const bytes = displayBytes(filmView(look, context), light.total, 1);
  return lamps.filter((pixels) => {
    const white = pixels.filter(
      (i) => Math.min(bytes[4 * i]!, bytes[4 * i + 1]!, bytes[4 * i + 2]!) >= WHITE,
    );
    return white.length >= FLAT * pixels.length;
  });
}

function hasDetail([r, g, b]: Rgb, pixels: readonly number[]): boolean {
  const values = pixels.map((i) => luminance(r[i]!, g[i]!, b[i]!)).sort((one, other) => one - other);
  const at = (share: number): number => values[Math.floor(share * (values.length - 1))]!;
  return at(0.9) >= DETAIL * at(0.1);
}

/** The pixels of each lamp, the largest first: what touches by sides or corners is one. */
function lampsOf([r, g, b]: Rgb, { width, height }: Size): number[][] {
  const left = new Uint8Array(width * height);
  for (let i = 0; i < left.length; i++) left[i] = luminance(r[i]!, g[i]!, b[i]!) > LAMP ? 1 : 0;
  const lamps: number[][] = [];
  for (let start = 0; start < left.length; start++) {
    if (!left[start]) continue;
    const pixels = [start];
    left[start] = 0;
    for (const i of pixels) {
      const [x, y] = [i % width, Math.floor(i / width)];
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const other = v * width + u;
          if (!left[other]) continue;
          left[other] = 0;
          pixels.push(other);
        }
    }
    if (pixels.length >= LEAST_PIXELS) lamps.push(pixels);
  }
  return lamps.sort((a, b) => b.length - a.length).slice(0, MOST_LAMPS);
}

/** The middle of a lamp, in pixels of the full-size picture. */
function placeOf(pixels: readonly number[], { width }: Size, scale: number): { x: number; y: number } {
  const mean = (value: (i: number) => number): number =>
    Math.floor(pixels.reduce((sum, i) => sum + value(i) + 0.5, 0) / pixels.length / scale);
  return { x: mean((i) => i % width), y: mean((i) => Math.floor(i / width)) };
}

const scaleFor = (plate: Plate): number => Math.min(1, WIDTH / Math.max(1, scaledFrame(plate, 1).width));

/** Lamps that a plate's final shows flat and white, and why. */
export const lampCoreSurvey: StationQuery<object, LampCores> = (look, _input, context) => {
  const bench = context.bench();
  return lampCores(look, bench, scaleFor(bench.plate));
};
