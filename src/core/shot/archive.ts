import {
  configure,
  Reader,
  Uint8ArrayReader,
  Uint8ArrayWriter,
  ZipReader,
  ZipWriter,
  type FileEntry,
} from '@zip.js/zip.js';
import { FileError } from '../errors';
import { filesOf, parseShot, shotDocument, type PlateFile, type Shot } from './shot';

// What calls this is a worker, or a program of its own.
configure({ useWebWorkers: false });

const DOCUMENT = 'shot.json';
/** The document alone may be so long. */
const MOST_DOCUMENT = 256 * 1024 ** 2;

/** Something of which any part can be read: a file on disk, a blob, bytes. */
export interface RandomAccess {
  size: number;
  read: (offset: number, length: number) => Promise<Uint8Array>;
}

/** A shot whose files stay where they are until they are asked for. */
export interface ShotArchive {
  shot: Shot;
  /** The bytes of one of its files, by its id. */
  read: (id: string) => Promise<Uint8Array<ArrayBuffer>>;
  /** Where the bytes of a file lie in the archive; undefined if they are compressed there. */
  locate: (id: string) => Promise<{ offset: number; size: number } | undefined>;
}

function pathOf(file: PlateFile): string {
  const ending = /\.(\w{1,8})$/.exec(file.name)?.[1]?.toLowerCase() ?? 'exr';
  return `plates/${file.id}.${ending}`;
}

export const bytesSource = (bytes: Uint8Array): RandomAccess => ({
  size: bytes.length,
  read: (offset, length) => Promise.resolve(bytes.subarray(offset, offset + length)),
});

class SourceReader extends Reader<RandomAccess> {
  constructor(private readonly source: RandomAccess) {
    super(source);
    this.size = source.size;
  }

  override async readUint8Array(offset: number, length: number): Promise<Uint8Array> {
    return this.source.read(offset, Math.min(length, this.size - offset));
  }
}

/** Opens a shot file of any size. Throws {@link FileError} for anything that is not one. */
export async function openArchive(source: RandomAccess, file: string): Promise<ShotArchive> {
  const entries = await entriesOf(source, file);
  const text = entries.get(DOCUMENT);
  if (!text)
    throw new FileError(`the archive holds no ${DOCUMENT}`, {
      where: file,
      todo: 'Choose a file saved by Bokelux',
    });
  if (text.uncompressedSize > MOST_DOCUMENT)
    throw new FileError(`${DOCUMENT} is far too long`, { where: file });
  const shot = parseShot(await readDocument(text, file), file);
  const named = new Map<string, FileEntry>();
  for (const one of filesOf(shot)) {
    const found = entries.get(pathOf(one)) ?? entries.get(`plates/${one.id}.exr`);
    if (!found) throw new FileError(`the archive lacks ${one.name}`, { where: file });
    named.set(one.id, found);
  }
  const entryOf = (id: string): FileEntry => {
    const entry = named.get(id);
    if (!entry) throw new FileError(`the shot names no file ${id}`, { where: file });
    return entry;
  };
  return {
    shot,
    read: (id) => unpack(entryOf(id), file),
    locate: (id) => placeOf(source, entryOf(id)),
  };
}

async function entriesOf(source: RandomAccess, file: string): Promise<Map<string, FileEntry>> {
  try {
    const entries = await new ZipReader(new SourceReader(source)).getEntries();
    return new Map(entries.flatMap((entry) => (entry.directory ? [] : [[entry.filename, entry]])));
  } catch {
    throw new FileError('this is not a shot file, or it is damaged', {
      where: file,
      todo: 'Choose a file saved by Bokelux',
    });
  }
}

async function unpack(entry: FileEntry, file: string): Promise<Uint8Array<ArrayBuffer>> {
  try {
    return new Uint8Array(await entry.getData(new Uint8ArrayWriter()));
  } catch {
    throw new FileError(`${entry.filename} in the archive is damaged`, { where: file });
  }
}

async function readDocument(entry: FileEntry, file: string): Promise<unknown> {
  const text = new TextDecoder().decode(await unpack(entry, file));
  try {
    return JSON.parse(text);
  } catch {
    throw new FileError(`${DOCUMENT} is not JSON`, { where: file });
  }
}

/** Length of a local file header without name and extra field. [APPNOTE 6.3.10, 4.3.7] */
const LOCAL_HEADER = 30;

async function placeOf(
  source: RandomAccess,
  { compressionMethod, offset, uncompressedSize }: FileEntry,
): Promise<{ offset: number; size: number } | undefined> {
  if (compressionMethod !== 0) return undefined;
  const header = await source.read(offset, LOCAL_HEADER);
  if (header.length < LOCAL_HEADER) return undefined;
  const view = new DataView(header.buffer, header.byteOffset, header.byteLength);
  const start = offset + LOCAL_HEADER + view.getUint16(26, true) + view.getUint16(28, true);
  return start + uncompressedSize <= source.size ? { offset: start, size: uncompressedSize } : undefined;
}

/** What gives the bytes of a file, at once or piece by piece. */
export type FileContent = Uint8Array | Blob | ReadableStream<Uint8Array>;

/**
 * Writes a shot and its files into a stream as one zip archive, one file after the other. Pictures are compressed already and are stored
 * as they are. Beyond 4 GiB it is a ZIP64 archive.
 */
export async function writeArchive(
  shot: Shot,
  read: (file: PlateFile) => Promise<FileContent | undefined>,
  target: WritableStream,
): Promise<void> {
  const writer = new ZipWriter(target, { level: 0 });
  const text = JSON.stringify(shotDocument(shot), null, 2);
  await writer.add(DOCUMENT, new Uint8ArrayReader(new TextEncoder().encode(text)), { level: 6 });
  for (const file of filesOf(shot)) {
    const content = await read(file);
    if (!content) throw new FileError(`the bytes of ${file.name} are missing`);
    await writer.add(pathOf(file), streamOf(content));
  }
  await writer.close();
}

function streamOf(content: FileContent): ReadableStream<Uint8Array> {
  if (content instanceof ReadableStream) return content;
  const stream =
    content instanceof Uint8Array ? new Response(new Uint8Array(content)).body! : content.stream();
  return stream as ReadableStream<Uint8Array>;
}

/** A shot with the bytes of its files by their ids. */
export interface PackedShot {
  shot: Shot;
  files: Map<string, Uint8Array<ArrayBuffer>>;
}

/** A small shot with its files as the bytes of an archive. */
export async function packShot({ shot, files }: PackedShot): Promise<Uint8Array<ArrayBuffer>> {
  const { readable, writable } = new TransformStream<Uint8Array<ArrayBuffer>, Uint8Array<ArrayBuffer>>();
  const bytes = new Response(readable).arrayBuffer();
  const writing = writeArchive(shot, ({ id }) => Promise.resolve(files.get(id)), writable);
  await Promise.race([writing, bytes.then(() => writing)]);
  return new Uint8Array(await bytes);
}
