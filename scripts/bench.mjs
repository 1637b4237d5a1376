// Bundles and runs the benchmarks.
import { build } from 'esbuild';
import { bundleNode } from './bundle.mjs';
import { install, run } from './prepare.mjs';

install();
await bundleNode();
await build({
  entryPoints: ['bench/main.ts'],
  outfile: 'dist/bench.mjs',
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  banner: {
    js: "import { createRequire as bundleRequire } from 'node:module'; const require = bundleRequire(import.meta.url);",
  },
  logLevel: 'error',
});
process.exit(run(process.execPath, ['dist/bench.mjs']));
