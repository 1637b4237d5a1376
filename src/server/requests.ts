import { createWriteStream } from 'node:fs';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/** A shot that comes in may be so large. */
const MOST_BYTES = Number(process.env['BOKELUX_MOST_BYTES']) || 64 * 1024 ** 3;

/** Why a request is refused, with its status. */
export class RefusedError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

const LOCAL = ['localhost', '127.0.0.1', '[::1]'];

/**
 * Refuses what comes from the page of another origin, and, where the server is this machine's alone, what calls it by a name that is not:
 * a foreign name may have been made to lead here.
 */
export function checkOrigin({ headers }: Request): void {
  const host = headers.get('host') ?? '';
  const bound = process.env['HOST'] || '127.0.0.1';
  const isLocal = ['127.0.0.1', 'localhost', '::1'].includes(bound);
  if (isLocal && !LOCAL.includes(host.replace(/:\d+$/, '')))
    throw new RefusedError(403, 'this server is called by another name');
  const site = headers.get('sec-fetch-site');
  if (site !== null && site !== 'same-origin' && site !== 'none')
    throw new RefusedError(403, 'pages of other origins may not print here');
  const origin = headers.get('origin');
  if (origin === null) return;
  let from = '';
  try {
    from = new URL(origin).host;
  } catch {
    // It is no address, and so not ours.
  }
  if (from !== host) throw new RefusedError(403, 'pages of other origins may not print here');
}

/** Writes a request's body to disk as it comes. */
export async function saveBody(request: Request, path: string): Promise<void> {
  const tooLarge = new RefusedError(413, `a shot may have ${MOST_BYTES} bytes here`);
  if (Number(request.headers.get('content-length') ?? 0) > MOST_BYTES) throw tooLarge;
  if (!request.body) throw new RefusedError(400, 'a shot is wanted as the body');
  let count = 0;
  const counted = async function* (source: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
    for await (const bytes of source) {
      count += bytes.length;
      if (count > MOST_BYTES) throw tooLarge;
      yield bytes;
    }
  };
  try {
    const body = Readable.fromWeb(request.body as Parameters<typeof Readable.fromWeb>[0]);
    await pipeline(body, counted, createWriteStream(path, { mode: 0o600 }));
  } catch (error) {
    if (error instanceof RefusedError) throw error;
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOSPC') throw new RefusedError(507, 'the disk of the server is full');
    throw new RefusedError(400, 'the shot did not come in whole');
  }
}

/** Answers a request; what is refused is told in words. */
export async function answer(request: Request, work: () => Promise<Response> | Response): Promise<Response> {
  try {
    checkOrigin(request);
    return await work();
  } catch (error) {
    if (error instanceof RefusedError)
      return Response.json({ error: error.message }, { status: error.status });
    console.error(error);
    return Response.json({ error: 'an error of ours; the server has written down what' }, { status: 500 });
  }
}
