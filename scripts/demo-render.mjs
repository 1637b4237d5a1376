// Renders the demo shot anew: bundles the path tracer and runs it. Arguments: [OUT WIDTH HEIGHT SAMPLES].
import { spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { build } from 'esbuild';

mkdirSync('.cache', { recursive: true });
await build({
  entryPoints: ['demo/render.ts'],
  bundle: true,
  platform: 'node',
  format: 'esm',
  outfile: '.cache/demo-render.mjs',
  logLevel: 'error',
});
const args = process.argv.slice(2);
const { status } = spawnSync(
  process.execPath,
  ['.cache/demo-render.mjs', ...(args.length ? args : ['public/demo/quay.exr'])],
  { stdio: 'inherit' },
);
process.exit(status ?? 1);
