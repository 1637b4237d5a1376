import type { Light, Rgb } from '../../bench/light';
import { maskAt } from '../../bench/mask';
import { scaledFrame } from '../../bench/plate';
import { cutPlane } from '../../bench/region';
import type { EnergyAccount, Feed, Station, StationContext } from '../../bench/station';
import { LUMINANCE } from '../../color/primaries';
import { BEAUTY } from '../../image/passes';
import type { Spectrum } from '../../kernels/convolution';
import { subProgress } from '../../kernels/runtime/parallel';
import type { Look } from '../../look/look';
import { maskKey, preparedPass } from '../plate/run';
import { blendOf, blendPlanes, blendSums, type Blend } from './blend';
import { selectFeed, type FedLight } from './feed';
import { veilParts, type VeilPart } from './parts';

/** Of larger pictures, in pixels, feeds are not kept transformed: each takes 48 bytes a pixel. */
const MOST_TRANSFORMED = 4_000_000;

/** By so much of its height the picture's edge is drawn on. */
const DRAWN_ON = 0.2;

/**
 * Veil: the light that the lens scatters around bright sources. The fed part of the picture is convolved with one
 * point-spread function and put back: `out = in - w feed + w (feed * K)`, or without the middle term in mode add. Parts
 * that share a feed are convolved at once, unless each is wanted by itself.
 */
export const veil: Station = {
  id: 'veil',
  label: 'Veil',
  on: (look) => look.veil.on,
  // A feed from a single pass is prepared like the plate; spikes are an image of the pupil.
  reads: (look) => [
    look.veil,
    look.plate,
    look.masks,
    look.veil.spikes.on && look.veil.spikes.amount > 0 && look.pupil,
    needsCamera(look) && look.camera,
  ],
  async run(light, look, context) {
    const { plate, cache, kernels } = context;
    const frame = scaledFrame(plate, light.scale);
    const all = veilParts(look, {
      ...{ size: { width: plate.whole.width * light.scale, height: plate.whole.height * light.scale } },
      ...{ frame, cache, parallel: kernels.parallel, signal: context.signal },
      draft: context.draft ?? false,
      image: context.image,
    });
    const parts = within(all.filter(({ amount }) => amount > 0));
    const common = await takeFeed(light, look, look.veil.feed, 'veil.feed', context);
    const feeds: Record<string, Feed> = { veil: common.feed };
    const groups = new Map<string, { fed: TakenFeed; parts: VeilPart[] }>();
    for (const part of parts) {
      const fed = part.ownFeed
        ? await takeFeed(light, look, part.feed, `${part.name}.feed`, context)
        : common;
      if (part.ownFeed) feeds[part.name] = fed.feed;
      // What is seen of dirt goes by its place, so that it cannot be convolved with others.
      const alone = context.separate || part.seen !== undefined;
      const key = alone ? part.name : fed.key;
      const group = groups.get(key) ?? { fed, parts: [] };
      group.parts.push(part);
      groups.set(key, group);
    }
    if (groups.size === 0) return { light, feeds };
    const taken = look.veil.mode === 'keep' ? 1 : 0;
    // A window of a picture ends within it.
    const isWhole = plate.whole.width === plate.picture.width && plate.whole.height === plate.picture.height;
    const margin = isWhole && look.veil.edge === 'repeat' ? Math.ceil(DRAWN_ON * frame.height) : 0;
    let result = light;
    let [moved, arrived] = [0, 0];
    for (const [index, { fed, parts: members }] of [...groups.values()].entries()) {
      const share = subProgress(context, index / groups.size, (index + 1) / groups.size);
      const blend = blendOf(members);
      const { feed } = fed;
      const spread = await scatter(fed, light, blend, margin, { ...context, ...share });
      const seen = await members[0]!.seen?.(light);
      const made = laidOn(result, spread, { source: feed.rgb, blend, taken, seen });
      const name = members.map((part) => part.name).join('+');
      // What the planes add up to is known already, which spares a walk over them.
      const separations = [...result.separations, { name, rgb: made.rgb }];
      result = { ...result, separations, total: made.total };
      moved += blend.amount * feed.light;
      arrived += blend.amount * made.arrived;
    }
    return { light: result, feeds, account: account(light.total, moved, arrived, look) };

    /** A lens cannot scatter more light than there is: parts that ask for more are held to it together. */
    function within(asked: VeilPart[]): VeilPart[] {
      const sum = asked.reduce((total, { amount }) => total + amount, 0);
      if (look.veil.mode === 'add' || sum <= 1) return asked;
      return asked.map((part) => ({ ...part, amount: part.amount / sum }));
    }
  },
};

interface Laying {
  /** The light that was fed, of which `taken`, 0 or 1, leaves its place. */
  source: Rgb;
  blend: Blend;
  taken: number;
  /** Per pixel what of the spread light is seen there. */
  seen: Float32Array | undefined;
}

/** A separation from what a blend spread, the light with it on, and how much of a light of 1 arrived. */
function laidOn(
  { total }: Light,
  spread: Rgb,
  { source, blend, taken, seen }: Laying,
): { rgb: Rgb; total: Rgb; arrived: number } {
  const { amount, gains } = blend;
  const held = blendSums(blend);
  let arrived = 0;
  const both = spread.map((plane, c) => {
    const out = { rgb: new Float32Array(plane.length), sum: new Float32Array(plane.length) };
    const all = layPlane(plane, source[c]!, total[c]!, seen, amount * gains[c]!, amount * taken, out);
    if (held[c]! > 0) arrived += (LUMINANCE[c]! * all) / held[c]!;
    return out;
  });
  return {
    rgb: both.map(({ rgb }) => rgb) as unknown as Rgb,
    total: both.map(({ sum }) => sum) as unknown as Rgb,
    arrived,
  };
}

/** One plane of it; gives what was spread in all. A loop of its own, since it goes over every pixel. */
function layPlane(
  spread: Float32Array,
  fed: Float32Array,
  before: Float32Array,
  seen: Float32Array | undefined,
  gain: number,
  taken: number,
  { rgb, sum }: { rgb: Float32Array; sum: Float32Array },
): number {
  let all = 0;
  for (let i = 0; i < spread.length; i++) all += spread[i]!;
  if (seen) for (let i = 0; i < spread.length; i++) rgb[i] = gain * spread[i]! * seen[i]! - taken * fed[i]!;
  else for (let i = 0; i < spread.length; i++) rgb[i] = gain * spread[i]! - taken * fed[i]!;
  for (let i = 0; i < spread.length; i++) sum[i] = before[i]! + rgb[i]!;
  return all;
}

/** Spikes go by f-stop and sensor, the glare of the eye by the angle of view. */
function needsCamera({ veil: { bloom, spikes } }: Look): boolean {
  return (spikes.on && spikes.amount > 0) || (bloom.on && bloom.amount > 0 && bloom.law === 'eye');
}

interface TakenFeed {
  feed: FedLight;
  key: string;
}

async function takeFeed(
  light: Light,
  look: Look,
  settings: VeilPart['feed'],
  path: string,
  context: StationContext,
): Promise<TakenFeed> {
  const { threshold, knee, measure, pass, mask: name } = settings;
  // The plate's preparation, which a single pass is under as well, is part of the light's own key.
  const key = `${light.key} feed ${JSON.stringify([threshold, knee, measure, pass])} ${maskKey(look, name)}`;
  const { plate, cache } = context;
  const feed = await cache.take(
    key,
    async () => {
      const mask = await maskAt(look, name, `${path}.mask`, plate, light.scale, cache);
      const source =
        pass === BEAUTY
          ? light.total
          : (await preparedPass(context, pass, `${path}.pass`, look, light.scale)).total;
      return selectFeed(source, light, settings, mask);
    },
    (made) => made.weight.byteLength * 4,
  );
  return { feed, key };
}

/** The feed convolved with a blend, before its amount and common tint: what a drag of those two does not change. */
async function scatter(
  { feed, key }: TakenFeed,
  { width, height }: Light,
  blend: Blend,
  margin: number,
  context: StationContext,
): Promise<Rgb> {
  const { cache, kernels } = context;
  const { convolution } = kernels;
  const beyond = { width: width + 2 * margin, height: height + 2 * margin };
  const fedKey = `${key} +${margin}`;
  return cache.take(
    `${fedKey} scattered ${blend.key}`,
    async () => {
      const spectra = await cache.take(
        `spectra ${beyond.width}x${beyond.height} ${blend.key}`,
        () => spectraOf(blend, beyond, { ...context, ...subProgress(context, 0, 0.4) }),
        (made) => made.reduce((sum, { bytes }) => sum + bytes, 0),
      );
      const fed = await ready();
      const planes = await convolution.convolve(fed, spectra, subProgress(context, 0.5, 1));
      const inside = { x: margin, y: margin, width, height };
      return planes.map((plane) =>
        margin ? cutPlane(plane, beyond.width, inside) : plane,
      ) as unknown as Rgb;
    },
    (planes) => planes.length * planes[0].byteLength,
  );

  /** The fed planes, which are kept transformed once they meet a second kernel. */
  async function ready(): Promise<readonly (Float32Array | Spectrum)[]> {
    const drawn = (): Float32Array[] => feed.rgb.map((plane) => drawnOn(plane, width, height, margin));
    const met = await cache.take(
      `${fedKey} met`,
      () => ({ kernels: 0 }),
      () => 64,
    );
    if (met.kernels++ === 0 || beyond.width * beyond.height > MOST_TRANSFORMED) return drawn();
    return cache.take(
      `${fedKey} transformed`,
      () => convolution.transform(beyond.width, beyond.height, drawn(), subProgress(context, 0.4, 0.5)),
      (made) => made.reduce((sum, { bytes }) => sum + bytes, 0),
    );
  }
}

/** A plane with its edge drawn on by so many pixels to all sides. */
function drawnOn(plane: Float32Array, width: number, height: number, by: number): Float32Array {
  if (by === 0) return plane;
  const across = width + 2 * by;
  const out = new Float32Array(across * (height + 2 * by));
  for (let y = 0; y < height + 2 * by; y++) {
    const from = Math.min(height - 1, Math.max(0, y - by)) * width;
    const at = y * across;
    out.fill(plane[from]!, at, at + by);
    out.set(plane.subarray(from, from + width), at + by);
    out.fill(plane[from + width - 1]!, at + by + width, at + across);
  }
  return out;
}

async function spectraOf(
  blend: Blend,
  { width, height }: { width: number; height: number },
  { cache, kernels, ...options }: StationContext,
): Promise<Spectrum[]> {
  const made = [];
  for (const { part } of blend.members)
    made.push(
      await cache.take(
        `kernel ${width}x${height} ${part.name} ${part.key}`,
        () => part.kernels(width, height),
        (kernel) => kernel.reduce((sum, { bytes }) => sum + bytes, 0),
      ),
    );
  const all = blendPlanes(blend, made);
  const spectra: Spectrum[] = [];
  for (const [index, planes] of all.entries()) {
    const share = subProgress(options, index / all.length, (index + 1) / all.length);
    spectra.push(await kernels.convolution.prepare(width, height, planes, share));
  }
  return spectra;
}

function luminanceSum(rgb: Rgb): number {
  let sum = 0;
  rgb.forEach((plane, c) => {
    let part = 0;
    for (let i = 0; i < plane.length; i++) part += plane[i]!;
    sum += LUMINANCE[c]! * part;
  });
  return sum;
}

/** Where the light went: `moved` is what was taken, as a share of all, `arrived` what came down in the frame. */
function account(input: Rgb, moved: number, arrived: number, look: Look): EnergyAccount {
  const all = luminanceSum(input);
  if (!(all > 0)) return { moved: 0, left: 0, gain: 1 };
  const left = Math.max(0, moved - arrived / all);
  return { moved, left, gain: look.veil.mode === 'keep' ? 1 - left : 1 + arrived / all };
}
