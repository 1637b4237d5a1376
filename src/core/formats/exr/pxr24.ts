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
  const view = new DataView(out.buffer);
  let from = 0;
  forEachRun(shape, (index, _, at, count) => {
    const { type } = channels[index]!;
    let sample = 0;
    for (let x = 0; x < count; x++) {
      const byte = (plane: number): number => planes[from + plane * count + x]!;
      if (type === 'half') {
        sample = (sample + ((byte(0) << 8) | byte(1))) & 0xffff;
        view.setUint16(at + x * 2, sample, true);
      } else {
        const low = type === 'uint' ? byte(3) : 0;
        sample = (sample + ((byte(0) << 24) | (byte(1) << 16) | (byte(2) << 8) | low)) | 0;
        view.setInt32(at + x * 4, sample, true);
      }
    }
    from += PACKED_BYTES[type] * count;
  });
  return out;
}
