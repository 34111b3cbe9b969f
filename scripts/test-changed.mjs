// npm run test:changed [-- COMMIT] [--all]: in about three minutes, form, lint, types and the tests that what changed
// since a commit can reach, nearest first, with the main path. Without a commit: since the last one, or in it.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { ensurePackages, root } from './packages.mjs';
import { paceOfMachine } from './testing/pace.mjs';
import { playwright, ready, vitest } from './testing/parts.mjs';
import { reachOf } from './testing/reach.mjs';
import { programOf, timed } from './testing/run.mjs';
import { closingLines, newTally } from './testing/tally.mjs';
import { keepTimes, knownTimes } from './testing/times.mjs';

/** Seconds for each kind of test, and what a file takes that has not run here yet. */
const seconds = { core: 40, http: 50, browser: 60 };
const unknown = { core: 2, http: 12, browser: 20 };
const mainPath = {
  http: 'app/test/integration/path.test.ts',
  browser: 'app/test/browser/path.spec.ts',
};

const all = process.argv.includes('--all');
const tally = newTally();
process.env.PACE = String(paceOfMachine());
let database;

try {
  ensurePackages();
  const changed = changedFiles(process.argv.slice(2).find((word) => word !== '--all'));
  if (changed.length === 0) throw new Error('Nothing has changed.');
  console.log(`Changed: ${changed.join(', ')}`);
  await sources(changed.filter((path) => existsSync(join(root, path))));
  const reach = await reachOf(changed);
  const inProduct = changed.some((path) =>
    /^(core\/src|demo|app\/(src|test|migrations))\//.test(path),
  );
  const chosen = {
    core: nearest('core', reach.core),
    http: inProduct ? nearest('http', [mainPath.http, ...reach.http]) : [],
    browser: inProduct ? nearest('browser', [mainPath.browser, ...reach.browser]) : [],
  };
  if (chosen.core.length > 0) await vitest(tally, 'core', { only: chosen.core });
  if (inProduct) await overHttp(chosen);
} catch (error) {
  tally.counts.failed++;
  tally.failures.push(error.message);
} finally {
  database?.stop();
}
keepTimes(tally);
for (const line of closingLines(tally)) console.log(line);
process.exit(tally.counts.failed > 0 ? 1 : 0);

/** Changed since a commit; without one, since the last commit, or in it where nothing has changed since. */
function changedFiles(commit) {
  const lines = (...args) =>
    spawnSync('git', args, { cwd: root, encoding: 'utf8' }).stdout.split('\n').filter(Boolean);
  const fresh = lines('ls-files', '--others', '--exclude-standard');
  const since = (from) => [...new Set([...lines('diff', '--name-only', from), ...fresh])];
  if (commit) return since(commit);
  const now = since('HEAD');
  return now.length > 0 ? now : since('HEAD~1');
}

async function sources(changed) {
  await one('format', 'oxfmt', ['--check', '--no-error-on-unmatched-pattern', ...changed]);
  const typed = changed.filter((path) => /\.tsx?$/.test(path));
  if (typed.length > 0) await one('lint and types', 'oxlint', ['--type-check', ...typed]);
}

async function one(name, program, args) {
  const passed = (await timed(tally, name, programOf(program), args)) === 0;
  tally.counts[passed ? 'passed' : 'failed']++;
  if (!passed) tally.failures.push(name);
}

/** As many of the files as the time allows, the nearest first; the others are named. */
function nearest(kind, files) {
  const known = knownTimes();
  let left = all ? Infinity : seconds[kind];
  const [chosen, others] = [[], []];
  for (const file of new Set(files)) {
    const takes = known[file] ?? unknown[kind];
    if (takes > left && chosen.length > 0) {
      others.push(file);
      continue;
    }
    left -= takes;
    chosen.push(file);
  }
  if (others.length > 0)
    console.log(`Left out for want of time (--all runs them): ${others.join(', ')}`);
  return chosen;
}

async function overHttp({ http, browser }) {
  await ready(tally, 'product');
  await ready(tally, 'browser');
  const { startDatabase, forTests } = await import('./database.mjs');
  database = await startDatabase('test-postgres', forTests);
  const env = { TEST_DATABASE_URL: database.url };
  const alone = http.filter((file) => file.includes('hostile-files'));
  const beside = http.filter((file) => !alone.includes(file));
  await Promise.all([
    vitest(tally, 'app', { env, only: beside.map((file) => join(root, file)) }),
    playwright(tally, { env, only: browser.map((file) => file.split('/').at(-1)) }),
  ]);
  if (alone.length > 0) await vitest(tally, 'app alone', { env });
}
