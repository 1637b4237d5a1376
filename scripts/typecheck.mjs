// Checks the types of everything, of the core against its own few globals, and of these scripts.
import { run } from './prepare.mjs';

const failed = [[], ['-p', 'src/core'], ['-p', 'scripts']].filter(
  (project) =>
    run(process.execPath, ['node_modules/typescript-native/bin/tsc', '--noEmit', ...project]) !== 0,
);
process.exit(failed.length ? 1 : 0);
