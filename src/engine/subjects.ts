import type { Evaluation } from '../core/bench/evaluate';
import { type Light } from '../core/light/light';
import { DISPLAY_P3, fromRec709 } from '../core/color/chromaticities';
import { mapRgb, throughMatrix, toRgb, blackRgb, type Rgb } from '../core/image/rgb';
import { hasDepth } from '../core/light/distances';
import { maskAt } from '../core/light/mask';
import { channelPlane, passLight, scaledSize, stackOf, type Plate } from '../core/light/plate';
import { displayBytes } from '../core/kernels/display';
import { falseColourBytes } from '../core/color/false-colour';
import { markOutOfRange } from '../core/color/range-warning';
import { luminance } from '../core/color/primaries';
import { applyView, viewOf, type View } from '../core/color/view';
import { SettingError } from '../core/errors';
import type { CubeLut } from '../core/color/lut';
import type { GreyImage } from '../core/image/grey-image';
import { resampleArea } from '../core/image/resample';
import { holdsLight, type Pass } from '../core/image/passes';
import { IN_FOCUS_RADIUS } from '../core/kernels/scatter';
import { acceptableBlur } from '../core/optics/camera';
import { radiusPlane } from '../core/stations/focus/radius';
import { plateUnderLook } from '../core/stations/plate/primaries';
import { plateLight, type CleanReport, type PlateContext } from '../core/stations/plate/run';
import { defaultLook, parseLook, type Look } from '../core/look/look';
import { elementOf } from '../core/settings/element';
import type { RgbaImage } from '../core/image/rgba';
import type { Shown, ShowRequest, Subject } from './messages';

/** A subject as planes, for figures, and as bytes for the screen. */
export interface Painted {
  width: number;
  height: number;
  rgb: Rgb;
  pixels: Uint8ClampedArray<ArrayBuffer>;
  colourSpace?: Shown['colourSpace'];
  report: Shown['report'];
}

/** What is painted, under the view of its look. */
export type PaintRequest = ShowRequest & { view: View };

const grey = (plane: Float32Array): Rgb => [plane, plane, plane];
const TO_P3 = fromRec709(DISPLAY_P3)!;
/** Amber of the interface, as display bytes: what feeds, is masked or was touched is painted with it. */
const AMBER = [232, 163, 61] as const;
const RED = [224, 96, 76] as const;

/** Planes of light under the film's view and the view's exposure, or in false colour. */
function toDisplayRgba(
  rgb: Rgb,
  { view, viewExposure, falseColour, gains }: PaintRequest,
): Uint8ClampedArray<ArrayBuffer> {
  const gain = 2 ** viewExposure;
  const seen = gains ? mapRgb(rgb, (plane, c) => plane.map((value) => value * gains[c]!)) : rgb;
  return falseColour ? falseColourBytes(seen, gain) : displayBytes(view, seen, gain);
}

/** Values 0 to 1 as they are. */
function plainBytes(rgb: Rgb): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(rgb[0].length * 4);
  for (let i = 0, at = 0; i < rgb[0].length; i++, at += 4) {
    for (let c = 0; c < 3; c++) out[at + c] = rgb[c]![i]! * 255;
    out[at + 3] = 255;
  }
  return out;
}

/** The picture dimmed and without colour, with a colour laid over it by weight. */
function overlay(
  rgb: Rgb,
  request: PaintRequest,
  weight: (i: number) => number,
  colour: (i: number) => readonly number[] = () => AMBER,
): Uint8ClampedArray<ArrayBuffer> {
  const brightness = rgb[0].map((value, i) => luminance(value, rgb[1][i]!, rgb[2][i]!));
  const pixels = displayBytes(request.view, grey(brightness), 2 ** request.viewExposure);
  for (let i = 0, at = 0; i < brightness.length; i++, at += 4) {
    const w = weight(i);
    const over = colour(i);
    for (let c = 0; c < 3; c++) pixels[at + c] = 0.45 * pixels[at + c]! * (1 - w) + over[c]! * w;
  }
  return pixels;
}

/** Paints what needs the whole bench: the final, the light behind a station, the feed, one effect alone. */
export function paintEvaluated(result: Evaluation, request: PaintRequest): Painted {
  const { subject } = request;
  const { light } = result;
  const { width, height } = light;
  if (subject.kind === 'feed') {
    const weight = result.feeds[subject.part ?? 'veil']?.weight;
    const pixels = overlay(light.total, request, (i) => weight?.[i] ?? 0);
    return { width, height, rgb: light.total, pixels, report: undefined };
  }
  const rgb = subject.kind === 'separation' ? separation(light, subject.name) : light.total;
  // Of the views, the one that changes nothing but the encoding is right in other primaries as it is.
  const isWide = request.displayP3 && request.view.name === 'srgb' && !request.falseColour;
  const pixels = toDisplayRgba(isWide ? throughMatrix(rgb, TO_P3) : rgb, request);
  const marked = request.rangeWarning && !request.falseColour && subject.kind !== 'separation';
  const report = marked ? { outOfRange: markOutOfRange(pixels, rgb) } : undefined;
  return { width, height, rgb, pixels, report, ...(isWide && { colourSpace: 'display-p3' }) };
}

/** One light less another, about grey: half a display's range is as much as `gain` stops under 1. */
export function paintDifference(light: Light, other: Rgb, gain: number): Painted {
  const { width, height, total } = light;
  const apart = mapRgb(total, (plane, c) => plane.map((value, i) => value - other[c][i]!));
  const pixels = new Uint8ClampedArray(width * height * 4).fill(255);
  for (const [c, plane] of apart.entries())
    for (let i = 0; i < plane.length; i++) pixels[4 * i + c] = 127.5 * (1 + plane[i]! * 2 ** gain);
  return { width, height, rgb: apart, pixels, report: { difference: differenceOf(total, other) } };
}

function separation(light: Light, name: string): Rgb {
  const found = light.separations.find((one) => one.name === name);
  return found ? found.rgb : grey(new Float32Array(light.width * light.height));
}

/** Subjects that the plate alone answers. */
export type PlateSubject = Extract<Subject, { kind: 'pass' | 'rebuild' | 'cleaned' | 'mask' | 'sharpness' }>;

export function isPlateSubject(subject: Subject): subject is PlateSubject {
  return ['pass', 'rebuild', 'cleaned', 'mask', 'sharpness'].includes(subject.kind);
}

export async function paintPlateSubject(
  subject: PlateSubject,
  request: PaintRequest,
  context: PlateContext,
): Promise<Painted> {
  const { look, scale } = request;
  const plate = plateUnderLook(context.plate, look);
  const size = scaledSize(plate, scale);
  switch (subject.kind) {
    case 'pass': {
      const own = stackOf(plate)[elementIndex(plate, subject.element)]!;
      return { ...scaledSize(own, scale), ...paintPass(subject, request, own) };
    }
    case 'rebuild': {
      const index = elementIndex(plate, subject.element);
      const own = stackOf(context.plate)[index]!;
      const alone = { ...request, look: { ...look, elements: [elementOf(look, index)] } };
      return {
        ...scaledSize(own, scale),
        ...(await paintRebuild(subject.part, alone, { ...context, plate: own })),
      };
    }
    case 'cleaned': {
      const { light, cleaned } = await plateLight(context, look, scale);
      return { ...size, ...paintCleaned(light.total, cleaned, request, plate) };
    }
    case 'sharpness': {
      const { light } = await plateLight(context, look, scale);
      return { ...size, ...(await paintSharpness(light.total, request, context)) };
    }
    case 'mask': {
      const mask = await maskAt(look, subject.mask, 'masks', plate, scale, context.cache);
      const { light } = await plateLight(context, look, scale);
      const pixels = overlay(light.total, request, (i) => (mask?.[i] ?? 0) * 0.75);
      return { ...size, rgb: light.total, pixels, report: undefined };
    }
  }
}

/** The element that is meant, or that whose frame the plate has. */
function elementIndex(plate: Plate, element: number | undefined): number {
  const isThere = element !== undefined && element < stackOf(plate).length;
  return isThere ? element : (plate.stackIndex ?? 0);
}

type Paint = Pick<Painted, 'rgb' | 'pixels' | 'report'>;

function paintPass(
  { pass: name, channel: only }: Extract<Subject, { kind: 'pass' }>,
  request: PaintRequest,
  plate: Plate,
): Paint {
  const pass = plate.passes.find((one) => one.name === name);
  if (!pass) throw new SettingError(`${plate.name} has no pass ${name}`, { todo: 'Choose another' });
  const { scale } = request;
  const member = only === undefined ? undefined : pass.channels.find(({ channel }) => channel.name === only);
  if (member) {
    const plane = channelPlane(plate, member.channel, scale);
    return holdsLight(pass) && member.label !== 'A'
      ? { rgb: grey(plane), pixels: toDisplayRgba(grey(plane), request), report: undefined }
      : ranged(plane, pass.kind === 'depth');
  }
  if (holdsLight(pass)) {
    const { rgb } = passLight(plate, pass, scale);
    return { rgb, pixels: toDisplayRgba(rgb, request), report: undefined };
  }
  if (pass.kind === 'normal' && pass.channels.length >= 3) return paintNormal(pass, plate, scale);
  if (pass.kind === 'matte' && pass.channels.length > 1) return paintMattes(pass, plate, scale);
  return ranged(channelPlane(plate, pass.channels[0]!.channel, scale), pass.kind === 'depth');
}

/** Beyond this a distance stands for none at all. */
const NO_DISTANCE = 1e9;

/** Depths that differ by more than this factor are shown by their logarithm. */
const WIDE = 20;

/** A plane as grey over its own range; of a depth, near is bright. */
function ranged(plane: Float32Array, depth: boolean): Paint {
  let [low, high] = [Infinity, -Infinity];
  for (const value of plane) {
    if (depth && Math.abs(value) >= NO_DISTANCE) continue;
    if (value < low) low = value;
    if (value > high) high = value;
  }
  if (!(high >= low)) [low, high] = [0, 1];
  const isShare = !depth && low >= 0 && high <= 1;
  const [from, to] = isShare ? [0, 1] : [low, high];
  const wide = depth && from > 0 && to > WIDE * from;
  const place = wide ? Math.log : (value: number) => value;
  const [start, span] = [place(from), place(to) - place(from) || 1];
  const shown = plane.map((value) => {
    const t = Math.min(1, Math.max(0, (place(Math.max(from, value)) - start) / span));
    return depth ? 1 - t : t;
  });
  return { rgb: grey(plane), pixels: plainBytes(grey(shown)), report: { range: [low, high] } };
}

function paintNormal(pass: Pass, plate: Plate, scale: number): Paint {
  const planes = toRgb(pass.channels.slice(0, 3).map(({ channel }) => channelPlane(plate, channel, scale)));
  const shown = mapRgb(planes, (plane) => plane.map((value) => 0.5 + value / 2));
  return { rgb: planes, pixels: plainBytes(shown), report: undefined };
}

/** Several mattes at once, each in a grey or a hue of its own, light adding up. */
function paintMattes(pass: Pass, plate: Plate, scale: number): Paint {
  const { width, height } = scaledSize(plate, scale);
  const rgb = blackRgb(width * height);
  for (const [index, { channel }] of pass.channels.entries()) {
    const plane = channelPlane(plate, channel, scale);
    const angle = (index / pass.channels.length) * 2 * Math.PI;
    for (let c = 0; c < 3; c++) {
      const part = 0.55 + 0.4 * Math.cos(angle - (c * 2 * Math.PI) / 3);
      for (let i = 0; i < plane.length; i++) rgb[c]![i]! += part * Math.min(1, Math.max(0, plane[i]!));
    }
  }
  return { rgb, pixels: plainBytes(rgb), report: undefined };
}

/** Beauty, sum of the passes, or how far the two are apart; the figures are those of the full-size picture. */
async function paintRebuild(
  part: 'beauty' | 'sum' | 'difference',
  request: PaintRequest,
  context: PlateContext,
): Promise<Paint> {
  const { look, scale } = request;
  const pair = async (at: number): Promise<{ beauty: Rgb; sum: Rgb }> => {
    const [beauty, sum] = [bare(look, 'beauty'), bare(look, 'sum')];
    return {
      beauty: (await plateLight(context, beauty, at)).light.total,
      sum: (await plateLight(context, sum, at)).light.total,
    };
  };
  const key = `${context.plate.id} rebuild ${JSON.stringify(bare(look, 'sum').elements)}`;
  const difference = await context.cache.getOrReplace('rebuild', key, async () => {
    const full = await pair(1);
    return differenceOf(full.beauty, full.sum);
  });
  const { beauty, sum } = await pair(scale);
  const rgb =
    part === 'beauty'
      ? beauty
      : part === 'sum'
        ? sum
        : mapRgb(beauty, (plane, c) => plane.map((value, i) => Math.abs(value - sum[c as 0 | 1 | 2][i]!)));
  return { rgb, pixels: toDisplayRgba(rgb, request), report: { difference } };
}

/** The look's first element with nothing done to it but the settings of its passes. */
function bare(look: Look, source: 'beauty' | 'sum'): Look {
  const { passes, order, primaries } = elementOf(look, 0);
  const { plate } = defaultLook();
  return parseLook({ ...look, plate, elements: [{ passes, order, primaries, source }] });
}

function differenceOf(a: Rgb, b: Rgb): { max: number; mean: number } {
  let [max, sum] = [0, 0];
  for (let c = 0; c < 3; c++) {
    const [x, y] = [a[c]!, b[c]!];
    for (let i = 0; i < x.length; i++) {
      const difference = Math.abs(x[i]! - y[i]!);
      if (difference > max) max = difference;
      sum += difference;
    }
  }
  return { max, mean: sum / (3 * a[0].length) };
}

/** Touched pixels over the picture: amber where despiked, red where clamped. */
function paintCleaned(
  rgb: Rgb,
  cleaned: CleanReport | undefined,
  request: PaintRequest,
  plate: Plate,
): Paint {
  const { width, height } = scaledSize(plate, request.scale);
  const marks = new Uint8Array(width * height);
  if (cleaned) {
    const full = plate.picture;
    for (let i = 0; i < cleaned.touched.length; i++) {
      if (!cleaned.touched[i]) continue;
      const x = Math.min(width - 1, Math.floor(((i % full.width) * width) / full.width));
      const y = Math.min(height - 1, Math.floor((Math.floor(i / full.width) * height) / full.height));
      marks[y * width + x]! |= cleaned.touched[i]!;
    }
  }
  const pixels = overlay(
    rgb,
    request,
    (i) => (marks[i] ? 1 : 0),
    (i) => (marks[i]! & 2 ? RED : AMBER),
  );
  return { rgb, pixels, report: undefined };
}

const [BEFORE, WITHIN, BEHIND] = [AMBER, [87, 184, 148], [143, 176, 217]] as const;

/** Green what counts as sharp, amber what lies before it, blue what lies behind, the stronger the more it is blurred. */
async function paintSharpness(rgb: Rgb, request: PaintRequest, context: PlateContext): Promise<Paint> {
  const { look, scale } = request;
  const radius = await radiusPlane(look, scale, context);
  const pixels = (context.plate.frame.width * scale) / look.camera.sensorWidth;
  const sharp = (acceptableBlur(look.camera) * pixels) / 2;
  const out = overlay(
    rgb,
    request,
    (i) => (Math.abs(radius[i]!) <= sharp ? 0.7 : 0.15 + 0.5 * (1 - sharp / Math.abs(radius[i]!))),
    (i) => (Math.abs(radius[i]!) <= sharp ? WITHIN : radius[i]! < 0 ? BEFORE : BEHIND),
  );
  return { rgb, pixels: out, report: undefined };
}

/** What is finer than this many pixels each way is drawn out, so many times. */
const GRAIN_REACH = 3;
const GRAIN_GAIN = 12;
/** Discs from this radius on blur; up to the other they do not. */
const BLURRED = 2;

/**
 * The display's values less their mean nearby, drawn out about grey: grain, and the steps of bands. Also how strong the
 * grain is where the lens is sharp and where it blurs, which a photograph has alike and a blurred render has not.
 */
export async function paintGrain(
  light: Light,
  request: PaintRequest,
  context: PlateContext,
): Promise<Painted> {
  const { look, view, viewExposure, scale } = request;
  const { width, height } = light;
  const shown = new Float32Array(width * height * 3);
  applyView(view, light.total, 2 ** viewExposure, shown);
  const fine = toRgb(
    [0, 1, 2].map((c) => {
      const plane = Float32Array.from({ length: width * height }, (_, i) => shown[3 * i + c]!);
      const mean = boxMean(plane, width, height, GRAIN_REACH);
      return plane.map((value, i) => value - mean[i]!);
    }),
  );
  const radius =
    look.focus.on && hasDepth(context.plate, look) ? await radiusPlane(look, scale, context) : undefined;
  const strength = (counts: (r: number) => boolean): number | undefined => {
    const found = fine[1].filter((_, i) => counts(radius ? Math.abs(radius[i]!) : 0)).map(Math.abs);
    // The median, since outlines are far stronger than any grain; times what makes it a standard deviation.
    return found.length > 0 ? 1.4826 * found.sort()[found.length >> 1]! : undefined;
  };
  const grain = { sharp: strength((r) => r <= IN_FOCUS_RADIUS), blurred: strength((r) => r >= BLURRED) };
  const drawn = mapRgb(fine, (plane) => plane.map((value) => 0.5 + GRAIN_GAIN * value));
  return { width, height, rgb: light.total, pixels: plainBytes(drawn), report: { grain } };
}

/** The mean of a square about each pixel, as far as it lies in the picture. */
function boxMean(plane: Float32Array, width: number, height: number, reach: number): Float32Array {
  const along = (
    source: Float32Array,
    count: number,
    lines: number,
    step: number,
    next: number,
  ): Float32Array => {
    const out = new Float32Array(source.length);
    for (let line = 0; line < lines; line++) {
      const at = line * next;
      let [sum, n] = [0, 0];
      for (let k = -reach; k < count; k++) {
        if (k + reach < count) {
          sum += source[at + (k + reach) * step]!;
          n++;
        }
        if (k - reach - 1 >= 0) {
          sum -= source[at + (k - reach - 1) * step]!;
          n--;
        }
        if (k >= 0) out[at + k * step] = sum / n;
      }
    }
    return out;
  };
  return along(along(plane, width, height, 1, width), height, width, width, 1);
}

/** A pass as a small picture, for lists. */
export function passThumbnail(plate: Plate, pass: Pass, width: number): RgbaImage {
  const scale = Math.min(1, width / plate.picture.width);
  const size = scaledSize(plate, scale);
  if (holdsLight(pass)) {
    const { rgb } = passLight(plate, pass, scale);
    return { ...size, pixels: displayBytes(viewOf('filmic'), rgb, 1) };
  }
  const request = { scale } as PaintRequest;
  return { ...size, pixels: paintPass({ kind: 'pass', pass: pass.name }, request, plate).pixels };
}

/** An image as a small picture. */
export function greyThumbnail(image: GreyImage, width: number): RgbaImage {
  const scale = Math.min(1, width / image.width);
  const size = {
    width: Math.max(1, Math.round(image.width * scale)),
    height: Math.max(1, Math.round(image.height * scale)),
  };
  const plane = resampleArea(image.plane, image.width, image.height, size.width, size.height);
  return { ...size, pixels: displayBytes(viewOf('clip'), grey(plane), 1) };
}

/** What a look-up table makes of colours: hue across, from dark to bright downwards. */
export function lutThumbnail(lut: CubeLut, width: number): RgbaImage {
  const height = Math.round((width * 9) / 16);
  const rgb = blackRgb(width * height);
  for (let i = 0; i < width * height; i++) {
    const turn = (2 * Math.PI * (i % width)) / width;
    const light = 2 ** (6 * (Math.floor(i / width) / height) - 5);
    for (let c = 0; c < 3; c++) rgb[c]![i] = light * (1 + 0.8 * Math.cos(turn - (2 * Math.PI * c) / 3));
  }
  return { width, height, pixels: displayBytes(viewOf('lut', { lut, input: 'srgb', strength: 1 }), rgb, 1) };
}
