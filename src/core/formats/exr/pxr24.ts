import { inflateExactly } from './codec';
import { chunkBytes, forEachRun, type ChunkShape } from './layout';

/** Bytes a sample takes in the packed data: floats lose their lowest byte. */
const PACKED_BYTES = { half: 2, float: 3, uint: 4 } as const;

/** PXR24: zlib over byte planes of differences along each line. */
export function unpackPxr24(packed: Uint8Array, shape: ChunkShape): Uint8Array {
  const { channels } = shape;
  let size = 0;
  forEachRun(shape, (index, _, at, count) => (size += count * PACKED_BYTES[channels[index]!.type]));
  const planes = inflateExactly(packed, size);
  const out = new Uint8Array(chunkBytes(shape));
  const halves = new Uint16Array(out.buffer);
  const view = new DataView(out.buffer);
  let from = 0;
  forEachRun(shape, (index, _, at, count) => {
    const { type } = channels[index]!;
    let sample = 0;
    const [second, third, fourth] = [from + count, from + 2 * count, from + 3 * count];
    if (type === 'half') {
      for (let x = 0; x < count; x++) {
        sample = (sample + ((planes[from + x]! << 8) | planes[second + x]!)) & 0xffff;
        halves[at / 2 + x] = sample;
      }
    } else {
      for (let x = 0; x < count; x++) {
        const low = type === 'uint' ? planes[fourth + x]! : 0;
        const high = (planes[from + x]! << 24) | (planes[second + x]! << 16) | (planes[third + x]! << 8);
        sample = (sample + (high | low)) | 0;
        view.setInt32(at + x * 4, sample, true);
      }
    }
    from += PACKED_BYTES[type] * count;
  });
  return out;
}
