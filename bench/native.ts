import { spawn, spawnSync } from 'node:child_process';
import { createInterface } from 'node:readline';

/** A compiled reference that does its work when told to, and says how long it took. */
export interface NativeReference {
  /** Sends a line, and gives the milliseconds that the program answers. */
  time(line: string): Promise<number>;
  close(): void;
}

/**
 * Compiles a reference program and starts it, and waits for its first line, when it is ready. Undefined where there is no
 * compiler or not the library.
 */
async function startNative(
  compiler: string,
  source: string,
  libraries: readonly string[],
  args: readonly (string | number)[],
): Promise<NativeReference | undefined> {
  const program = `dist/${source.replace(/\W/g, '-')}`;
  const compiled = spawnSync(compiler, ['-O3', '-march=native', source, '-o', program, ...libraries]);
  if (compiled.status !== 0) return undefined;
  const child = spawn(program, args.map(String));
  const lines = createInterface({ input: child.stdout })[Symbol.asyncIterator]();
  await lines.next();
  return {
    async time(line) {
      child.stdin.write(`${line}\n`);
      return Number((await lines.next()).value);
    },
    close: () => child.kill(),
  };
}

/** FFTW convolving three planes, at any line. */
export function startFftw(
  { width, height, length, rows }: { width: number; height: number; length: number; rows: number },
  threads: number,
): Promise<NativeReference | undefined> {
  const libraries = ['-lfftw3f_threads', '-lfftw3f', '-lpthread', '-lm'];
  return startNative('cc', 'bench/fftw.c', libraries, [width, height, length, rows, threads]);
}

/** The reference implementation of OpenEXR; it leaves a file of each compression in `folder`. */
export function startOpenExr(
  folder: string,
  width: number,
  height: number,
  threads: number,
  compressions: readonly string[],
): Promise<NativeReference | undefined> {
  const found = spawnSync('pkg-config', ['--cflags', '--libs', 'OpenEXR'], { encoding: 'utf8' });
  const libraries = (found.stdout ?? '').split(/\s+/).filter(Boolean);
  return startNative('c++', 'bench/openexr.cpp', libraries, [
    folder,
    width,
    height,
    threads,
    ...compressions,
  ]);
}
