#!/usr/bin/env node
/**
 * Sets up what is missing and runs the checks. Ends with a line `N passed, N failed`. Words given are passed
 * to Jest. With THOROUGH=1 also those that take long (packages/core/test/thorough.ts).
 */
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { existsSync, mkdtempSync, chmodSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { spawnGivingWay } from './lib/giveWay.mjs';
import { SetupError, installDebianPackages, installNodePackages } from './lib/packages.mjs';
import { runAll } from './lib/pool.mjs';
import { installPostgres, startPostgres } from './lib/postgres.mjs';
import { buildWeb } from './lib/webBuild.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const jestWords = process.argv.slice(2);
const arrowWords = ['packages', 'e2e', 'bench', 'demo', 'scripts', '--config', '.dependency-cruiser.cjs'];
const scratch = mkdtempSync(join(tmpdir(), 'imprint-test-'));
chmodSync(scratch, 0o755);
/** What the tests need besides Node.js and PostgreSQL: a file that shows that it is there; its package. */
const TOOLS = [
  // The browser without its window, whose pages open in half of the time.
  [process.env.CHROMIUM ?? '/usr/bin/chromium-headless-shell', 'chromium-headless-shell'],
  ['/usr/bin/sox', 'sox'],
  ['/usr/bin/fluidsynth', 'fluidsynth'],
  ['/usr/share/sounds/sf2/TimGM6mb.sf2', 'timgm6mb-soundfont'],
];
const isThorough = process.env.THOROUGH === '1';
/** A run that takes longer hangs. */
const LONGEST_MS = (isThorough ? 50 : 20) * 60_000;
let passed = 0;
let failed = 0;
let postgres;
// Else what was started in a session of its own goes on.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.once(signal, () => process.exit(1));

try {
  await Promise.all([installNodePackages(root), installPrograms()]);
  if (jestWords.length === 0) {
    await checkAll([
      ['linter and types', 'node_modules/oxlint/bin/oxlint', '--type-aware', '--type-check'],
      ['formatter', 'node_modules/oxfmt/bin/oxfmt', '--check'],
      ['compiled kernel', 'scripts/writeKernel.mjs', '--check'],
      ['import arrows', 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs', ...arrowWords],
    ]);
  }
  buildWeb(root);
  let databaseUrl = process.env.DATABASE_URL;
  if (!databaseUrl) {
    postgres = await startPostgres(join(scratch, 'postgres'), { mayCreateDatabases: true });
    databaseUrl = postgres.url;
  }
  await runJest(databaseUrl);
} catch (error) {
  failed++;
  console.error(error instanceof SetupError ? error.message : error);
} finally {
  await postgres?.stop();
  rmSync(scratch, { recursive: true, force: true });
}
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 || passed === 0 ? 1 : 0);

/** One after the other, since Debian's installer works for one at a time. */
async function installPrograms() {
  const missing = TOOLS.filter(([file]) => !existsSync(file)).map(([, name]) => name);
  if (missing.length > 0) await installDebianPackages(missing, 'what the tests look with, listen with and play');
  if (!process.env.DATABASE_URL) await installPostgres();
}

async function checkAll(checks) {
  const results = await runAll(
    checks.map(([, script, ...words]) => ({ words: [join(root, script), ...words] })),
    root,
  );
  results.forEach(({ status, output, seconds }, i) => {
    if (status === 0) passed++;
    else failed++;
    console.log(`${status === 0 ? 'ok    ' : 'FAILED'} ${checks[i][0]} (${seconds.toFixed(1)} s)`);
    if (status !== 0) console.log(output);
  });
}

/**
 * Jest in two lanes at once. What only computes, and has no time limits, gives way to the other lane at any
 * moment, so that what is awaited there is not held up by it. Of that lane, what plays sound comes by itself:
 * it shares the machine with what gives way alone. What is timed has the machine to itself:
 * memory is shared, too.
 */
async function runJest(databaseUrl) {
  if (jestWords.length > 0) return count(await jest(jestWords, databaseUrl));
  const computing = jest(['--selectProjects', 'core'], databaseUrl, spawnGivingWay);
  const others = async () => [
    await jest(['--selectProjects', 'server', 'start', 'browser', 'stores', 'page'], databaseUrl),
    await jest(['--selectProjects', 'sounding'], databaseUrl),
  ];
  for (const report of (await Promise.all([computing, others()])).flat()) count(report);
  if (isThorough) count(await jest(['--selectProjects', 'timed', '--runInBand'], databaseUrl));
}

/** Runs Jest, and prints what it said once it has ended; returns its report. */
function jest(words, databaseUrl, start = spawn) {
  const report = join(scratch, `jest-${randomUUID()}.json`);
  const options = ['--json', '--forceExit', `--outputFile=${report}`, ...words];
  return new Promise((resolve, reject) => {
    const child = start(process.execPath, [join(root, 'node_modules/jest/bin/jest.js'), ...options], {
      cwd: root,
      stdio: ['ignore', 'ignore', 'pipe'],
      env: { ...process.env, TEST_DATABASE_URL: databaseUrl },
      timeout: LONGEST_MS,
    });
    let said = '';
    child.stderr.on('data', (chunk) => (said += chunk));
    child.on('error', reject);
    child.on('close', () => {
      process.stderr.write(said);
      if (existsSync(report)) resolve(JSON.parse(readFileSync(report, 'utf8')));
      else reject(new SetupError('Jest ended without a report.'));
    });
  });
}

function count({ numPassedTests, numFailedTests, numRuntimeErrorTestSuites }) {
  passed += numPassedTests;
  failed += numFailedTests + numRuntimeErrorTestSuites;
}
