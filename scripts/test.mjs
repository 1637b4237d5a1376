// The one test command: installs, builds, checks, and runs the unit and browser tests. Last line: the count.
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureChromium, ensureRedis } from './programs.mjs';
import { build, install, run } from './prepare.mjs';
import { root } from './root.mjs';

install();
await build();
process.chdir(root);
mkdirSync('.cache', { recursive: true });

const total = { passed: 0, failed: 0, skipped: 0 };

function check(name, command, args) {
  const ok = run(command, args) === 0;
  console.log(`${ok ? 'ok' : 'FAILED'}: ${name}`);
  total[ok ? 'passed' : 'failed']++;
}

check('types', 'npm', ['run', '--silent', 'typecheck']);
check('lint', 'npm', ['run', '--silent', 'lint']);
check('layers', 'npm', ['run', '--silent', 'layers']);
check('format', 'npm', ['run', '--silent', 'format']);
check('dead code', 'npm', ['run', '--silent', 'dead']);

/** Adds what a runner's JSON report says; a runner that leaves no report has failed. */
function count(file, read) {
  if (!existsSync(file)) {
    total.failed++;
    return;
  }
  const { passed, failed, skipped } = read(JSON.parse(readFileSync(file, 'utf8')));
  total.passed += passed;
  total.failed += failed;
  total.skipped += skipped;
}

/** Prints what stood on the pages of browser tests that failed. */
function showPages(directory) {
  for (const file of existsSync(directory)
    ? readdirSync(directory, { recursive: true, encoding: 'utf8' })
    : [])
    if (file.endsWith('error-context.md')) console.log(readFileSync(join(directory, file), 'utf8'));
}

const jestReport = '.cache/jest.json';
rmSync(jestReport, { force: true });
// Without it the tests of queues fail, and say what to install.
const redis = ensureRedis();
run(process.execPath, ['node_modules/jest/bin/jest.js', '--json', `--outputFile=${jestReport}`], {
  env: redis ? { REDIS_PATH: redis } : {},
});
count(jestReport, (report) => ({
  passed: report.numPassedTests,
  // A file that does not even load counts as one failure.
  failed: report.numFailedTests + report.numRuntimeErrorTestSuites,
  skipped: report.numPendingTests + report.numTodoTests,
}));

const chromium = ensureChromium();
if (chromium) {
  const report = '.cache/playwright.json';
  rmSync(report, { force: true });
  const ended = run(process.execPath, ['node_modules/@playwright/test/cli.js', 'test'], {
    env: { CHROMIUM_PATH: chromium },
  });
  if (ended !== 0) showPages('test-results');
  count(report, ({ stats }) => ({
    passed: stats.expected + stats.flaky,
    failed: stats.unexpected,
    skipped: stats.skipped,
  }));
} else {
  console.error(
    'There is no Chromium. Install it (Debian: apt-get install chromium) or set CHROMIUM_PATH, then run the tests again.',
  );
  total.failed++;
}

console.log(`${total.passed} passed, ${total.failed} failed, ${total.skipped} skipped`);
process.exit(total.failed ? 1 : 0);
