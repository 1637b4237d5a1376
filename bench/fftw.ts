import { spawn, spawnSync } from 'node:child_process';
import { createInterface } from 'node:readline';

/** The native library's own time for a convolution of three planes, in milliseconds. */
export interface Fftw {
  convolve(): Promise<number>;
  close(): void;
}

/** Compiles and starts the reference; undefined where there is no compiler or no FFTW. */
export async function startFftw(
  planes: { width: number; height: number; length: number; rows: number },
  threads: number,
): Promise<Fftw | undefined> {
  const program = 'dist/fftw';
  const compiled = spawnSync('cc', [
    '-O3',
    '-march=native',
    'bench/fftw.c',
    '-o',
    program,
    '-lfftw3f_threads',
    '-lfftw3f',
    '-lpthread',
    '-lm',
  ]);
  if (compiled.status !== 0) return undefined;
  const { width, height, length, rows } = planes;
  const child = spawn(program, [width, height, length, rows, threads].map(String));
  const lines = createInterface({ input: child.stdout })[Symbol.asyncIterator]();
  await lines.next();
  return {
    async convolve() {
      child.stdin.write('\n');
      return Number((await lines.next()).value);
    },
    close: () => child.kill(),
  };
}
