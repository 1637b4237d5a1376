import { addDecoder, BaseDecoder } from 'geotiff';
import { unzlibSync } from 'fflate';
import { FileError } from '../../errors';
import { guardSize } from '../limits';
import { decodeLzw } from './lzw';

/**
 * Decoders in place of the package's own, which trust the stream and grow an array until memory ends. These fill a block
 * of the size that the header declares, and nothing beyond it.
 */
interface BlockParameters {
  /** Bytes of a strip or tile, decoded. */
  blockBytes: number;
}

/** Compression numbers (TIFF 6.0, sections 9, 13; Adobe supplement 2; Zstandard by its registered tag). */
const [LZW, DEFLATE, OLD_DEFLATE, PACK_BITS, ZSTANDARD] = [5, 8, 32946, 32773, 50000] as const;

type Decode = (packed: Uint8Array, size: number) => Uint8Array | Promise<Uint8Array>;

type Directory = Parameters<NonNullable<Parameters<typeof addDecoder>[2]>>[0];

async function numberAt(directory: Directory, tag: string): Promise<number> {
  const value: unknown = await directory.loadValue(tag as 'ImageWidth');
  return typeof value === 'number' ? value : 0;
}

/** The parameters that the package's decoders take, and the size of a block. */
async function blockParameters(directory: Directory) {
  const isTiled = !directory.hasTag('StripOffsets');
  const [imageWidth, imageHeight] = [
    await numberAt(directory, 'ImageWidth'),
    await numberAt(directory, 'ImageLength'),
  ];
  const tileWidth = isTiled ? await numberAt(directory, 'TileWidth') : imageWidth;
  const rows = isTiled ? await numberAt(directory, 'TileLength') : await numberAt(directory, 'RowsPerStrip');
  const tileHeight = isTiled ? rows : Math.min(rows || imageHeight, imageHeight);
  const planarConfiguration = (await numberAt(directory, 'PlanarConfiguration')) || 1;
  const bitsPerSample = (await directory.loadValue('BitsPerSample')) as
    ArrayLike<number> | number | undefined;
  const bits =
    typeof bitsPerSample === 'object' ? Math.max(0, ...Array.from(bitsPerSample)) : (bitsPerSample ?? 1);
  const samples = (await numberAt(directory, 'SamplesPerPixel')) || 1;
  const rowBytes = Math.ceil((tileWidth * bits * (planarConfiguration === 1 ? samples : 1)) / 8);
  const blockBytes = rowBytes * tileHeight;
  guardSize(tileWidth, tileHeight, blockBytes, Infinity);
  return {
    tileWidth,
    tileHeight,
    planarConfiguration,
    bitsPerSample: bitsPerSample ?? 1,
    predictor: (await numberAt(directory, 'Predictor')) || 1,
    blockBytes,
  };
}

function boundedDecoder(decode: Decode): typeof BaseDecoder {
  return class extends BaseDecoder {
    override async decodeBlock(packed: ArrayBufferLike): Promise<ArrayBufferLike> {
      const { blockBytes } = this.parameters as unknown as BlockParameters;
      const bytes = await decode(new Uint8Array(packed), blockBytes);
      return new Uint8Array(bytes).buffer;
    }
  };
}

/** PackBits (TIFF 6.0, section 9). */
function decodePackBits(packed: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let at = 0;
  for (let i = 0; i < packed.length && at < size;) {
    const count = packed[i++]!;
    if (count < 128) {
      out.set(packed.subarray(i, Math.min(i + count + 1, i + size - at)), at);
      i += count + 1;
      at += count + 1;
    } else if (count > 128) {
      out.fill(packed[i++] ?? 0, at, Math.min(size, at + 257 - count));
      at += 257 - count;
    }
  }
  return out;
}

async function decodeZstandard(packed: Uint8Array, size: number): Promise<Uint8Array> {
  const { ZSTDDecoder } = await import('zstddec');
  const decoder = new ZSTDDecoder();
  await decoder.init();
  return decoder.decode(packed, size);
}

function refuse(): never {
  throw new FileError('the TIFF is compressed in a way that is not read', {
    todo: 'Save it with LZW, Deflate, Zstandard or without compression',
  });
}

let isRegistered = false;

/** Puts the bounded decoders in place of the package's. */
export function registerBoundedDecoders(): void {
  if (isRegistered) return;
  isRegistered = true;
  const register = (compressions: number[], decode: Decode): void =>
    addDecoder(compressions, () => Promise.resolve(boundedDecoder(decode)), blockParameters as never, false);
  register([LZW], decodeLzw);
  register([DEFLATE, OLD_DEFLATE], (packed, size) => unzlibSync(packed, { out: new Uint8Array(size) }));
  register([PACK_BITS], decodePackBits);
  register([ZSTANDARD], decodeZstandard);
  // Of these a stream's size cannot be known before it is decoded.
  register([34887, 50001], refuse);
}
