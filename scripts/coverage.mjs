// npm run coverage [core|app]: which lines and branches the tests execute. The core by its own tests; the application
// by its HTTP and browser tests together, in web server, workers, their threads and the pages.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { ensurePackages, root } from './packages.mjs';
import { noteResult } from './testing/long-run.mjs';

const part = process.argv[2] ?? 'all';
const kept = join(root, '.data/coverage');
const dist = join(root, 'app/dist');
ensurePackages();
const { mergeProcessCovs } = await import('@bcoe/v8-coverage');
const { CoverageReport } = await import('monocart-coverage-reports');
mkdirSync(kept, { recursive: true });
const summaries = {};
if (part !== 'app') summaries.core = coverageOfCore();
if (part !== 'core') summaries.app = await coverageOfApp();
const lines = Object.entries(summaries).flatMap(([name, summary]) => linesOf(name, summary));
for (const line of lines) console.log(line);
if (part === 'all') noteResult('Coverage', lines);

/** By vitest itself: it transforms each file for the tests and knows the way back. */
function coverageOfCore() {
  const folder = join(kept, 'core');
  const options = [
    '--coverage.enabled',
    '--coverage.provider=v8',
    '--coverage.include=core/src/**/*.ts',
    // Sources of kernels are compiled apart; what is compiled of them is tested.
    '--coverage.exclude=**/*.as.ts',
    '--coverage.reporter=json-summary',
    `--coverage.reportsDirectory=${folder}`,
  ];
  run('npx', ['vitest', 'run', '--project', 'core', ...options]);
  return byFolder(JSON.parse(readFileSync(join(folder, 'coverage-summary.json'), 'utf8')));
}

async function coverageOfApp() {
  const raw = join(kept, 'raw');
  rmSync(raw, { recursive: true, force: true });
  mkdirSync(raw, { recursive: true });
  const built = join(root, 'app/dist/built');
  // With the way back to the sources, in pages and in what renders them.
  rmSync(built, { force: true });
  const env = { SOURCE_MAPS: 'yes', COVERAGE_FOLDER: raw };
  for (const tests of ['app', 'browser'])
    run(process.execPath, [join(root, 'scripts/test.mjs'), tests], env);
  // The next build is one for use again.
  rmSync(built, { force: true });
  return byFolder(await inSources(merged(raw)));
}

/** What all processes and pages executed, by script; a few files at a time, as together they are gigabytes. */
function merged(folder) {
  let all = { result: [] };
  let some = [];
  for (const file of readdirSync(folder)) {
    some.push({ result: scriptsOf(join(folder, file)) });
    if (some.length < 16) continue;
    all = mergeProcessCovs([all, ...some]);
    some = [];
  }
  return mergeProcessCovs([all, ...some]).result;
}

/** What one process or page executed of the build, under the path of each script. */
function scriptsOf(file) {
  return JSON.parse(readFileSync(file, 'utf8')).result.flatMap((script) => {
    const path = placeOf(script.url);
    return path?.startsWith(dist) && path.endsWith('js') && existsSync(path)
      ? [{ ...script, url: pathToFileURL(path).href }]
      : [];
  });
}

function placeOf(url) {
  if (url.startsWith('file:')) return fileURLToPath(url);
  // What a page itself holds has the address of the page, or none.
  return url.startsWith('http:') ? join(dist, 'client', new URL(url).pathname) : undefined;
}

/** The counts, carried from the scripts of the build to the files they are made of. */
async function inSources(scripts) {
  const report = new CoverageReport({
    outputDir: join(kept, 'app'),
    reports: ['json-summary'],
    logging: 'error',
    sourceFilter: (path) => path.startsWith('src/'),
    sourcePath: (path) => path.replace(/^app\//, ''),
  });
  await report.add(
    scripts.map(({ url, functions }) => {
      const path = fileURLToPath(url);
      const sourceMap = existsSync(`${path}.map`) && JSON.parse(readFileSync(`${path}.map`));
      return {
        url,
        source: readFileSync(path, 'utf8'),
        functions,
        ...(sourceMap && { sourceMap }),
      };
    }),
  );
  await report.generate();
  return JSON.parse(readFileSync(join(kept, 'app/coverage-summary.json'), 'utf8'));
}

/** Lines and branches by folder, and the files with most lines that nothing executed. */
function byFolder(summary) {
  const folders = new Map();
  const files = [];
  for (const [path, { lines, branches }] of Object.entries(summary)) {
    if (path === 'total') continue;
    const name = path.replace(/^.*?(?=(core\/)?src\/)/, '');
    files.push({ name, missed: lines.total - lines.covered, lines, branches });
    for (const folder of [
      'all',
      name
        .split('/')
        .slice(0, 4)
        .join('/')
        .replace(/\/[^/]*\.\w+$/, ''),
    ]) {
      const sum = folders.get(folder) ?? { lines: [0, 0], branches: [0, 0] };
      for (const [kind, { covered, total }] of Object.entries({ lines, branches })) {
        sum[kind][0] += covered;
        sum[kind][1] += total;
      }
      folders.set(folder, sum);
    }
  }
  return { folders, files: files.sort((a, b) => b.missed - a.missed) };
}

function linesOf(name, { folders, files }) {
  return [
    `${name}: lines and branches executed`,
    ...[...folders]
      .sort()
      .map(
        ([folder, { lines, branches }]) =>
          `${folder.padEnd(32)} ${share(lines)}   ${share(branches)}`,
      ),
    'Most lines not executed:',
    ...files
      .slice(0, 25)
      .filter(({ missed }) => missed > 0)
      .map(
        ({ name: file, missed, lines }) =>
          `${String(missed).padStart(5)} of ${lines.total}  ${file}`,
      ),
  ];
}

function share([covered, total]) {
  const percent = total === 0 ? '–' : `${((covered / total) * 100).toFixed(1)}%`;
  return `${percent.padStart(6)} of ${String(total).padStart(6)}`;
}

/** Tests that fail are said by themselves; what they executed counts all the same. */
function run(command, args, env = {}) {
  spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
}
