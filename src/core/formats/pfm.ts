import { FileError } from '../errors';
import { addChannel, emptyPicture, type Picture } from '../image/picture';
import { COPY_AGAIN, guardSize } from './limits';

/**
 * Portable float map: `PF` (colour) or `Pf` (grey), width and height, a scale whose sign tells the order of bytes, then
 * rows of floats from the bottom up (Debevec, "PFM portable floatmap", 2001).
 */
export function readPfm(bytes: Uint8Array): Picture {
  // Three tokens after the magic, each ended by one white space; the data follow at once.
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 256));
  const match = /^P([Ff])\s+(\d+)\s+(\d+)\s+([-+]?[\d.]+(?:[eE][-+]?\d+)?)\s/.exec(head);
  if (!match) throw new FileError('the header of the PFM cannot be understood', COPY_AGAIN);
  const channels = match[1] === 'F' ? 3 : 1;
  const [width, height, scale] = [Number(match[2]), Number(match[3]), Number(match[4])];
  const size = width * height * channels * 4;
  guardSize(width, height, size, bytes.length);
  if (bytes.length - match[0].length < size)
    throw new FileError(`the PFM ends too early: ${size} bytes of pixels are promised`, COPY_AGAIN);
  const little = scale < 0;
  const view = new DataView(bytes.buffer, bytes.byteOffset + match[0].length, size);
  const picture = { ...emptyPicture(width, height), compression: 'pfm' };
  const names = channels === 3 ? ['R', 'G', 'B'] : ['Y'];
  for (const [c, name] of names.entries()) {
    const samples = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      const row = (height - 1 - y) * width;
      for (let x = 0; x < width; x++)
        samples[y * width + x] = view.getFloat32(((row + x) * channels + c) * 4, little);
    }
    addChannel(picture, name, 'float', samples);
  }
  return picture;
}

/** Writes one or three planes as a portable float map, little-endian. */
export function writePfm(
  planes: readonly Float32Array[],
  width: number,
  height: number,
): Uint8Array<ArrayBuffer> {
  const channels = planes.length;
  const head = new TextEncoder().encode(`${channels === 3 ? 'PF' : 'Pf'}\n${width} ${height}\n-1.0\n`);
  const out = new Uint8Array(head.length + width * height * channels * 4);
  out.set(head);
  const view = new DataView(out.buffer, head.length);
  for (let y = 0; y < height; y++) {
    const row = (height - 1 - y) * width;
    for (let x = 0; x < width; x++)
      for (const [c, plane] of planes.entries())
        view.setFloat32(((row + x) * channels + c) * 4, plane[y * width + x]!, true);
  }
  return out;
}
