// Bundles and runs the benchmarks.
import { bundle, bundleNode } from './bundle.mjs';
import { install, makeKernels, run } from './prepare.mjs';

install();
await makeKernels();
await bundleNode();
await bundle({ bench: 'bench/main.ts' }, 'dist');
process.exit(run(process.execPath, ['dist/bench.mjs']));
