// npm test: installs what is missing, then checks form, types and behaviour. Ends with one line of counts.
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { devNull, setPriority, tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { ensurePackages, root } from './packages.mjs';

/** The priority of the product's workers: at any higher one, form, types and core would starve them. */
const asWorkers = 10;
/** Measures what a command and all that it begins cost the processors, in seconds of one core. */
const measuring = 'TIMEFORMAT="%U %S"; { time "$@" 2>&3; } 3>&2 2>"$0"';
const part = process.argv[2] ?? 'all';
const counts = { passed: 0, failed: 0, skipped: 0 };
/** What failed, said once more at the end: the middle of a long run is read by nobody. */
const failures = [];
/** What failed once and passed then. */
const unsteady = [];
/** Seconds of each part, and of each test. */
const parts = [];
const times = [];
let database;

try {
  ensurePackages();
  // What is slow for want of a core or a network goes beside what is not: form, types and core need no product.
  const source = part === 'all' ? checkSource() : undefined;
  await ready('product');
  const { startDatabase } = await import('./database.mjs');
  // Tests may lose their data with the power; they need not wait for the disk.
  database = await startDatabase('test-postgres', [
    'fsync=off',
    'synchronous_commit=off',
    'full_page_writes=off',
  ]);
  const env = { TEST_DATABASE_URL: database.url };
  const inBrowser = part === 'all' || part === 'browser';
  await Promise.all([
    source,
    part !== 'browser' && vitest('app', env),
    inBrowser && ready('browser'),
  ]);
  if (part !== 'browser') await vitest('app alone', env);
  if (inBrowser) await playwright(env);
} catch (error) {
  counts.failed++;
  failures.push(error.message);
} finally {
  database?.stop();
}
for (const { name, seconds, cores } of parts)
  console.log(`part: ${name} ${inMinutes(seconds)}, ${Math.round(cores)} core-seconds`);
for (const { name, seconds } of times.sort((a, b) => b.seconds - a.seconds).slice(0, 20))
  console.log(`slow: ${seconds.toFixed(1)} s ${name}`);
for (const what of unsteady) console.log(`unsteady: ${what}`);
for (const failure of failures) console.log(`failed: ${failure}`);
console.log(`tests: ${counts.passed} passed, ${counts.failed} failed, ${counts.skipped} skipped`);
process.exit(counts.failed > 0 ? 1 : 0);

async function checkSource() {
  await check('format', 'format:check');
  await check('imports', 'imports');
  // Makes the types of the pages, which the next step knows them by.
  await check('types of pages', 'pages');
  await check('lint and types', 'lint');
  await vitest('core', {}, asWorkers);
}

/** Resolves with the exit code; what it prints comes line by line, as others print beside it. */
function run(command, args, { env = {}, priority = 0, costs = devNull } = {}) {
  const child = spawn('bash', ['-c', measuring, costs, command, ...args], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1', ...env },
  });
  if (child.pid && priority !== 0) setPriority(child.pid, priority);
  return new Promise((resolve, reject) => {
    child.once('error', reject);
    child.once('close', resolve);
  });
}

/** Has what is missing made or installed in a process of its own. */
async function ready(what) {
  const script = join(root, 'scripts/ready.mjs');
  if ((await timed(`making ready: ${what}`, process.execPath, [script, what])) !== 0)
    throw new Error(`What tests need (${what}) could not be made ready.`);
}

async function check(name, script) {
  const args = ['run', '--silent', script];
  const passed = (await timed(name, 'npm', args, { priority: asWorkers })) === 0;
  counts[passed ? 'passed' : 'failed']++;
  if (!passed) failures.push(name);
  console.log(`${name}: ${passed ? 'in order' : 'NOT in order'}`);
}

/** Runs a command and keeps what it took. Parts that stand beside each other add up to more than the whole. */
async function timed(name, command, args, options) {
  const costs = resultFile();
  const begun = Date.now();
  try {
    return await run(command, args, { ...options, costs });
  } finally {
    const used = existsSync(costs) ? readFileSync(costs, 'utf8').trim().split(/\s+/) : [];
    const cores = used.slice(-2).reduce((sum, part) => sum + Number(part), 0);
    parts.push({ name, seconds: (Date.now() - begun) / 1000, cores });
  }
}

function inMinutes(seconds) {
  return `${Math.floor(seconds / 60)} min ${String(Math.round(seconds % 60)).padStart(2, '0')} s`;
}

async function vitest(project, env, priority = 0) {
  const file = resultFile();
  const reports = ['--reporter=default', '--reporter=json', `--outputFile.json=${file}`];
  const args = ['vitest', 'run', '--project', project, ...reports];
  await timed(`tests of ${project}`, 'npx', args, { env, priority });
  const result = read(file);
  counts.passed += result?.numPassedTests ?? 0;
  counts.failed += result ? result.numFailedTests + suitesThatFailedToRun(result) : 1;
  counts.skipped += (result?.numPendingTests ?? 0) + (result?.numTodoTests ?? 0);
  for (const suite of result?.testResults ?? [])
    for (const test of suite.assertionResults) {
      const name = `${relative(root, suite.name)} › ${test.fullName}`;
      times.push({ name, seconds: (test.duration ?? 0) / 1000 });
      if (test.status === 'failed') failures.push(`${name}: ${firstLines(test)}`);
    }
}

function firstLines(test) {
  return test.failureMessages.join('\n').split('\n').slice(0, 3).join(' ').slice(0, 400);
}

/** A file that breaks before its first test counts no failed test; it must not pass as none. */
function suitesThatFailedToRun(result) {
  const broken = result.testResults.filter(
    (suite) =>
      suite.status === 'failed' && !suite.assertionResults.some((test) => test.status === 'failed'),
  );
  failures.push(...broken.map((suite) => `${relative(root, suite.name)} did not run`));
  return broken.length;
}

async function playwright(env) {
  const file = resultFile();
  const args = ['test', '--config', 'app/playwright.config.ts', '--reporter=list,json'];
  await timed('tests in a browser', 'npx', ['playwright', ...args], {
    env: { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: file },
  });
  const result = read(file);
  const stats = result?.stats;
  if (!result) failures.push('the tests in a browser did not run');
  for (const spec of specsOf(result?.suites ?? [])) {
    const tries = spec.tests.flatMap(({ results }) => results);
    const seconds = tries.reduce((sum, { duration }) => sum + duration, 0) / 1000;
    times.push({ name: `${spec.file} › ${spec.title}`, seconds });
    if (!spec.ok) failures.push(`${spec.file} › ${spec.title}`);
    else if (spec.tests.some(({ status }) => status === 'flaky'))
      unsteady.push(`${spec.file} › ${spec.title}`);
  }
  counts.passed += (stats?.expected ?? 0) + (stats?.flaky ?? 0);
  counts.failed += stats ? stats.unexpected : 1;
  counts.skipped += stats?.skipped ?? 0;
}

function specsOf(suites) {
  return suites.flatMap((suite) => [...(suite.specs ?? []), ...specsOf(suite.suites ?? [])]);
}

function resultFile() {
  return join(mkdtempSync(join(tmpdir(), 'rook-scale-')), 'result.json');
}

function read(file) {
  return existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : undefined;
}
