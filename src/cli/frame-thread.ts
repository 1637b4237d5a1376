import { parentPort, workerData } from 'node:worker_threads';
import { BokeluxError } from '../core/errors';
import { serialRunner } from '../core/jobs';
import { ContentCache } from '../core/light/cache';
import type { ResolvedLight } from '../core/light/resolved-light';
import type { ShotArchive } from '../core/shot/archive';
import type { FrameAnswer, FrameJob, FrameThreadData } from './frame-job';
import { renderFile } from './render-file';
import { readShot } from './source';

/** What frames have in common, such as the image of the pupil, is computed once a thread. */
const CACHE_BYTES = 384 * 1024 ** 2;

const { tracks, shot: shotFile } = workerData as FrameThreadData;
let shot: ShotArchive | undefined;
const cache = new ContentCache(CACHE_BYTES);
const known = new Map<string, readonly ResolvedLight[]>();

async function printFrame({ files, options, around }: FrameJob): Promise<FrameAnswer> {
  const begun = performance.now();
  const took = (): number => Math.round(performance.now() - begun);
  try {
    if (shotFile !== undefined) shot ??= await readShot([shotFile]);
    const { warnings } = await renderFile(files, options, {
      ...{ runner: serialRunner, tracks, shot, cache, around, known, mustBeWhole: true },
    });
    return { milliseconds: took(), warnings };
  } catch (error) {
    if (!(error instanceof BokeluxError)) throw error;
    return { milliseconds: took(), warnings: [], failure: error.line };
  }
}

parentPort!.on('message', (job: FrameJob) => {
  void printFrame(job).then(
    (answer) => parentPort!.postMessage(answer),
    (error: unknown) => {
      // Our own fault ends the thread; the reel tells which frame it was at.
      setImmediate(() => {
        throw error;
      });
    },
  );
});
