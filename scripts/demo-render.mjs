// Renders the demo's plates anew: bundles the path tracer and runs it. Arguments: [SCENE OUT WIDTH HEIGHT SAMPLES].
import { bundle } from './bundle.mjs';
import { install, run } from './prepare.mjs';

install();
await bundle({ 'demo-render': 'demo/render.ts' }, '.cache');
const args = process.argv.slice(2);
process.exit(
  run(process.execPath, [
    '.cache/demo-render.mjs',
    ...(args.length ? args : ['quay', 'public/demo/quay.exr', '1280', '720', '128']),
  ]),
);
