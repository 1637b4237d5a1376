/** PXR24: zlib over byte planes of differences along each line; floats lose their lowest byte. */
import { Channel, channelOf, Chunk, HALF, hasLine, UINT } from './chunk';
import { WRONG_SIZE } from './faults';
import { inflate } from './inflate';

function packedBytes(channel: Channel): i32 {
  if (channel.type === HALF) return 2;
  return channel.type === UINT ? 4 : 3;
}

/** Unpacks `length` bytes at `from` to samples at `to`; `work` holds as many bytes. Gives 0, or what is wrong. */
export function unpackPxr24(from: usize, length: i32, chunk: Chunk, work: usize, to: usize): i32 {
  let size = 0;
  for (let index = 0; index < chunk.channels; index++) {
    const channel = channelOf(chunk, index);
    size += channel.columns * channel.rows * packedBytes(channel);
  }
  const inflated = inflate(from, length, work, size);
  if (inflated < 0) return inflated;
  if (inflated !== size) return WRONG_SIZE;
  for (let line = chunk.y; line < chunk.y + chunk.lines; line++) {
    for (let index = 0; index < chunk.channels; index++) {
      const channel = channelOf(chunk, index);
      if (!hasLine(channel, line)) continue;
      const columns = channel.columns;
      const type = channel.type;
      if (type === HALF) sumHalves(work, columns, to);
      else sumWords(work, columns, type === UINT, to);
      work += <usize>(columns * packedBytes(channel));
      to += <usize>(columns * (type === HALF ? 2 : 4));
    }
  }
  return 0;
}

/** Running sums of 16-bit differences, whose high bytes come before the low ones. */
function sumHalves(high: usize, count: i32, to: usize): void {
  const low = high + count;
  const zero = i16x8.splat(0);
  let carry = zero;
  let i = 0;
  for (; i + 8 <= count; i += 8) {
    const h = v128.load64_zero(high + i);
    const l = v128.load64_zero(low + i);
    let v = i8x16.shuffle(l, h, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23);
    v = i16x8.add(v, i16x8.shuffle(zero, v, 0, 8, 9, 10, 11, 12, 13, 14));
    v = i16x8.add(v, i16x8.shuffle(zero, v, 0, 0, 8, 9, 10, 11, 12, 13));
    v = i16x8.add(v, i16x8.shuffle(zero, v, 0, 0, 0, 0, 8, 9, 10, 11));
    v = i16x8.add(v, carry);
    carry = i16x8.shuffle(v, v, 7, 7, 7, 7, 7, 7, 7, 7);
    v128.store(to + 2 * <usize>i, v);
  }
  let sum = <u32>i16x8.extract_lane_u(carry, 0);
  for (; i < count; i++) {
    sum += ((<u32>load<u8>(high + i)) << 8) | load<u8>(low + i);
    store<u16>(to + 2 * <usize>i, <u16>sum);
  }
}

/** Running sums of 32-bit differences in three or, `whole`, four byte planes, the highest first. */
function sumWords(planes: usize, count: i32, whole: bool, to: usize): void {
  const second = planes + count;
  const third = second + count;
  const fourth = third + count;
  let sum: u32 = 0;
  for (let x: usize = 0; x < <usize>count; x++) {
    let word =
      ((<u32>load<u8>(planes + x)) << 24) |
      ((<u32>load<u8>(second + x)) << 16) |
      ((<u32>load<u8>(third + x)) << 8);
    if (whole) word |= load<u8>(fourth + x);
    sum += word;
    store<u32>(to + 4 * x, sum);
  }
}
