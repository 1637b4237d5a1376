// Renders the demo shot anew: bundles the path tracer and runs it. Arguments: [OUT WIDTH HEIGHT SAMPLES].
import { bundle } from './bundle.mjs';
import { install, run } from './prepare.mjs';

install();
await bundle({ 'demo-render': 'demo/render.ts' }, '.cache');
const args = process.argv.slice(2);
process.exit(
  run(process.execPath, [
    '.cache/demo-render.mjs',
    ...(args.length ? args : ['public/demo/quay.exr', '1280', '720', '128']),
  ]),
);
