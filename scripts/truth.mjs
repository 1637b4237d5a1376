// Holds the computed depth of field against a traced one. `trace [pinhole|1.4|2.8]` traces the pictures anew (an hour).
import { bundle } from './bundle.mjs';
import { install, makeKernels, run } from './prepare.mjs';

install();
await makeKernels();
await bundle({ 'truth-trace': 'demo/truth/render.ts', truth: 'demo/truth/main.ts' }, '.cache');
const [first, ...rest] = process.argv.slice(2);
if (first === 'trace') {
  const status = run(process.execPath, ['.cache/truth-trace.mjs', rest[0] ?? 'all']);
  process.exit(status);
}
process.exit(run(process.execPath, ['.cache/truth.mjs', ...(first ? [first, ...rest] : [])]));
