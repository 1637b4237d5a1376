// Writes docs/settings.md from the look's schema.
import { mkdirSync, writeFileSync } from 'node:fs';
import { build } from 'esbuild';

mkdirSync('.cache', { recursive: true });
await build({
  entryPoints: ['src/core/look/describe.ts'],
  bundle: true,
  platform: 'node',
  format: 'esm',
  outfile: '.cache/describe.mjs',
  logLevel: 'error',
});
const { settingsTable } = await import('../.cache/describe.mjs');
const text = `# Settings

Made from the look's schema by \`npm run docs:settings\`. Values are written as they stand in a look file or after \`--set\`.

${settingsTable()}
`;
writeFileSync('docs/settings.md', text);
