// npm test: installs what is missing, then checks form, types and behaviour. Ends with one line of counts.
import { ensurePackages } from './packages.mjs';
import { paceOfMachine } from './testing/pace.mjs';
import { noteResult } from './testing/long-run.mjs';
import { check, playwright, ready, sourceChecks, vitest } from './testing/parts.mjs';
import { closingLines, newTally } from './testing/tally.mjs';
import { keepTimes } from './testing/times.mjs';

const part = process.argv[2] ?? 'all';
const tally = newTally();
const pace = paceOfMachine();
let database;

try {
  ensurePackages();
  if (pace > 1) console.log(`This machine is busy or slow: limits of time are ${pace}-fold.`);
  process.env.PACE = String(pace);
  process.env.SEED ??= new Date().toISOString().slice(0, 10).replaceAll('-', '');
  console.log(`Samples of the long tests are drawn by SEED=${process.env.SEED}.`);
  // What is slow for want of a core or a network goes beside what is not: form, types and core need no product.
  const source = part === 'all' ? checkSource() : undefined;
  await ready(tally, 'product');
  const { startDatabase, forTests } = await import('./database.mjs');
  database = await startDatabase('test-postgres', forTests);
  const env = { TEST_DATABASE_URL: database.url };
  const inBrowser = part === 'all' || part === 'browser';
  await Promise.all([
    source,
    part !== 'browser' && vitest(tally, 'app', { env }),
    inBrowser && ready(tally, 'browser'),
  ]);
  if (part !== 'browser') await vitest(tally, 'app alone', { env });
  if (inBrowser) await playwright(tally, { env });
} catch (error) {
  tally.counts.failed++;
  tally.failures.push(error.message);
} finally {
  database?.stop();
}
keepTimes(tally);
const lines = closingLines(tally);
if (process.env.LONG === 'yes' && part === 'all') noteResult('Result', lines);
for (const line of lines) console.log(line);
process.exit(tally.counts.failed > 0 ? 1 : 0);

async function checkSource() {
  for (const [name, script] of sourceChecks) await check(tally, name, script);
  await vitest(tally, 'core');
}
