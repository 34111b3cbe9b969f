import { join } from 'node:path';
import { root } from '../packages.mjs';
import { programOf, resultFile, timed } from './run.mjs';
import { countPlaywright, countVitest } from './tally.mjs';

/** The priority of the product's workers: at any higher one, form, types and core would starve them. */
const asWorkers = 10;

/** Form, imports, types of pages, lint and types: each an npm script, each one check. */
export const sourceChecks = [
  ['format', 'format:check'],
  ['imports', 'imports'],
  // Makes the types of the pages, which the next one knows them by.
  ['types of pages', 'pages'],
  ['lint and types', 'lint'],
];

export async function check(tally, name, script) {
  const args = ['run', '--silent', script];
  const passed = (await timed(tally, name, 'npm', args, { priority: asWorkers })) === 0;
  tally.counts[passed ? 'passed' : 'failed']++;
  if (!passed) tally.failures.push(name);
  console.log(`${name}: ${passed ? 'in order' : 'NOT in order'}`);
}

/** Builds or installs what is missing, in another process. */
export async function ready(tally, what) {
  const script = join(root, 'scripts/ready.mjs');
  if ((await timed(tally, `making ready: ${what}`, process.execPath, [script, what])) !== 0)
    throw new Error(`What tests need (${what}) could not be made ready.`);
}

/** @param only files or folders; all of the project where there are none */
export async function vitest(tally, project, { env, only = [] } = {}) {
  const file = resultFile();
  const reports = ['--reporter=default', '--reporter=json', `--outputFile.json=${file}`];
  const args = ['run', '--project', project, ...reports, ...only];
  const priority = project === 'core' ? asWorkers : 0;
  await timed(tally, `tests of ${project}`, programOf('vitest'), args, { env, priority });
  countVitest(tally, file);
}

export async function playwright(tally, { env, only = [] } = {}) {
  const file = resultFile();
  const args = ['test', '--config', 'app/playwright.config.ts', '--reporter=list,json', ...only];
  await timed(tally, 'tests in a browser', programOf('playwright'), args, {
    env: { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: file },
  });
  countPlaywright(tally, file);
}
