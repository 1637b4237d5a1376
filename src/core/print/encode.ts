import type { Rgb } from '../image/rgb';
import { applyView, type View } from '../color/view';
import { writeHdr } from '../formats/hdr/write';
import { writePfm } from '../formats/pfm';
import { writePng } from '../formats/png/write';
import { writeTiff } from '../formats/tiff/write';
import { floatsToHalves } from '../image/half';
import { displayWithAlpha, lightWithAlpha } from './alpha';

/** Formats of one flat picture. Whole numbers go through a view; half, float, HDR and PFM stay scene-linear. */
export type FlatFormat =
  | { kind: 'png'; bits: 8 | 16 }
  | { kind: 'tiff'; samples: '8' | '16' | 'half' | 'float' }
  | { kind: 'hdr' }
  | { kind: 'pfm' };

/** The kind that a file's ending asks for; undefined for one that is not written. */
export function kindOfFile(name: string): FlatFormat['kind'] | 'exr' | undefined {
  switch (/\.(\w+)$/.exec(name)?.[1]?.toLowerCase()) {
    case 'exr':
      return 'exr';
    case 'png':
      return 'png';
    case 'tif':
    case 'tiff':
      return 'tiff';
    case 'hdr':
      return 'hdr';
    case 'pfm':
      return 'pfm';
    default:
      return undefined;
  }
}

/** Endings of the files that are written. */
export const WRITE_EXTENSIONS = ['exr', 'png', 'tiff', 'hdr', 'pfm'] as const;

/** Alpha of a flat file. */
export interface FlatAlpha {
  plane: Float32Array;
  isAssociated: boolean;
}

/** Writes red, green and blue, and alpha where it is given and the format holds it, as a file of a flat format. */
export function encodeFlat(
  rgb: Rgb,
  width: number,
  height: number,
  format: FlatFormat,
  view: View,
  alpha?: FlatAlpha,
): Uint8Array<ArrayBuffer> {
  switch (format.kind) {
    case 'hdr':
      return writeHdr(rgb, width, height);
    case 'pfm':
      return writePfm(rgb, width, height);
    case 'png':
      return writePng(viewed(rgb, view, alpha), width, height, format.bits, alpha ? 4 : 3);
    case 'tiff':
      return writeTiff({
        width,
        height,
        channels: alpha ? 4 : 3,
        isAssociated: alpha?.isAssociated,
        ...tiffSamples(rgb, format.samples, view, alpha),
      });
  }
}

function viewed(rgb: Rgb, view: View, alpha: FlatAlpha | undefined): Float32Array {
  const encoded = new Float32Array(rgb[0].length * 3);
  applyView(view, rgb, 1, encoded);
  return alpha ? displayWithAlpha(encoded, alpha.plane, alpha.isAssociated) : encoded;
}

function tiffSamples(
  rgb: Rgb,
  samples: '8' | '16' | 'half' | 'float',
  view: View,
  alpha: FlatAlpha | undefined,
): { data: Uint8Array | Uint16Array | Float32Array; half?: boolean } {
  if (samples === '8' || samples === '16') {
    const encoded = viewed(rgb, view, alpha);
    const top = samples === '8' ? 255 : 65535;
    const data = samples === '8' ? new Uint8Array(encoded.length) : new Uint16Array(encoded.length);
    for (let i = 0; i < encoded.length; i++) data[i] = Math.round(encoded[i]! * top);
    return { data };
  }
  const woven = alpha ? lightWithAlpha(rgb, alpha.plane, alpha.isAssociated) : weave(rgb);
  return samples === 'half' ? { data: floatsToHalves(woven), half: true } : { data: woven };
}

function weave(rgb: Rgb): Float32Array {
  const woven = new Float32Array(rgb[0].length * 3);
  for (const [c, plane] of rgb.entries()) for (let i = 0; i < plane.length; i++) woven[i * 3 + c] = plane[i]!;
  return woven;
}
