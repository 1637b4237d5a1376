import { z } from 'zod';
import { MOST_WIDTH } from './limits';

const frameRange = z
  .string()
  .max(2000)
  .regex(/^-?\d+(--?\d+)?(x\d+)?(,-?\d+(--?\d+)?(x\d+)?)*$/, 'frames as 1-24,30 are wanted');

/** How a reel is printed by the server: what the page asks for, and what the command line is told. */
export const printOptionsSchema = z.strictObject({
  /** What people call the print; its files, too. */
  name: z
    .string()
    .min(1)
    .max(120)
    .regex(/^[^/\\\0]+$/, 'a name without slashes is wanted')
    .refine((name) => !name.startsWith('.'), { message: 'a name that does not begin with a dot is wanted' }),
  kind: z.enum(['exr', 'png', 'tiff', 'hdr', 'pfm']),
  /** Samples of OpenEXR, and of PNG and TIFF. */
  samples: z.enum(['half', 'float', '8', '16']).default('half'),
  separations: z.boolean().default(false),
  primaries: z.enum(['rec709', 'acescg', 'plate']).default('rec709'),
  beforeFilm: z.boolean().default(false),
  alpha: z.enum(['none', 'associated', 'unassociated']).default('none'),
  width: z.number().int().min(1).max(MOST_WIDTH).optional(),
  frames: frameRange.optional(),
  /** Digits of a frame's number. */
  digits: z.number().int().min(1).max(9).default(4),
});

export type PrintOptions = z.output<typeof printOptionsSchema>;

/** The pattern of the files' names. */
export const patternOf = ({ name, kind, digits }: PrintOptions): string =>
  `${name.replace(/[#%]/g, '_')}.${'#'.repeat(digits)}.${kind}`;
