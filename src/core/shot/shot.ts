import { z } from 'zod';
import { FileError } from '../errors';
import { ROLE_VALUES } from '../image/roles';
import { defaultLook, parseLook, type Look } from '../look/look';
import { anchored } from '../look/track-edits';
import { lookAt, parseTracks, tracksDocument, type Tracks } from '../look/tracks';
import { MOST_ELEMENTS } from '../settings/element';
import { NEW_REEL, numbersOf, reelSchema, type Reel } from './reel';

export const SHOT_VERSION = 6;
export const SHOT_EXTENSION = 'bokelux';
export const MOST_PROOFS = 200;

const id = z.string().min(1).max(64);
const name = z.string().min(1).max(255);

/** A picture file as it came in; its bytes are kept apart, by its id. */
const fileSchema = z.strictObject({ id, name });

/** The files of one frame: a picture with all passes, or one for each pass. */
const frameSchema = z.strictObject({
  frame: z.number().int().min(0).nullable(),
  files: z.array(fileSchema).min(1).max(500),
  /** Those of older versions that stand in for passes it may lack, the latest first. */
  older: z.array(fileSchema).max(500).optional(),
});

/** One rendering of a plate. */
const versionSchema = z.strictObject({ id, frames: z.array(frameSchema).min(1).max(100_000) });

const plateSchema = z
  .strictObject({
    id,
    name,
    /** Every rendering that was brought in, the oldest first. */
    versions: z.array(versionSchema).min(1).max(100),
    /** Which version, and which of its frames, is on the bench. */
    version: z.number().int().min(0).default(0),
    frame: z.number().int().min(0).default(0),
    /** What passes are where their names do not tell it, by name. */
    roles: z.record(z.string(), z.enum(ROLE_VALUES)).default({}),
    /** Plates of the shot that it is made of, back to front, itself among them; if it is alone, none. */
    elements: z.array(id).max(MOST_ELEMENTS).default([]),
  })
  .refine(
    ({ versions, version, frame }) =>
      version < versions.length && frame < (versions[version]?.frames.length ?? 0),
    { message: 'the version or frame does not exist' },
  );

const gain = z.number().min(0.001).max(1000);

/** A photograph to stand beside the picture. */
const referenceSchema = z.strictObject({
  id,
  name,
  file: fileSchema,
  /** Stops. */
  exposure: z.number().min(-20).max(20).default(0),
  /** Gain of each channel, which makes what is white in it white. */
  white: z.tuple([gain, gain, gain]).default([1, 1, 1]),
});

/** A look that was saved to compare with and return to, with its picture. */
const proofSchema = z.strictObject({
  id,
  name,
  note: z.string().max(2000).default(''),
  /** Milliseconds since 1970. */
  time: z.number().int().min(0),
  /** The render that it was saved of. */
  of: z.strictObject({ plate: id, version: id, frame: z.number().int().min(0) }),
  /** Its picture as it was seen; null if it is lost. */
  picture: fileSchema.nullable(),
  look: z.unknown(),
});

/** A shared look that a shot follows, as it was when it was taken or last taken anew. */
const followedSchema = z.strictObject({ name: z.string().min(1).max(200), look: z.unknown() });

/** Version 1 knew plates of one file, which had the plate's id. */
const plateOfVersion1 = z.strictObject({ id, name }).transform((plate) => plateOfFile(plate.id, plate.name));

const documentSchema = z.strictObject({
  kind: z.literal('bokelux shot'),
  version: z.number().int().min(1).max(SHOT_VERSION),
  name: z.string().min(1).max(200),
  plates: z.array(z.union([plateSchema, plateOfVersion1])).max(200),
  references: z.array(referenceSchema).max(200).default([]),
  images: z.array(fileSchema).max(200).default([]),
  proofs: z.array(proofSchema).max(MOST_PROOFS).default([]),
  activePlate: z.string().nullable(),
  look: z.unknown(),
  follows: followedSchema.nullable().default(null),
  tracks: z.unknown().optional(),
  reel: reelSchema.optional(),
});

export type PlateFile = z.output<typeof fileSchema>;
export type PlateVersion = z.output<typeof versionSchema>;
export type PlateEntry = z.output<typeof plateSchema>;
export type Reference = z.output<typeof referenceSchema>;
export type FollowedLook = Omit<z.output<typeof followedSchema>, 'look'> & { look: Look };
export type Proof = Omit<z.output<typeof proofSchema>, 'look'> & { look: Look };

/** What a plate has when it comes in. */
export const NEW_PLATE = { version: 0, frame: 0, roles: {}, elements: [] };

/** A plate of one version with one picture file, all under one id. */
export function plateOfFile(plate: string, file: string): PlateEntry {
  const frames = [{ frame: null, files: [{ id: plate, name: file }] }];
  return { ...NEW_PLATE, id: plate, name: file, versions: [{ id: plate, frames }] };
}

/** The unit of work, without the pixels. */
export interface Shot {
  name: string;
  plates: PlateEntry[];
  references: Reference[];
  /** Images that the look names: masks of the pupil, dirt. No two have the same name. */
  images: PlateFile[];
  /** The oldest first. */
  proofs: Proof[];
  activePlate: string | null;
  /** As it is at the playhead. */
  look: Look;
  /** The settings that change over time, each with a key at least. */
  tracks: Tracks;
  reel: Reel;
  /** The shared look that it follows with trims of its own; null if none. */
  follows: FollowedLook | null;
}

/** What there is before anything was opened. */
export const EMPTY_SHOT: Shot = {
  name: 'Untitled shot',
  plates: [],
  references: [],
  images: [],
  proofs: [],
  activePlate: null,
  look: defaultLook(),
  tracks: {},
  reel: NEW_REEL,
  follows: null,
};

/** Plates that are part of another as its elements, and that they are part of, by their ids. */
export function partsOfPlates(plates: readonly PlateEntry[]): Map<string, string> {
  return new Map(
    plates.flatMap(({ id: whole, elements }) =>
      elements.filter((part) => part !== whole).map((part): [string, string] => [part, whole]),
    ),
  );
}

/** The plates that a plate is made of, back to front. One that is not there is left out. */
export function elementsOfPlate(plate: PlateEntry, plates: readonly PlateEntry[]): PlateEntry[] {
  if (plate.elements.length === 0) return [plate];
  return plate.elements.flatMap((part) => plates.filter((one) => one.id === part));
}

/**
 * The frame of an element that belongs to a plate's frame: the one that it has on the bench if it is a single picture or the plate is, or
 * else the one of the same number; undefined if it has none of that number.
 */
export function frameAmongElements(element: PlateEntry, plate: PlateEntry): number | undefined {
  const own = element.versions[element.version]!.frames;
  const wanted = plate.versions[plate.version]!.frames[plate.frame]!.frame;
  if (element.id === plate.id || own.length === 1 || wanted === null) return element.frame;
  const index = own.findIndex(({ frame }) => frame === wanted);
  return index < 0 ? undefined : index;
}

/** The files of what of a plate is on the bench, those of older versions with what people call them. */
export function filesOnBench({
  versions,
  version,
  frame,
}: Pick<PlateEntry, 'versions' | 'version' | 'frame'>): (PlateFile & { older?: string })[] {
  const { files, older = [] } = versions[version]!.frames[frame]!;
  return [...files, ...older.map((file) => ({ ...file, older: renderOf(versions, file) }))];
}

/** What people call the version that a file came in with. */
export function renderOf(versions: readonly PlateVersion[], { id }: PlateFile): string {
  const index = versions.findIndex(({ frames }) =>
    frames.some(({ files }) => files.some((one) => one.id === id)),
  );
  return index < 0 ? 'an earlier version' : `version ${index + 1}`;
}

/** Every file that a shot names, once. */
export function filesOf({
  plates,
  references,
  images,
  proofs,
}: Pick<Shot, 'plates' | 'references' | 'images' | 'proofs'>): PlateFile[] {
  const all = [
    ...plates.flatMap(({ versions }) =>
      versions.flatMap(({ frames }) => frames.flatMap(({ files, older = [] }) => [...files, ...older])),
    ),
    ...references.map(({ file }) => file),
    ...images,
    ...proofs.flatMap(({ picture }) => picture ?? []),
  ];
  return [...new Map(all.map((file) => [file.id, file])).values()];
}

/** The plate that lies under the picture by a look, by its id; undefined if it is none, or a colour. */
export const plateUnder = ({ plate }: Look): string | undefined => plateOfBackground(plate.background);

/** The plate that a background is, by its id; undefined if it is none. */
export const plateOfBackground = (background: string): string | undefined =>
  background.startsWith(PLATE_UNDER) ? background.slice(PLATE_UNDER.length) : undefined;

/** A plate as a background. */
export const backgroundOf = (id: string): string => `${PLATE_UNDER}${id}`;

/** A look with a plate under the picture. */
export function withPlateUnder(look: Look, id: string): Look {
  return { ...look, plate: { ...look.plate, background: backgroundOf(id) } };
}

const PLATE_UNDER = 'plate:';

export function shotDocument(shot: Shot): unknown {
  return { kind: 'bokelux shot', version: SHOT_VERSION, ...shot, tracks: tracksDocument(shot.tracks) };
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
  const { name: shotName, plates, references, images, activePlate, look, follows } = result.data;
  const proofs = result.data.proofs.map((proof) => ({ ...proof, look: parseLook(proof.look, file) }));
  const known = new Set(plates.map((plate) => plate.id));
  for (const { id: whole, name: plateName, elements } of plates)
    if (elements.length > 0 && (!elements.includes(whole) || !elements.every((part) => known.has(part))))
      throw new FileError(
        `the shot's document is damaged: ${plateName} names elements that are not there`,
        where,
      );
  const own = parseLook(look, file);
  const tracks = anchored(parseTracks(result.data.tracks ?? tracksDocument({}), file), own);
  const reel = result.data.reel ?? {
    ...NEW_REEL,
    ...playheadOn(plates.find(({ id }) => id === activePlate)),
  };
  return {
    name: shotName,
    plates,
    references,
    images,
    proofs,
    activePlate,
    look: lookAt(own, tracks, reel.playhead),
    tracks,
    reel,
    follows: follows && { name: follows.name, look: parseLook(follows.look, file) },
  };
}

/** The playhead on the frame of a plate that is on the bench. */
function playheadOn(plate: PlateEntry | undefined): Partial<Reel> {
  if (!plate || numbersOf(plate).length === 0) return {};
  const { frame } = plate.versions[plate.version]!.frames[plate.frame]!;
  return frame === null ? {} : { playhead: frame };
}
