import { createReadStream } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { configure, ZipWriter } from '@zip.js/zip.js';

configure({ useWebWorkers: false });

/** Files of a folder as one archive, read as they are sent. `onEnd` is called when all of it has been taken. */
export function zipStream(
  { folder, names }: { folder: string; names: readonly string[] },
  onEnd: () => void,
): ReadableStream<Uint8Array> {
  const { readable, writable } = new TransformStream<Uint8Array, Uint8Array>();
  const write = async (): Promise<void> => {
    const writer = new ZipWriter(writable, { level: 0 });
    for (const name of names) {
      const file = Readable.toWeb(createReadStream(join(folder, name)));
      await writer.add(name, file as ReadableStream<Uint8Array>);
    }
    await writer.close();
    onEnd();
  };
  // Who stops reading has no use for the rest.
  write().catch((error: unknown) => void writable.abort(error).catch(() => undefined));
  return readable;
}
