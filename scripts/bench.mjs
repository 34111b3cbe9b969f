// npm run bench: the core alone, then the whole product on a database of its own, as durable as the
// product's; beside them what a compiled general-purpose library takes. JSON and a table.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { availableParallelism, cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensurePackages, root } from './packages.mjs';

ensurePackages();
const { ensureBuild } = await import('./build.mjs');
const { startDatabase } = await import('./database.mjs');
ensureBuild();
if (process.argv[2] === 'cycles') await cycles();
const results = JSON.parse(tsx(['core/bench/run.ts']));
const file40 = join(mkdtempSync(join(tmpdir(), 'rook-bench-')), 'wide.csv');
const database = await startDatabase('bench-postgres');
try {
  results.push(
    ...JSON.parse(
      tsx(['app/bench/run.ts'], { TEST_DATABASE_URL: database.url, BENCH_FILE: file40 }),
    ),
  );
} finally {
  database.stop();
}
const compiled = compiledLibrary();
for (const result of results) {
  if (compiled[result.name] === undefined) continue;
  result.compiled = 1000 * compiled[result.name];
  result.ratio = result.median / result.compiled;
}
const machine = {
  cores: availableParallelism(),
  processor: cpus()[0]?.model,
  node: process.version,
};
const file = join(root, 'bench-results.json');
const last = lastResults();
for (const result of results)
  if (last.has(result.name)) result.last = last.get(result.name) / result.median;
writeFileSync(
  file,
  `${JSON.stringify({ at: new Date().toISOString(), machine, results }, null, 2)}\n`,
);
console.log(
  `\n${'median'.padStart(12)}  ${'least - greatest'.padStart(20)}  ${'x compiled'.padStart(10)}  ${'x faster'.padStart(8)}  (ms; faster than the last results kept)`,
);
for (const { name, median, least, greatest, ratio, last } of results)
  console.log(
    `${median.toFixed(2).padStart(12)}  ${`${least.toFixed(2)} - ${greatest.toFixed(2)}`.padStart(20)}  ${shown(ratio, 10)}  ${shown(last, 8)}  ${name}`,
  );
console.log(
  `\n${machine.cores} cores, ${machine.processor}, Node ${machine.node}; also in bench-results.json`,
);

function shown(ratio, width) {
  return (ratio === undefined ? '' : ratio.toFixed(2)).padStart(width);
}

/** Medians by name of the run before, where its results are still there. */
function lastResults() {
  if (!existsSync(file)) return new Map();
  const { results: before } = JSON.parse(readFileSync(file, 'utf8'));
  return new Map(before.map(({ name, median }) => [name, median]));
}

/** Memory over many rounds of the whole task; nothing else is measured beside it. */
async function cycles() {
  const database = await startDatabase('bench-postgres');
  const { status } = spawnSync('npx', ['tsx', 'app/bench/cycles.ts'], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, TEST_DATABASE_URL: database.url },
  });
  database.stop();
  process.exit(status ?? 1);
}

/** Seconds by case of a compiled general-purpose library, where one is installed. */
function compiledLibrary() {
  // Debian's own, which has Debian's libraries, before any other.
  const python = existsSync('/usr/bin/python3') ? '/usr/bin/python3' : 'python3';
  const run = spawnSync(python, ['scripts/bench/compiled.py'], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, BENCH_FILE: file40, OMP_NUM_THREADS: '1', OPENBLAS_NUM_THREADS: '1' },
  });
  for (const line of (run.stderr ?? '').split('\n').filter(Boolean))
    console.log(
      line.endsWith('not installed') ? `Not compared: ${line} (Debian or pip has it).` : line,
    );
  return run.status === 0 ? JSON.parse(run.stdout) : {};
}

function tsx(args, env = {}) {
  const run = spawnSync('npx', ['tsx', ...args], {
    cwd: root,
    encoding: 'utf8',
    maxBuffer: 1 << 26,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  if (run.status !== 0) throw new Error(`The benchmark stopped: ${args[0]}`);
  return run.stdout;
}
