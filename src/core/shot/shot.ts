import { unzipSync, zipSync, type Zippable } from 'fflate';
import { z } from 'zod';
import { FileError } from '../errors';
import { parseLook, type Look } from '../look/look';

export const SHOT_VERSION = 1;
export const SHOT_EXTENSION = 'bokelux';

/** A plate as the shot's document names it; its pixels are a file of their own. */
const plateEntrySchema = z.strictObject({ id: z.string().min(1).max(64), name: z.string().min(1).max(255) });

const documentSchema = z.strictObject({
  kind: z.literal('bokelux shot'),
  version: z.literal(SHOT_VERSION),
  name: z.string().min(1).max(200),
  plates: z.array(plateEntrySchema).max(200),
  activePlate: z.string().nullable(),
  look: z.unknown(),
});

export type PlateEntry = z.output<typeof plateEntrySchema>;

/** The unit of work, without the pixels. */
export interface Shot {
  name: string;
  plates: PlateEntry[];
  activePlate: string | null;
  look: Look;
}

export function shotDocument(shot: Shot): unknown {
  return { kind: 'bokelux shot', version: SHOT_VERSION, ...shot };
}

/** Reads a shot's document. Throws an error that says what does not fit. */
export function parseShot(data: unknown, file?: string): Shot {
  const where = file === undefined ? {} : { where: file };
  const version =
    typeof data === 'object' && data !== null ? (data as { version?: unknown }).version : undefined;
  if (typeof version === 'number' && version > SHOT_VERSION) {
    throw new FileError(`the shot has version ${version}; this program knows up to ${SHOT_VERSION}`, {
      ...where,
      todo: 'Open it with a newer Bokelux',
    });
  }
  const result = documentSchema.safeParse(data);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    throw new FileError(
      `the shot's document is damaged: ${issue.path.join('.') || 'top level'}: ${issue.message}`,
      where,
    );
  }
  const { name, plates, activePlate, look } = result.data;
  return { name, plates, activePlate, look: parseLook(look, file) };
}

/** A shot with its plates' files by plate id. */
export interface PackedShot {
  shot: Shot;
  files: Map<string, Uint8Array<ArrayBuffer>>;
}

const DOCUMENT = 'shot.json';
/** One shot file may unpack to this much. */
const MAX_UNPACKED = 4 * 1024 ** 3;

/** Puts a shot and its plates into one zip archive. Plates are compressed already and are stored as they are. */
export function packShot({ shot, files }: PackedShot): Uint8Array<ArrayBuffer> {
  const content: Zippable = {
    [DOCUMENT]: [new TextEncoder().encode(JSON.stringify(shotDocument(shot), null, 2)), { level: 6 }],
  };
  for (const plate of shot.plates) {
    const bytes = files.get(plate.id);
    if (!bytes) throw new FileError(`plate ${plate.name} has no file`);
    content[plateFile(plate)] = [bytes, { level: 0 }];
  }
  return new Uint8Array(zipSync(content));
}

function plateFile(plate: PlateEntry): string {
  return `plates/${plate.id}.exr`;
}

/** Takes a shot file apart. Throws {@link FileError} for anything that is not one. */
export function unpackShot(bytes: Uint8Array, file: string): PackedShot {
  let total = 0;
  let content: Record<string, Uint8Array>;
  try {
    content = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        total += originalSize;
        if (total > MAX_UNPACKED)
          throw new FileError('the shot file unpacks to more than 4 GiB', { where: file });
        return name === DOCUMENT || name.startsWith('plates/');
      },
    });
  } catch (error) {
    if (error instanceof FileError) throw error;
    throw new FileError('this is not a shot file, or it is damaged', {
      where: file,
      todo: 'Choose a file saved by Bokelux',
    });
  }
  const text = content[DOCUMENT];
  if (!text)
    throw new FileError(`the archive holds no ${DOCUMENT}`, {
      where: file,
      todo: 'Choose a file saved by Bokelux',
    });
  let data: unknown;
  try {
    data = JSON.parse(new TextDecoder().decode(text));
  } catch {
    throw new FileError(`${DOCUMENT} is not JSON`, { where: file });
  }
  const shot = parseShot(data, file);
  const files = new Map<string, Uint8Array<ArrayBuffer>>();
  for (const plate of shot.plates) {
    const found = content[plateFile(plate)];
    if (!found) throw new FileError(`the archive lacks the file of plate ${plate.name}`, { where: file });
    files.set(plate.id, new Uint8Array(found));
  }
  return { shot, files };
}
