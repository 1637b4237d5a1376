import { availableParallelism } from 'node:os';
import { parentPort, Worker } from 'node:worker_threads';

/**
 * Hands a picture's rows one by one to a worker on every core, so that quick and slow parts even out. Each worker runs
 * `script`, which calls {@link serveRows}.
 */
export async function overRows<Row>(
  script: string,
  workerData: unknown,
  height: number,
  take: (row: Row) => void,
): Promise<void> {
  let next = 0;
  let done = 0;
  const started = Date.now();
  const seconds = (): number => (Date.now() - started) / 1000;
  const serve = (worker: Worker): Promise<void> =>
    new Promise<void>((resolve, reject) => {
      const feed = (): void => {
        if (next < height) worker.postMessage(next++);
        else void worker.terminate().then(() => resolve());
      };
      worker.on('error', reject);
      worker.on('message', (row: Row) => {
        take(row);
        done++;
        const left = Math.round((seconds() / done) * (height - done));
        if (process.stderr.isTTY) process.stderr.write(`\rrow ${done} of ${height}, ${left} s left   `);
        else if (done % 100 === 0) process.stderr.write(`row ${done} of ${height}, ${left} s left\n`);
        feed();
      });
      feed();
    });
  await Promise.all(
    Array.from({ length: availableParallelism() }, () => serve(new Worker(script, { workerData }))),
  );
  process.stderr.write(`${process.stderr.isTTY ? '\r' : ''}rendered in ${Math.round(seconds())} s\n`);
}

/** In a worker: answers each row that is asked for, with the buffers to hand over. */
export function serveRows<Row>(render: (y: number) => { row: Row; transfer: ArrayBuffer[] }): void {
  parentPort!.on('message', (y: number) => {
    const { row, transfer } = render(y);
    parentPort!.postMessage(row, transfer);
  });
}
