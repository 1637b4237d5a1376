// Bundles what runs under Node outside the web server.
import { mkdirSync, mkdtempSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const at = (path) => fileURLToPath(new URL(`../${path}`, import.meta.url));

/** Bundles entry points (by the name of the output) into a folder of the project, for Node. */
export async function bundle(entries, folder) {
  mkdirSync(at(folder), { recursive: true });
  // Built aside and moved into place, so that another process never reads half a file.
  const aside = mkdtempSync(join(at(folder), 'build-'));
  await build({
    entryPoints: Object.fromEntries(Object.entries(entries).map(([name, path]) => [name, at(path)])),
    outdir: aside,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    // Packages written as CommonJS look for require.
    banner: {
      js: "import { createRequire as bundleRequire } from 'node:module'; const require = bundleRequire(import.meta.url);",
    },
    sourcemap: 'linked',
    // Holds native code.
    external: ['sharp', '@napi-rs/canvas'],
    logLevel: 'error',
  });
  for (const name of readdirSync(aside)) renameSync(join(aside, name), join(at(folder), name));
  rmSync(aside, { recursive: true });
}

/** The command line and its worker threads. */
export function bundleNode() {
  return bundle(
    {
      cli: 'src/cli/main.ts',
      'task-thread': 'src/engine/node/task-thread.ts',
      'frame-thread': 'src/cli/frame-thread.ts',
    },
    'dist',
  );
}
