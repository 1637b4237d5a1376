import { seeded } from '../../src/core/optics/seeded';

/** One way to damage a file; gives the damaged copy. */
type Mutation = (bytes: Uint8Array, next: () => number) => Uint8Array;

const whole = (next: () => number, below: number): number => Math.floor(next() * Math.max(1, below));

/** Values that sizes and counts break at. */
const EDGES = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0xffff, 0x7fffffff, 0x80000000, 0xfffffff0, 0xffffffff];

const MUTATIONS: readonly Mutation[] = [
  // Single bytes, or bits of them.
  (bytes, next) => {
    const out = bytes.slice();
    for (let k = 1 + whole(next, 8); k > 0; k--) out[whole(next, out.length)] = whole(next, 256);
    return out;
  },
  (bytes, next) => {
    const out = bytes.slice();
    for (let k = 1 + whole(next, 4); k > 0; k--) out[whole(next, out.length)]! ^= 1 << whole(next, 8);
    return out;
  },
  // A run of one value, as an overwritten block is.
  (bytes, next) => {
    const out = bytes.slice();
    const at = whole(next, out.length);
    out.fill(next() < 0.5 ? 255 : 0, at, at + 1 + whole(next, 64));
    return out;
  },
  // A length, count or offset: two or four bytes in either order, mostly in the header.
  (bytes, next) => {
    const out = bytes.slice();
    const view = new DataView(out.buffer);
    const at = whole(next, next() < 0.7 ? Math.min(512, out.length) : out.length);
    const value = EDGES[whole(next, EDGES.length)]!;
    if (at + 4 <= out.length && next() < 0.6) view.setUint32(at, value, next() < 0.5);
    else if (at + 2 <= out.length) view.setUint16(at, value & 0xffff, next() < 0.5);
    return out;
  },
  // Cut off, and cut out.
  (bytes, next) => bytes.slice(0, whole(next, bytes.length)),
  (bytes, next) => {
    const at = whole(next, bytes.length);
    const gone = 1 + whole(next, Math.min(256, bytes.length));
    return Uint8Array.of(...bytes.subarray(0, at), ...bytes.subarray(at + gone));
  },
  // A block that stands elsewhere, or twice.
  (bytes, next) => {
    const out = bytes.slice();
    const size = 1 + whole(next, Math.min(128, out.length));
    out.copyWithin(whole(next, out.length), whole(next, out.length), whole(next, out.length) + size);
    return out;
  },
];

/** The `index`-th damaged file of a seed: which of the `files` it was made from, and its bytes. */
export function damagedFile(
  files: readonly { name: string; bytes: Uint8Array }[],
  seed: number,
  index: number,
): { name: string; bytes: Uint8Array } {
  const next = seeded((seed * 1_000_003 + index) | 0);
  const { name, bytes } = files[whole(next, files.length)]!;
  let damaged = bytes;
  for (let k = 1 + whole(next, 3); k > 0 && damaged.length > 0; k--)
    damaged = MUTATIONS[whole(next, MUTATIONS.length)]!(damaged, next);
  return { name, bytes: damaged };
}
