import { FileError } from '../../errors';
import { floatToHalf, halvesToFloats } from '../../image/half';
import { expandRuns, inflateExactly, unhuffman, unzipChunk } from './codec';
import { inverseDct8x8, ZIGZAG } from './dct';
import type { ExrChannel } from './types';
import { chunkBytes, forEachRun, gridOf, type ChunkShape } from './layout';
import { BYTES_PER_SAMPLE } from './spec';

/** Words of the chunk's header: sizes in bytes, counts in 16-bit values. */
const HEADER = [
  'version',
  'unknownSize',
  'unknownPacked',
  'acPacked',
  'dcPacked',
  'rlePacked',
  'rleSize',
  'rleRaw',
  'acCount',
  'dcCount',
  'acCoding',
] as const;
type Header = Record<(typeof HEADER)[number], number>;

type Scheme = 'plain' | 'dct' | 'rle';
const SCHEMES: readonly Scheme[] = ['plain', 'dct', 'rle'];

/** How channels whose name ends in a suffix are packed; `primary` 0 to 2 says which of red, green, blue it is. */
interface Rule {
  suffix: string;
  type: string;
  scheme: Scheme;
  primary: number;
  anyCase: boolean;
}

/** What files of version 0 and 1, which do not list their rules, go by. */
const LEGACY_RULES: readonly Rule[] = [
  ...[
    ['r', 'red'],
    ['g', 'grn', 'green'],
    ['b', 'blu', 'blue'],
  ].flatMap((suffixes, primary) => suffixes.flatMap((suffix) => dctRule(suffix, primary))),
  ...['y', 'by', 'ry'].flatMap((suffix) => dctRule(suffix, -1)),
  ...['uint', 'half', 'float'].map((type): Rule => ({
    suffix: 'a',
    type,
    scheme: 'rle',
    primary: -1,
    anyCase: true,
  })),
];

function dctRule(suffix: string, primary: number): Rule[] {
  return ['half', 'float'].map((type) => ({ suffix, type, scheme: 'dct', primary, anyCase: true }));
}

const damaged = (): FileError => new FileError('the DWA data are damaged');

/**
 * DWAA and DWAB: colour by 8 x 8 cosine transforms of the values on a perceptual scale, alpha by run lengths, everything
 * else by zlib (Academy Software Foundation, OpenEXR 3.1, DWA compressor).
 */
export function unpackDwa(packed: Uint8Array, shape: ChunkShape): Uint8Array {
  if (packed.length < HEADER.length * 8) throw damaged();
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const header = Object.fromEntries(
    HEADER.map((name, index) => [name, Number(view.getBigUint64(index * 8, true))]),
  ) as Header;
  let at = HEADER.length * 8;
  if (header.version > 2) throw new FileError(`DWA version ${header.version} is unknown`);
  let rules = LEGACY_RULES;
  if (header.version === 2) {
    if (at + 2 > packed.length) throw damaged();
    const size = view.getUint16(at, true);
    if (size < 2 || at + size > packed.length) throw damaged();
    rules = readRules(packed.subarray(at + 2, at + size));
    at += size;
  }
  const take = (size: number): Uint8Array => {
    if (at + size > packed.length) throw damaged();
    at += size;
    return packed.subarray(at - size, at);
  };
  const plan = planChannels(shape, rules);
  const bytesOf = (scheme: Scheme): number =>
    plan.reduce((sum, { bytes, scheme: own }) => (own === scheme ? sum + bytes : sum), 0);
  const blocks = plan.reduce((sum, entry) => sum + (entry.scheme === 'dct' ? entry.blocks : 0), 0);
  if (header.unknownSize !== bytesOf('plain') || header.rleRaw !== bytesOf('rle')) throw damaged();
  if (header.dcCount !== blocks || header.acCount > blocks * 64 || header.rleSize > header.rleRaw * 2 + 64)
    throw damaged();
  const plainPacked = take(header.unknownPacked);
  const acPacked = take(header.acPacked);
  const dcPacked = take(header.dcPacked);
  const rlePacked = take(header.rlePacked);
  const plain = header.unknownSize ? inflateExactly(plainPacked, header.unknownSize) : new Uint8Array();
  const rle = header.rleRaw
    ? expandRuns(inflateExactly(rlePacked, header.rleSize), header.rleRaw)
    : new Uint8Array();
  const dc = blocks ? words(unzipChunk(dcPacked, blocks * 2)) : new Uint16Array();
  const ac = unpackAc(acPacked, header);

  const out = new Uint8Array(chunkBytes(shape));
  const starts = shape.channels.map((): number[] => []);
  forEachRun(shape, (index, row, byte) => (starts[index]![row] = byte));
  const transforms = new Transforms(ac, dc, out, starts);
  for (const set of colourSets(plan)) transforms.decode(set);
  const from = { plain: 0, rle: 0 };
  for (const entry of plan) {
    if (entry.scheme === 'dct') {
      if (!entry.coupled) transforms.decode([entry]);
      continue;
    }
    const { columns, rows, size, bytes, scheme } = entry;
    const data = scheme === 'plain' ? plain : rle;
    for (let row = 0; row < rows; row++) {
      const to = starts[entry.index]![row]!;
      if (scheme === 'plain') {
        const line = from.plain + row * columns * size;
        out.set(data.subarray(line, line + columns * size), to);
        continue;
      }
      // Run lengths are taken over byte planes.
      for (let byte = 0; byte < size; byte++) {
        const plane = from.rle + (byte * rows + row) * columns;
        for (let x = 0; x < columns; x++) out[to + x * size + byte] = data[plane + x]!;
      }
    }
    from[scheme] += bytes;
  }
  return out;
}

function readRules(bytes: Uint8Array): Rule[] {
  const rules: Rule[] = [];
  for (let at = 0; at < bytes.length;) {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end + 2 >= bytes.length) throw damaged();
    const value = bytes[end + 1]!;
    const scheme = SCHEMES[(value >> 2) & 3];
    const type = ['uint', 'half', 'float'][bytes[end + 2]!];
    const primary = (value >> 4) - 1;
    if (!scheme || !type || primary > 2) throw damaged();
    rules.push({
      suffix: new TextDecoder().decode(bytes.subarray(at, end)),
      type,
      scheme,
      primary,
      anyCase: (value & 1) === 1,
    });
    at = end + 3;
  }
  return rules;
}

interface Planned {
  index: number;
  channel: ExrChannel;
  layer: string;
  scheme: Scheme;
  primary: number;
  columns: number;
  rows: number;
  /** Bytes of a sample, and of all. */
  size: number;
  bytes: number;
  blocks: number;
  /** Transformed together with two others, as luminance and two differences. */
  coupled: boolean;
}

function planChannels(shape: ChunkShape, rules: readonly Rule[]): Planned[] {
  return shape.channels.map((channel, index) => {
    const dot = channel.name.lastIndexOf('.');
    const suffix = channel.name.slice(dot + 1);
    const rule = rules.findLast(
      ({ suffix: wanted, type, anyCase }) =>
        type === channel.type &&
        (anyCase ? wanted.toLowerCase() === suffix.toLowerCase() : wanted === suffix),
    );
    const { columns, rows } = gridOf(shape, channel);
    const size = BYTES_PER_SAMPLE[channel.type];
    return {
      index,
      channel,
      layer: dot < 0 ? '' : channel.name.slice(0, dot),
      scheme: rule?.scheme ?? 'plain',
      primary: rule?.primary ?? -1,
      columns,
      rows,
      size,
      bytes: columns * rows * size,
      blocks: Math.ceil(columns / 8) * Math.ceil(rows / 8),
      coupled: false,
    };
  });
}

/** Red, green and blue of each layer that has all three at one size, in order of the layers' names. */
function colourSets(plan: Planned[]): Planned[][] {
  const layers = [...new Set(plan.map(({ layer }) => layer))].sort((a, b) => (a < b ? -1 : 1));
  return layers.flatMap((layer) => {
    const set = [0, 1, 2].map((primary) =>
      plan.findLast((entry) => entry.layer === layer && entry.scheme === 'dct' && entry.primary === primary),
    );
    const [first] = set;
    if (!set.every((entry) => entry?.columns === first?.columns && entry?.rows === first?.rows) || !first)
      return [];
    for (const entry of set) entry!.coupled = true;
    return [set as Planned[]];
  });
}

function words(bytes: Uint8Array): Uint16Array {
  return new Uint16Array(bytes.slice().buffer);
}

function unpackAc(packed: Uint8Array, { acCount, acCoding }: Header): Uint16Array {
  if (acCount === 0) return new Uint16Array();
  if (acCoding === 0) return unhuffman(packed, acCount);
  if (acCoding === 1) return words(inflateExactly(packed, acCount * 2));
  throw new FileError(`DWA coding ${acCoding} is unknown`);
}

const END_OF_BLOCK = 0xff00;

let linear: Uint16Array | undefined;

/** From the perceptual scale back to linear light, half to half: a power of 2.2 up to 1, an exponential above. */
function linearTable(): Uint16Array {
  const base = Math.fround(Math.E) ** 2.2;
  linear ??= Uint16Array.from(
    halvesToFloats(Uint16Array.from({ length: 65536 }, (_, half) => half)),
    (value) => {
      if (!Number.isFinite(value)) return 0;
      const size = Math.abs(value);
      const light = size <= 1 ? size ** 2.2 : base ** (size - 1);
      return floatToHalf(value < 0 ? -light : light);
    },
  );
  return linear;
}

/** Decodes one channel, or red, green and blue together, from the shared streams of coefficients. */
class Transforms {
  private acAt = 0;
  private dcAt = 0;
  private readonly view: DataView;
  private readonly block = [new Float32Array(64), new Float32Array(64), new Float32Array(64)];
  private readonly zigzag = new Uint16Array(64);

  constructor(
    private readonly ac: Uint16Array,
    private readonly dc: Uint16Array,
    out: Uint8Array,
    private readonly starts: number[][],
  ) {
    this.view = new DataView(out.buffer);
  }

  decode(set: readonly Planned[]): void {
    const { columns, rows, blocks } = set[0]!;
    const first = this.dcAt;
    let number = 0;
    for (let y = 0; y < rows; y += 8) {
      for (let x = 0; x < columns; x += 8, number++) {
        for (let c = 0; c < set.length; c++)
          this.readBlock(this.dc[first + c * blocks + number]!, this.block[c]!);
        if (set.length === 3) toRgb(this.block);
        for (const [c, entry] of set.entries()) this.storeBlock(this.block[c]!, entry, x, y);
      }
    }
    this.dcAt = first + blocks * set.length;
  }

  /** Undoes the run lengths of zeros, the zigzag and the transform of one block. */
  private readBlock(dc: number, block: Float32Array): void {
    const { zigzag, ac } = this;
    zigzag.fill(0);
    zigzag[0] = dc;
    let last = 0;
    for (let at = 1; at < 64;) {
      if (this.acAt >= ac.length) throw damaged();
      const word = ac[this.acAt++]!;
      if (word === END_OF_BLOCK) break;
      if (word >> 8 === 0xff) {
        at += word & 0xff;
      } else {
        last = at;
        zigzag[at++] = word;
      }
    }
    const floats = halvesToFloats(last === 0 ? zigzag.subarray(0, 1) : zigzag);
    if (last === 0) {
      block.fill(floats[0]! / 8);
      return;
    }
    for (let i = 0; i < 64; i++) block[ZIGZAG[i]!] = floats[i]!;
    inverseDct8x8(block);
  }

  private storeBlock(
    block: Float32Array,
    { index, channel, columns, rows }: Planned,
    x: number,
    y: number,
  ): void {
    const table = linearTable();
    const starts = this.starts[index]!;
    const [width, height] = [Math.min(8, columns - x), Math.min(8, rows - y)];
    for (let v = 0; v < height; v++) {
      for (let u = 0; u < width; u++) {
        const half = floatToHalf(block[v * 8 + u]!);
        const value = channel.linear ? half : table[half]!;
        if (channel.type === 'half') this.view.setUint16(starts[y + v]! + (x + u) * 2, value, true);
        else this.view.setFloat32(starts[y + v]! + (x + u) * 4, halfValue(value), true);
      }
    }
  }
}

const one = new Uint16Array(1);
function halfValue(half: number): number {
  one[0] = half;
  return halvesToFloats(one)[0]!;
}

/** Luminance and colour differences of ITU-R BT.709 back to red, green and blue. */
function toRgb([a, b, c]: Float32Array[]): void {
  for (let i = 0; i < 64; i++) {
    const [y, cb, cr] = [a![i]!, b![i]!, c![i]!];
    a![i] = y + 1.5747 * cr;
    b![i] = y - 0.1873 * cb - 0.4682 * cr;
    c![i] = y + 1.8556 * cb;
  }
}
