import { FileError, atFile } from '../errors';
import type { Picture } from '../image/picture';
import { readExr, type ReadOptions } from './exr/read';
import { readHdr } from './hdr/read';
import { readJpeg } from './jpeg/read';
import { readPfm } from './pfm';
import { readPng } from './png/read';
import { readTiff } from './tiff/read';

export interface OpenOptions extends ReadOptions {
  /** The values are data (depth, normals, mattes), so that whole numbers are not taken from the sRGB curve. */
  data?: boolean;
}

type Reader = (bytes: Uint8Array, options: OpenOptions) => Picture | Promise<Picture>;

/** Each format by the bytes it begins with. */
const FORMATS: readonly { begins: readonly number[]; read: Reader }[] = [
  { begins: [0x76, 0x2f, 0x31, 0x01], read: readExr },
  { begins: [0x23, 0x3f], read: readHdr },
  { begins: [0x49, 0x49, 0x2a, 0], read: (bytes, { data }) => readTiff(bytes, data ?? false) },
  { begins: [0x4d, 0x4d, 0, 0x2a], read: (bytes, { data }) => readTiff(bytes, data ?? false) },
  { begins: [0x49, 0x49, 0x2b, 0], read: (bytes, { data }) => readTiff(bytes, data ?? false) },
  { begins: [0x4d, 0x4d, 0, 0x2b], read: (bytes, { data }) => readTiff(bytes, data ?? false) },
  { begins: [0x89, 0x50, 0x4e, 0x47], read: (bytes, { data }) => readPng(bytes, data ?? false) },
  { begins: [0xff, 0xd8, 0xff], read: (bytes, { data }) => readJpeg(bytes, data ?? false) },
  { begins: [0x50, 0x46], read: readPfm },
  { begins: [0x50, 0x66], read: readPfm },
];

/** Reads a picture file of any kind that is understood, by its first bytes. Errors name the file. */
export async function openPicture(
  bytes: Uint8Array,
  name: string,
  options: OpenOptions = {},
): Promise<Picture> {
  try {
    if (bytes.length === 0) throw new FileError('the file is empty');
    const format = FORMATS.find(({ begins }) => begins.every((value, i) => bytes[i] === value));
    if (!format)
      throw new FileError('this is not a picture that is understood', {
        todo: 'Choose OpenEXR, Radiance HDR, TIFF, PNG, JPEG or PFM',
      });
    return await format.read(bytes, options);
  } catch (error) {
    throw atFile(error, name);
  }
}
