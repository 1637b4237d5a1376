import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import type { ChildReport } from './child';

/** Damages files of every format, reads them in a child process, and tells of hangs, deaths, untyped errors and memory. */
const { values } = parseArgs({
  options: {
    count: { type: 'string', default: '2000' },
    seed: { type: 'string', default: '1' },
    fixtures: { type: 'string', default: 'fixtures/exr' },
  },
});
const [count, seed] = [Number(values.count), Number(values.seed)];
if (!Number.isInteger(count) || count < 1 || !Number.isInteger(seed)) {
  console.error('--count and --seed take whole numbers.');
  process.exit(2);
}

/** A file that takes longer hangs; a process that takes more memory is too large. */
const HANG_MS = 2000;
const MAX_BYTES = 512 * 1024 ** 2;
/** A child is followed by a fresh one after so many files, so that its peak tells of few. */
const FILES_PER_CHILD = 500;

interface Finding {
  what: 'hang' | 'death' | 'untyped' | 'memory';
  index: number;
  name: string;
  detail: string;
}

const findings: Finding[] = [];
const totals = { read: 0, refused: 0, slowest: 0, peak: 0 };
const child = fileURLToPath(new URL('./fuzz-child.mjs', import.meta.url));

/** Reads files from one on in a child; gives the index of the next that is to be read. */
function readSome(first: number): Promise<number> {
  return new Promise((resolve) => {
    const some = Math.min(FILES_PER_CHILD, count - first);
    const args = [values.fixtures, String(seed), String(first), String(some)];
    const process: ChildProcess = fork(child, args, { execArgv: ['--max-old-space-size=512'], silent: true });
    let current: ChildReport = { index: first, name: '', state: 'read', peak: 0 };
    let started = performance.now();
    let timer: NodeJS.Timeout | undefined;
    let hung = false;
    let output = '';
    process.stderr?.on('data', (text: Buffer) => (output = (output + text.toString()).slice(-2000)));
    process.on('message', (message) => {
      current = message as ChildReport;
      clearTimeout(timer);
      if (current.state === 'reading') {
        started = performance.now();
        timer = setTimeout(() => {
          hung = true;
          process.kill('SIGKILL');
        }, HANG_MS);
        return;
      }
      totals.slowest = Math.max(totals.slowest, performance.now() - started);
      if (current.state === 'untyped')
        findings.push({ what: 'untyped', ...current, detail: current.error ?? '' });
      else totals[current.state]++;
      if (current.peak > MAX_BYTES && totals.peak <= MAX_BYTES)
        findings.push({ what: 'memory', ...current, detail: `${(current.peak / 2 ** 20).toFixed(0)} MB` });
      totals.peak = Math.max(totals.peak, current.peak);
    });
    process.on('exit', () => {
      clearTimeout(timer);
      if (current.state !== 'reading') return resolve(current.index + (current.name === '' ? 0 : 1));
      const { index, name } = current;
      findings.push({ what: hung ? 'hang' : 'death', index, name, detail: output });
      resolve(index + 1);
    });
  });
}

for (let next = 0; next < count;) {
  const after = await readSome(next);
  if (after === next) {
    console.error('the child could not start');
    process.exit(1);
  }
  next = after;
  if (process.stderr.isTTY) process.stderr.write(`\r${next} of ${count}`);
}
for (const { what, index, name, detail } of findings)
  console.log(
    `${what}: file ${index} of seed ${seed}, from ${name}\n${detail.split('\n').slice(0, 6).join('\n')}`,
  );
const kinds = ['hang', 'death', 'untyped', 'memory'] as const;
const told = kinds.map((kind) => `${findings.filter(({ what }) => what === kind).length} ${kind}`).join(', ');
console.log(
  `${count} files of seed ${seed}: ${totals.read} read, ${totals.refused} refused; ${told}; ` +
    `slowest ${totals.slowest.toFixed(0)} ms, peak ${(totals.peak / 2 ** 20).toFixed(0)} MB`,
);
process.exit(findings.length ? 1 : 0);
