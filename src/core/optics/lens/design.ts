import { z } from 'zod';
import { FileError } from '../../errors';

/** A surface of a lens and the medium behind it. Millimetres. */
const surfaceSchema = z.object({
  /** Of curvature, positive if its middle lies behind it; null is flat. */
  radius: z
    .number()
    .refine((radius) => Math.abs(radius) > 1e-3, 'is no radius')
    .nullable(),
  /** To the next surface; of the last, to the sensor. */
  thickness: z.number().min(0),
  /** Index at the d line, and Abbe number, of what follows; null is none (air). */
  nd: z.number().min(1).max(4),
  vd: z.number().min(1).max(200).nullable(),
  /** Half the diameter that lets light through. */
  semiAperture: z.number().positive(),
  stop: z.boolean().default(false),
});

export const designSchema = z.object({
  id: z.string().regex(/^[a-z0-9][a-z0-9.-]{0,63}$/, 'wants small letters, digits, dots and dashes'),
  focalLength: z.number().positive(),
  fNumber: z.number().positive(),
  /** Half the field that it was made for, degrees. */
  semiFieldDeg: z.number().positive().max(89),
  source: z.string().max(500).optional(),
  surfaces: z.array(surfaceSchema).min(2).max(60),
});

/** A lens as its prescription tells it, light coming from the left. */
export type LensDesign = z.output<typeof designSchema>;

/** Reads a design, or the only one of a list (`lenses`). Throws {@link FileError} that names the surface that does not fit. */
export function parseLensDesign(data: unknown, where: string): LensDesign {
  const list = typeof data === 'object' && data !== null && 'lenses' in data ? data.lenses : undefined;
  if (Array.isArray(list) && list.length !== 1)
    throw new FileError(`it holds ${list.length} lens designs; one is wanted`, { where });
  const result = designSchema.safeParse(Array.isArray(list) ? list[0] : data);
  if (!result.success) {
    const [issue] = result.error.issues;
    throw new FileError(`the lens design is not right: ${placeOf(issue!.path)} ${issue!.message}`, {
      where,
      todo: 'Give radius, thickness, nd, vd, semiAperture in mm for every surface, and one stop',
    });
  }
  checkSurfaces(result.data, where);
  return result.data;
}

/** `surface 3, radius:` or `focalLength:` */
function placeOf(path: readonly PropertyKey[]): string {
  const [field, index, ...rest] = path.map(String);
  if (field !== 'surfaces' || index === undefined) return `${path.map(String).join('.') || 'the whole'}:`;
  return `surface ${index}${rest.length ? `, ${rest.join('.')}` : ''}:`;
}

function checkSurfaces({ surfaces }: LensDesign, where: string): void {
  const fail = (what: string, todo: string): never => {
    throw new FileError(`the lens design is not right: ${what}`, { where, todo });
  };
  const stops = surfaces.filter(({ stop }) => stop).length;
  if (stops !== 1) fail(`it has ${stops} stops`, 'Mark one surface as the stop');
  surfaces.forEach(({ radius, semiAperture }, index) => {
    if (radius !== null && semiAperture > Math.abs(radius))
      fail(
        `surface ${index} is ${semiAperture} mm high but has a radius of ${Math.abs(radius)} mm`,
        'A sphere ends at its radius',
      );
  });
  if (surfaces.at(-1)!.nd !== 1) fail('light does not leave the last surface into air', 'Give it nd 1');
}

/** The design as the file that it can be read from. */
export function lensDocument(design: LensDesign) {
  return { ...design, surfaces: design.surfaces.map((surface, index) => ({ index, ...surface })) };
}

/** The design at another focal length: every length times one factor. */
export function scaleLens(design: LensDesign, focalLength: number): LensDesign {
  const factor = focalLength / design.focalLength;
  const surfaces = design.surfaces.map((surface) => ({
    ...surface,
    radius: surface.radius === null ? null : surface.radius * factor,
    thickness: surface.thickness * factor,
    semiAperture: surface.semiAperture * factor,
  }));
  return { ...design, focalLength, surfaces };
}

/** The design with its stop as an f-number sets it: as listed at the design's own, in proportion otherwise. */
export function stopLens(design: LensDesign, fNumber: number): LensDesign {
  const factor = design.fNumber / fNumber;
  const surfaces = design.surfaces.map((surface) =>
    surface.stop ? { ...surface, semiAperture: surface.semiAperture * factor } : surface,
  );
  return { ...design, surfaces };
}
