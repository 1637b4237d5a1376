import type { PrintAlpha } from '../../core/print/alpha';
import { MOST_WIDTH } from '../../core/print/limits';
import type { PrintFormat, PrintPrimaries } from '../../core/print/print';

export interface Kind {
  label: string;
  help: string;
  ending: string;
  format: PrintFormat;
}

export const SCENE = 'Scene-linear; the view is not applied.';
export const DISPLAY = 'Display-ready, through the view of the film.';

export const KINDS: readonly Kind[] = [
  {
    label: 'OpenEXR half',
    help: `${SCENE} 16-bit floats.`,
    ending: 'exr',
    format: { kind: 'exr', samples: 'half', separations: false },
  },
  {
    label: 'OpenEXR float',
    help: `${SCENE} 32-bit floats.`,
    ending: 'exr',
    format: { kind: 'exr', samples: 'float', separations: false },
  },
  { label: 'PNG 8 bit', help: DISPLAY, ending: 'png', format: { kind: 'png', bits: 8 } },
  { label: 'PNG 16 bit', help: `${DISPLAY} Finer steps.`, ending: 'png', format: { kind: 'png', bits: 16 } },
  { label: 'TIFF 8 bit', help: DISPLAY, ending: 'tiff', format: { kind: 'tiff', samples: '8' } },
  {
    label: 'TIFF 16 bit',
    help: `${DISPLAY} Finer steps.`,
    ending: 'tiff',
    format: { kind: 'tiff', samples: '16' },
  },
  {
    label: 'TIFF float',
    help: `${SCENE} 32-bit floats.`,
    ending: 'tiff',
    format: { kind: 'tiff', samples: 'float' },
  },
  {
    label: 'Radiance HDR',
    help: `${SCENE} 8 bits and a shared exponent.`,
    ending: 'hdr',
    format: { kind: 'hdr' },
  },
  { label: 'PFM', help: `${SCENE} 32-bit floats, unpacked.`, ending: 'pfm', format: { kind: 'pfm' } },
];

export const PRIMARIES: readonly { value: PrintPrimaries; label: string }[] = [
  { value: 'rec709', label: 'Rec.709' },
  { value: 'acescg', label: 'ACEScg' },
  { value: 'plate', label: "The plate's own" },
];

export const ALPHAS: readonly { value: PrintAlpha; label: string }[] = [
  { value: 'none', label: 'None' },
  { value: 'unassociated', label: 'Unassociated' },
  { value: 'associated', label: 'Associated' },
];

/** The kinds of alpha that a kind of file can have. */
export function alphasOf({ format }: Kind): typeof ALPHAS {
  if (format.kind === 'tiff') return ALPHAS;
  return format.kind === 'png' ? ALPHAS.filter(({ value }) => value !== 'associated') : [];
}

/** A typed number of pixels across; empty is the picture's own, and undefined what is none. */
export function readWidth(text: string, own: number): number | undefined {
  const value = text.trim() === '' ? own : Number(text);
  return Number.isInteger(value) && value >= 1 && value <= MOST_WIDTH ? value : undefined;
}

export function formatOf({ format }: Kind, separations: boolean): PrintFormat {
  return format.kind === 'exr' ? { ...format, separations } : format;
}
