import Papa from 'papaparse';
import { z } from 'zod';
import { FileError } from '../../errors';
import type { SpaceLights } from './space-light';

const MOST_ROWS = 100_000;

const number = z.coerce.number().refine(Number.isFinite, 'is no number');
const optional = z.preprocess(
  (value) => (value === '' || value === null ? undefined : value),
  number.optional(),
);

/** A row of places by frame. */
const rowSchema = z.object({
  frame: optional,
  name: z.coerce.string().default('Light'),
  x: number,
  y: number,
  z: number,
  gain: optional,
  tint: z.preprocess(
    (value) => (value === '' ? undefined : value),
    z
      .string()
      .regex(/^#[0-9a-f]{6}$/i, 'wants #rrggbb')
      .optional(),
  ),
});

function toLights(rows: readonly unknown[], where: string, first: number): SpaceLights {
  if (rows.length === 0)
    throw new FileError('it holds no lights', { where, todo: 'Give rows with frame, name, x, y, z' });
  if (rows.length > MOST_ROWS)
    throw new FileError(`it holds ${rows.length} rows; up to ${MOST_ROWS} are read`, { where });
  const lights = rows.map((row, index) => {
    const result = rowSchema.safeParse(row);
    if (!result.success) {
      const [issue] = result.error.issues;
      throw new FileError(
        `row ${index + first}, ${issue!.path.join('.') || 'the whole'}: ${issue!.message}`,
        {
          where,
          todo: 'Give x, y and z in metres from the camera, which looks along -z with y up',
        },
      );
    }
    const { x, y, z: depth, ...light } = result.data;
    return { ...light, px: x, py: y, pz: depth };
  });
  return { lights, warnings: [] };
}

/** Places of lights from a table with a line of headings: `frame`, `name`, `x`, `y`, `z`, and, if it has them, `gain` and `tint`. */
export function readCsvLights(text: string, where: string): SpaceLights {
  const { data, meta } = Papa.parse<Record<string, string>>(text, {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (heading) => heading.trim().toLowerCase(),
  });
  const missing = ['x', 'y', 'z'].filter((heading) => !meta.fields?.includes(heading));
  if (missing.length > 0)
    throw new FileError(`it has no column ${missing.join(', ')}`, {
      where,
      todo: 'Begin with a line of headings: frame,name,x,y,z',
    });
  // Lines count from 1, the headings among them.
  return toLights(data, where, 2);
}

/** The same as JSON: a list of such rows, or an object with the list `lights`. */
export function readJsonLights(data: unknown, where: string): SpaceLights {
  const list = Array.isArray(data) ? data : (data as { lights?: unknown } | null)?.lights;
  if (!Array.isArray(list))
    throw new FileError('it is no list of lights', {
      where,
      todo: 'Give a list of objects with frame, name, x, y, z',
    });
  return toLights(list, where, 1);
}
