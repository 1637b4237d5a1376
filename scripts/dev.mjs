// Serves the application while it is being written.
import { install, makeKernels, run } from './prepare.mjs';

install();
await makeKernels();
process.exit(
  run(process.execPath, [
    'node_modules/next/dist/bin/next',
    'dev',
    '-p',
    process.env.PORT ?? '3000',
    '-H',
    process.env.HOST || '127.0.0.1',
  ]),
);
