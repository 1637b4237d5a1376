import { execFile } from 'node:child_process';
import { join } from 'node:path';

export const BIN = join(__dirname, '../../bin/bokelux.mjs');

export interface Ended {
  code: number;
  out: string;
  err: string;
}

/** Runs the built command line as a script would. */
export function bokelux(...args: string[]): Promise<Ended> {
  return new Promise((resolve) => {
    execFile(process.execPath, [BIN, ...args], { maxBuffer: 1 << 26 }, (error, out, err) =>
      resolve({ code: error ? Number(error.code) : 0, out, err }),
    );
  });
}
