import { deflateSync } from 'node:zlib';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { BokeluxError, FileError } from '../../src/core/errors';
import { openPicture } from '../../src/core/formats/open';
import { decodeLzw } from '../../src/core/formats/tiff/lzw';
import { bytesSource, openArchive } from '../../src/core/shot/archive';
import { filesOf } from '../../src/core/shot/shot';
import { corpus } from '../fuzz/corpus';
import { damagedFile } from '../fuzz/mutate';

// The JPEG decoder says aloud what it finds.
beforeAll(() => void jest.spyOn(console, 'error').mockImplementation(() => undefined));

const FIXTURES = join(__dirname, '../../fixtures');

/** Opens a shot and reads all that it holds. */
async function readShot(bytes: Uint8Array, name: string): Promise<void> {
  const { shot, read } = await openArchive(bytesSource(bytes), name);
  for (const { id } of filesOf(shot)) await read(id);
}

describe('damaged files', () => {
  it('end in a picture or in words, whatever was done to them', async () => {
    const files = await corpus(join(FIXTURES, 'exr'));
    const ends = new Set<string>();
    for (let index = 0; index < 500; index++) {
      const { name, bytes } = damagedFile(files, 11, index);
      try {
        if (name.endsWith('.bokelux')) await readShot(bytes, name);
        else await openPicture(bytes, name);
        ends.add('read');
      } catch (error) {
        if (!(error instanceof BokeluxError)) throw error;
        ends.add('refused');
      }
    }
    expect([...ends].sort()).toEqual(['read', 'refused']);
  });

  it('are the same for the same seed', async () => {
    const files = await corpus(join(FIXTURES, 'exr'));
    expect(damagedFile(files, 3, 42)).toEqual(damagedFile(files, 3, 42));
    expect(damagedFile(files, 3, 42).bytes).not.toEqual(damagedFile(files, 4, 42).bytes);
  });
});

describe('streams that grow', () => {
  it('of LZW end within the block that the header declares', async () => {
    // A package that trusts such a stream ends the process.
    const bytes = new Uint8Array(readFileSync(join(FIXTURES, 'tiff/lzw-grows.tiff')));
    await expect(openPicture(bytes, 'lzw-grows.tiff')).rejects.toThrow(FileError);
  });

  it('of PNG are refused before memory is taken for them', async () => {
    const size = 400 * 2 ** 20;
    const small = await sharp({ create: { width: 16, height: 16, channels: 3, background: '#123456' } })
      .png()
      .toBuffer();
    const at = small.indexOf('IDAT') - 4;
    const data = deflateSync(Buffer.alloc(size), { level: 9 });
    const length = Buffer.alloc(4);
    length.writeUInt32BE(data.length);
    const file = Buffer.concat([small.subarray(0, at), length, Buffer.from('IDAT'), data, Buffer.alloc(4)]);
    await expect(openPicture(new Uint8Array(file), 'bomb.png')).rejects.toThrow(
      'more than its header declares',
    );
  });

  // Source: TIFF 6.0 (Adobe 1992), section 13, the worked example (from memory): 7 7 7 8 8 7 7 6 6 as codes of 9 bits.
  it('of LZW that are sound give the bytes of the standard’s example', () => {
    const codes = [256, 7, 258, 8, 8, 258, 6, 6, 257];
    const bits = codes.map((code) => code.toString(2).padStart(9, '0')).join('');
    const packed = Uint8Array.from(bits.match(/.{1,8}/g)!, (byte) => parseInt(byte.padEnd(8, '0'), 2));
    expect([...decodeLzw(packed, 9)]).toEqual([7, 7, 7, 8, 8, 7, 7, 6, 6]);
    expect([...decodeLzw(packed, 4)]).toEqual([7, 7, 7, 8]);
    expect([...decodeLzw(packed.subarray(0, 3), 9)]).toEqual([7, 0, 0, 0, 0, 0, 0, 0, 0]);
  });
});
