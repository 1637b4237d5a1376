// Bundles and runs the fuzzer: npm run fuzz -- --count 20000 --seed 7
import { bundle } from './bundle.mjs';
import { install, makeKernels, run } from './prepare.mjs';

install();
await makeKernels();
await bundle({ fuzz: 'tests/fuzz/main.ts', 'fuzz-child': 'tests/fuzz/child.ts' }, 'dist');
process.exit(run(process.execPath, ['dist/fuzz.mjs', ...process.argv.slice(2)]));
