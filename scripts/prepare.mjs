// Makes sure that dependencies are installed and the application is built, and does neither twice.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { constants } from 'node:os';
import { join } from 'node:path';
import { root } from './root.mjs';

const at = (path) => join(root, path);
const INSTALL_STAMP = 'node_modules/.bokelux-installed';
const BUILD_STAMP = '.next/bokelux-built';
const KERNEL_STAMP = 'src/core/kernels/generated/made-from';

export function run(command, args, options = {}) {
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1', ...options.env };
  const { status, error } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options, env });
  if (error) throw error;
  return status ?? 1;
}

/** The same, but a signal that ends this process ends what it runs, too, as a long build. */
function runEnding(command, args) {
  const env = { ...process.env, NEXT_TELEMETRY_DISABLED: '1' };
  const child = spawn(command, args, { cwd: root, stdio: 'inherit', env });
  const signals = /** @type {const} */ (['SIGINT', 'SIGTERM', 'SIGHUP']);
  const end = (/** @type {NodeJS.Signals} */ signal) => {
    child.kill(signal);
    process.exit(128 + constants.signals[signal]);
  };
  for (const signal of signals) process.on(signal, end);
  return new Promise((resolve, reject) => {
    child.once('error', reject);
    child.once('exit', (status) => {
      for (const signal of signals) process.off(signal, end);
      resolve(status ?? 1);
    });
  });
}

function orExit(status, what) {
  if (status === 0) return;
  console.error(`${what} failed; the messages above say why.`);
  process.exit(1);
}

function digest(paths) {
  const hash = createHash('sha256');
  const visit = (path) => {
    const full = at(path);
    if (!existsSync(full)) return;
    const entries = readdirSync(full, { withFileTypes: true, recursive: false });
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const inner = join(path, entry.name);
      if (entry.isDirectory()) visit(inner);
      else hash.update(inner).update(readFileSync(at(inner)));
    }
  };
  for (const path of paths) {
    if (path.endsWith('/')) visit(path.slice(0, -1));
    else hash.update(path).update(readFileSync(at(path)));
  }
  return hash.digest('hex');
}

const matches = (stamp, value) => existsSync(at(stamp)) && readFileSync(at(stamp), 'utf8') === value;

/** Installs the dependencies that the lock file names, unless that was done. */
export function install() {
  const wanted = digest(['package-lock.json']);
  if (matches(INSTALL_STAMP, wanted)) return;
  console.error('Installing dependencies …');
  // A machine that builds for production may leave out what the build itself needs.
  orExit(run('npm', ['ci', '--include=dev', '--no-fund', '--no-audit']), 'Installing');
  linkCommand();
  writeFileSync(at(INSTALL_STAMP), wanted);
}

/** Lets `npx bokelux` find the command in this folder. */
function linkCommand() {
  const link = at('node_modules/.bin/bokelux');
  rmSync(link, { force: true });
  symlinkSync(at('bin/bokelux.mjs'), link);
}

/** Folders of the kernels' WebAssembly sources. */
const assemblySources = () =>
  readdirSync(at('src/core/kernels'))
    .map((name) => `src/core/kernels/${name}/assembly/`)
    .filter((folder) => existsSync(at(folder)));

/** Compiles the WebAssembly kernels, unless nothing has changed since. */
export async function makeKernels() {
  const wanted = digest([
    ...assemblySources(),
    'scripts/kernels.mjs',
    'scripts/butterflies.mjs',
    'package-lock.json',
  ]);
  if (matches(KERNEL_STAMP, wanted)) return;
  const { buildKernels } = await import('./kernels.mjs');
  await buildKernels();
  writeFileSync(at(KERNEL_STAMP), wanted);
}

/** Builds the web application and the command line, unless nothing has changed since. */
export async function build({ force = false } = {}) {
  // First of all: what follows, the check of types too, reads what is generated.
  await makeKernels();
  const wanted = digest([
    'src/',
    'package-lock.json',
    'next.config.ts',
    'tsconfig.json',
    'scripts/bundle.mjs',
  ]);
  if (!force && matches(BUILD_STAMP, wanted) && existsSync(at('dist/cli.mjs'))) return;
  console.error('Building …');
  const { bundleNode } = await import('./bundle.mjs');
  await bundleNode();
  orExit(await runEnding(process.execPath, ['node_modules/next/dist/bin/next', 'build']), 'Building');
  mkdirSync(at('.next'), { recursive: true });
  writeFileSync(at(BUILD_STAMP), wanted);
}
