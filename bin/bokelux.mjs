#!/usr/bin/env node
// The command line. Its bundle is made by `npm run build`; if it is missing it is made now, quietly.
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const bundle = new URL('../dist/cli.mjs', import.meta.url);
if (!existsSync(fileURLToPath(bundle))) {
  try {
    const { buildCommand } = await import('../scripts/build-command.mjs');
    await buildCommand();
  } catch (error) {
    const isMissing = error instanceof Error && 'code' in error && error.code === 'ERR_MODULE_NOT_FOUND';
    const advice = isMissing ? 'its packages are not installed. Run `npm ci` first' : String(error);
    process.stderr.write(`bokelux: the command cannot be built: ${advice}\n`);
    process.exit(1);
  }
}
const { main } = await import(bundle.href);
process.exitCode = await main(process.argv.slice(2));
