import { execFileSync } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { chromium, FOR_TESTS, headlessShell, installDebianPackages } from './setup/debian.mjs';
import { installPackages } from './setup/packages.mjs';
import { ROOT, RUN } from './setup/paths.mjs';
import { run, say } from './setup/say.mjs';

/**
 * `npm test`: the same set-up as `npm start` with a database of its own, then format, lint, rooms, types, unit tests and
 * the tests of the real interface. `--only checks`, `--only unit` or `--only e2e` runs one part; words after it go to the
 * runner. `--only check` is `npm run check`: all checks, and the unit tests that what changed since the last commit has to do
 * with, or where nothing did, those of the last commit.
 * The last line counts every test of every runner; a check that fails counts as one failed.
 */
const [flag, only, ...words] = process.argv.slice(2);
const isQuick = flag === '--only' && only === 'check';
const wants = (part) => flag !== '--only' || only === part || (isQuick && part !== 'e2e');
/** What failed is said once more at the end: where it happened it is far up, or not kept. */
const total = { passed: 0, failed: 0, failures: [] };
/** A test that leaves something open, such as a connection, keeps the runner alive for good: that fails the run. */
const MAY_TAKE_TO_END = 30_000;

await installDebianPackages(FOR_TESTS);
await installPackages();
const { build } = await import('./setup/build.mjs');
await build();

if (wants('checks')) {
  const node = process.execPath;
  const bin = (path) => join(ROOT, 'node_modules', path);
  await check('Format and lint', node, [bin('@biomejs/biome/bin/biome'), 'ci', '.']);
  await check('Rooms import from below only', node, [join(ROOT, 'tools/rooms.mjs')]);
  await check('Nothing unused', node, [bin('knip/bin/knip.js'), '--no-config-hints']);
  await check('Types', node, [bin('ts7/bin/tsc'), '-b']);
}

if (wants('unit') || wants('e2e')) {
  const { locked } = await import('./setup/lock.mjs');
  const { startCluster } = await import('./setup/cluster.mjs');
  await locked('test', async () => {
    say('Starting the database for the tests');
    const cluster = await startCluster('test-cluster', { isForTests: true });
    // A folder of this run's own for whatever tests put away for a while: nothing of it is left behind.
    const temporary = mkdtempSync(join(tmpdir(), 'tether-tests-'));
    // Some tests act as another account, which must get through to its files.
    chmodSync(temporary, 0o755);
    const env = {
      ...process.env,
      TMPDIR: temporary,
      TEST_DATABASE_URL: cluster.url,
      CHROMIUM: chromium() ?? '',
      TEST_BROWSER: headlessShell() ?? '',
      NODE_NO_WARNINGS: '1',
    };
    try {
      if (wants('unit')) await unitTests(env);
      if (wants('e2e')) await interfaceTests(env);
    } finally {
      await cluster.stop();
      rmSync(temporary, { recursive: true, force: true });
    }
  });
}

if (total.failures.length > 0) console.error(`\nWhat failed:\n${total.failures.join('\n')}`);
console.log(`\n${total.passed} passed, ${total.failed} failed`);
process.exit(total.failed > 0 ? 1 : 0);

async function check(name, program, args) {
  say(name);
  const { code, output } = await run(program, args, {
    cwd: ROOT,
    quiet: true,
    env: { ...process.env, NO_COLOR: '1' },
  });
  if (code === 0) return;
  console.error(`${output}\n✗ ${name} failed.`);
  total.failures.push(name);
  total.failed++;
}

async function unitTests(env) {
  say('Unit tests');
  const report = join(RUN, 'unit.json');
  rmSync(report, { force: true });
  const jest = join(ROOT, 'node_modules/jest/bin/jest.js');
  const stop = new AbortController();
  const waiting = setInterval(() => {
    if (!existsSync(report)) return;
    clearInterval(waiting);
    setTimeout(() => stop.abort(), MAY_TAKE_TO_END).unref();
  }, 1000);
  const { code } = await run(
    process.execPath,
    [
      '--experimental-vm-modules',
      jest,
      '--json',
      `--outputFile=${report}`,
      ...ofChanged(),
      ...words,
    ],
    { cwd: ROOT, env, stdio: ['ignore', 'ignore', 'inherit'], signal: stop.signal },
  );
  clearInterval(waiting);
  const found = readReport(report);
  for (const { name, message, assertionResults } of found?.testResults ?? []) {
    const failed = assertionResults.filter(({ status }) => status === 'failed');
    if (failed.length === 0 && message && !assertionResults.length) failure(name, 'all', message);
    for (const each of failed) failure(name, each.fullName, each.failureMessages.join('\n'));
  }
  count('Unit tests', code, found?.numPassedTests ?? 0, found?.numFailedTests ?? 0);
}

function failure(file, test, message) {
  const words = stripVTControlCharacters(message).split('\n').slice(0, 12).join('\n    ');
  total.failures.push(`  ${relative(ROOT, file)} › ${test}\n    ${words}`);
}

/** Which unit tests of a quick check run. */
function ofChanged() {
  if (!isQuick) return [];
  const git = (...args) => execFileSync('git', args, { cwd: ROOT, encoding: 'utf8' }).trim();
  const isClean = git('status', '--porcelain') === '';
  return ['--passWithNoTests', isClean ? '--lastCommit' : '--onlyChanged'];
}

async function interfaceTests(env) {
  say('Tests of the real interface');
  const report = join(RUN, 'e2e.json');
  rmSync(report, { force: true });
  const playwright = join(ROOT, 'node_modules/@playwright/test/cli.js');
  const { code } = await run(
    process.execPath,
    [playwright, 'test', '-c', 'e2e/playwright.config.ts', '--reporter=list,json', ...words],
    { cwd: ROOT, env: { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: report } },
  );
  if (code !== 0) showFailures();
  const found = readReport(report);
  const stats = found?.stats;
  for (const each of found?.suites ?? []) storiesFailed(each);
  count(
    'Tests of the real interface',
    code,
    (stats?.expected ?? 0) + (stats?.flaky ?? 0),
    stats?.unexpected ?? 0,
  );
}

function storiesFailed({ file, suites = [], specs = [] }) {
  for (const each of suites) storiesFailed(each);
  for (const { title, ok, tests } of specs) {
    if (ok) continue;
    const errors = tests.flatMap(({ results }) => results.flatMap((result) => result.errors));
    failure(join(ROOT, 'e2e/src', file), title, errors[0]?.message ?? '');
  }
}

/**
 * Where a failing story left what stood on the screen: as a picture, in words, and what the server said. The words are
 * printed as well: without them a rare failure on another machine keeps its cause to itself.
 */
function showFailures() {
  const results = join(ROOT, 'test-results');
  if (!existsSync(results)) return;
  for (const path of readdirSync(results, { recursive: true })) {
    if (!path.endsWith('error-context.md')) continue;
    const lines = readFileSync(join(results, path), 'utf8').split('\n');
    const from = lines.findIndex((line) => /^#+ Page snapshot/.test(line));
    console.error([path, ...lines.slice(Math.max(from, 0), from + 80)].join('\n'));
  }
  console.error('Stories that failed: picture, words on the screen, server.log, a folder each:');
  for (const each of readdirSync(results, { withFileTypes: true })) {
    if (each.isDirectory()) console.error(`  ${join(results, each.name)}`);
  }
}

function readReport(path) {
  return existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : null;
}

/** Adds what a runner counted. One that failed without a failed test, or that ran none, counts as failed itself. */
function count(name, code, passed, failed) {
  total.passed += passed;
  total.failed += failed;
  if (failed === 0 && (code !== 0 || (passed === 0 && !isQuick))) {
    console.error(`✗ ${name}: the runner ended with ${code} after ${passed} tests.`);
    total.failed++;
  }
}
