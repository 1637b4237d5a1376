// Bundles what runs under Node outside the web server: the command line and its worker threads.
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const at = (path) => fileURLToPath(new URL(`../${path}`, import.meta.url));

export async function bundleNode() {
  await build({
    entryPoints: { cli: at('src/cli/main.ts'), 'task-thread': at('src/engine/node/task-thread.ts') },
    outdir: at('dist'),
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    // Packages written as CommonJS look for require.
    banner: {
      js: "import { createRequire as bundleRequire } from 'node:module'; const require = bundleRequire(import.meta.url);",
    },
    sourcemap: 'linked',
    logLevel: 'error',
  });
}
