// Writes docs/settings.md from the look's schema.
import { writeFileSync } from 'node:fs';
import { bundle } from './bundle.mjs';

await bundle({ describe: 'src/core/look/describe.ts' }, '.cache');
const made = new URL('../.cache/describe.mjs', import.meta.url);
const { settingsTable } = await import(made.href);
const text = `# Settings

Made from the look's schema by \`npm run docs:settings\`. Values are written as they stand in a look file or after \`--set\`.

${settingsTable()}
`;
writeFileSync('docs/settings.md', text);
