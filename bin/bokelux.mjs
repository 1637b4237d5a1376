#!/usr/bin/env node
// The command line. Its bundle is made by `npm run build`; if it is missing it is made now.
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const bundle = new URL('../dist/cli.mjs', import.meta.url);
if (!existsSync(fileURLToPath(bundle))) {
  const { bundleNode } = await import('../scripts/bundle.mjs');
  await bundleNode();
}
const { main } = await import(bundle.href);
process.exitCode = await main(process.argv.slice(2));
