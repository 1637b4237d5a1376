import { Uint8ArrayReader, ZipWriter } from '@zip.js/zip.js';

/** An archive that is being written; its files are stored as they are. */
export interface OpenZip {
  add: (name: string, bytes: Uint8Array) => Promise<void>;
  /** Gives the archive, unless it went into a file. */
  close: () => Promise<Blob | null>;
}

/** Begins an archive, in a file or as a blob, which the browser lays on disk by itself. Beyond 4 GiB it is a ZIP64 archive. */
export async function openZip(into: FileSystemFileHandle | undefined): Promise<OpenZip> {
  const stream = new TransformStream<Uint8Array, Uint8Array>();
  const blob = into
    ? undefined
    : new Response(stream.readable as ReadableStream<Uint8Array<ArrayBuffer>>).blob();
  const writer = new ZipWriter(into ? await into.createWritable() : stream.writable, { level: 0 });
  return {
    add: async (name, bytes) => void (await writer.add(name, new Uint8ArrayReader(bytes))),
    close: async () => {
      await writer.close();
      return blob ? blob : null;
    },
  };
}
