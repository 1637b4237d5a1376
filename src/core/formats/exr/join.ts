import { channelFloats, sampleStore, type Channel, type Picture, type Window } from '../../image/picture';
import { REC709_CHROMATICITIES, luminanceOf } from '../../color/chromaticities';
import { chromaticitiesWarning, readChromaticities } from '../../image/chromaticities';
import { FileError } from '../../errors';
import type { StoredChannel, StoredPart } from './types';
import { MAX_PIXELS } from './spec';

/** Names of parts whose main channels are the whole picture's. */
const WHOLE = /^(|rgba?|beauty|main|combined|composite|final|image)$/i;

/**
 * One picture of all parts. The channels of further parts get the part's name as their layer; parts with other data
 * windows are placed in the window that holds them all.
 */
export function joinParts(parts: readonly StoredPart[]): Picture {
  const first = parts[0]!;
  const dataWindow = parts.map((part) => part.dataWindow).reduce(around);
  const width = dataWindow.xMax - dataWindow.xMin + 1;
  const height = dataWindow.yMax - dataWindow.yMin + 1;
  if (width * height > MAX_PIXELS)
    throw new FileError(
      `its parts lie ${width} x ${height} pixels apart; at most ${MAX_PIXELS} pixels are read`,
    );
  const main = mainPart(parts);
  const channels = new Map<string, Channel>();
  const warnings: string[] = [];
  for (const [index, part] of parts.entries()) {
    const label = parts.length > 1 ? `part ${part.name || index}: ` : '';
    warnings.push(...part.warnings.map((warning) => label + warning));
    const prefix = part.name || `part${index}`;
    for (const channel of toFullColour(part, warnings)) {
      const plain = part === main || channel.name.startsWith(`${prefix}.`);
      const layered = channel.name.includes('.') && !channels.has(channel.name);
      const name = plain || layered ? channel.name : `${prefix}.${channel.name}`;
      channels.set(name, { ...place(channel, part.dataWindow, dataWindow), name });
    }
  }
  const { attributes } = main ?? first;
  const about = chromaticitiesWarning(attributes);
  if (about) warnings.push(about);
  return {
    width,
    height,
    dataWindow,
    displayWindow: first.displayWindow,
    channels,
    range: 'scene',
    compression: [...new Set(parts.map((part) => part.compression))].join(', '),
    attributes,
    isIncomplete: parts.some((part) => part.isIncomplete),
    warnings,
  };
}

/** The part whose channels keep their bare names. */
function mainPart(parts: readonly StoredPart[]): StoredPart | undefined {
  if (parts.length === 1) return parts[0];
  const coloured = parts.filter((part) => part.channels.some(({ name }) => name === 'R' || name === 'Y'));
  return coloured.find((part) => WHOLE.test(part.name)) ?? coloured[0];
}

function around(a: Window, b: Window): Window {
  return {
    xMin: Math.min(a.xMin, b.xMin),
    yMin: Math.min(a.yMin, b.yMin),
    xMax: Math.max(a.xMax, b.xMax),
    yMax: Math.max(a.yMax, b.yMax),
  };
}

function place(channel: Channel, from: Window, to: Window): Channel {
  const width = to.xMax - to.xMin + 1;
  const own = from.xMax - from.xMin + 1;
  const count = width * (to.yMax - to.yMin + 1);
  if (channel.samples.length === count) return channel;
  const samples = sampleStore(channel.type, count);
  for (let y = from.yMin; y <= from.yMax; y++) {
    const row = (y - from.yMin) * own;
    samples.set(channel.samples.subarray(row, row + own), (y - to.yMin) * width + from.xMin - to.xMin);
  }
  return { ...channel, samples };
}

/** A part's channels at full size, luminance and chroma turned into red, green and blue. */
function toFullColour(part: StoredPart, warnings: string[]): Channel[] {
  const byName = new Map(part.channels.map((channel) => [channel.name, channel]));
  const out: Channel[] = [];
  const used = new Set<StoredChannel>();
  for (const luma of part.channels) {
    const layer = /^(.*\.)?Y$/.exec(luma.name)?.slice(1)[0] ?? (luma.name === 'Y' ? '' : undefined);
    if (layer === undefined) continue;
    const [ry, by] = [byName.get(`${layer}RY`), byName.get(`${layer}BY`)];
    if (!ry || !by) continue;
    [luma, ry, by].forEach((channel) => used.add(channel));
    out.push(...fromLumaChroma(layer, luma, ry, by, part));
  }
  for (const channel of part.channels) {
    if (used.has(channel)) continue;
    const { name, type, samples, xSampling, ySampling } = channel;
    const full = xSampling === 1 && ySampling === 1;
    if (!full)
      warnings.push(`channel ${name} has one sample for ${xSampling} x ${ySampling} pixels; it is repeated`);
    out.push({ name, type, samples: full ? samples : repeat(channel) });
  }
  return out;
}

function repeat({ type, samples, columns, rows, xSampling, ySampling }: StoredChannel): Channel['samples'] {
  const width = columns * xSampling;
  const out = sampleStore(type, width * rows * ySampling);
  for (let y = 0; y < rows * ySampling; y++) {
    const row = Math.floor(y / ySampling) * columns;
    for (let x = 0; x < width; x++) out[y * width + x] = samples[row + Math.floor(x / xSampling)]!;
  }
  return out;
}

/**
 * Luminance and chroma to red, green and blue: `RY = (R - Y) / Y`, `BY = (B - Y) / Y` (Academy Software Foundation,
 * "Technical Introduction to OpenEXR", luminance/chroma images). Luminance is weighted by the file's primaries.
 */
function fromLumaChroma(
  layer: string,
  luma: StoredChannel,
  ry: StoredChannel,
  by: StoredChannel,
  part: StoredPart,
): Channel[] {
  const [wr, wg, wb] = luminanceOf(readChromaticities(part.attributes) ?? REC709_CHROMATICITIES);
  const y = channelFloats({ ...luma, samples: repeat(luma) });
  const width = luma.columns * luma.xSampling;
  const [red, blue] = [ry, by].map((channel) => widen(channel, width));
  const green = new Float32Array(y.length);
  for (let i = 0; i < y.length; i++) {
    const r = (red![i]! + 1) * y[i]!;
    const b = (blue![i]! + 1) * y[i]!;
    red![i] = r;
    blue![i] = b;
    green[i] = (y[i]! - wr * r - wb * b) / wg;
  }
  return [red!, green, blue!].map((samples, c) => ({ name: `${layer}${'RGB'[c]}`, type: 'float', samples }));
}

/** One side of the 26-tap interpolation filter for chroma between samples, nearest first (same source). */
const HALF_BAND = [0.627123, -0.186077, 0.087929, -0.043159, 0.019597, -0.00754, 0.002128];

/** Chroma at full size: half-band interpolation for every second pixel, repetition for any other sampling. */
function widen(channel: StoredChannel, width: number): Float32Array {
  const { xSampling, ySampling, columns, rows } = channel;
  const stored = channelFloats(channel);
  if (xSampling !== 2 || ySampling !== 2) return channelFloats({ ...channel, samples: repeat(channel) });
  const rowsWide = new Float32Array(width * rows);
  for (let y = 0; y < rows; y++) {
    interpolate(stored, y * columns, 1, columns, rowsWide, y * width, 1);
  }
  const out = new Float32Array(width * rows * 2);
  for (let x = 0; x < width; x++) interpolate(rowsWide, x, width, rows, out, x, width);
  return out;
}

function interpolate(
  from: Float32Array,
  start: number,
  step: number,
  count: number,
  to: Float32Array,
  toStart: number,
  toStep: number,
): void {
  const at = (i: number): number => from[start + Math.max(0, Math.min(count - 1, i)) * step]!;
  for (let i = 0; i < count; i++) {
    to[toStart + 2 * i * toStep] = at(i);
    let between = 0;
    for (const [k, weight] of HALF_BAND.entries()) between += weight * (at(i - k) + at(i + 1 + k));
    to[toStart + (2 * i + 1) * toStep] = between;
  }
}
