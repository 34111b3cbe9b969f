// npm run bench: the core alone, then the whole product on a database of its own. JSON and a table.
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { availableParallelism, cpus } from 'node:os';
import { join } from 'node:path';
import { ensurePackages, root } from './packages.mjs';

ensurePackages();
const { ensureBuild } = await import('./build.mjs');
const { startDatabase } = await import('./database.mjs');
ensureBuild();
const results = JSON.parse(tsx(['core/bench/run.ts']));
const database = await startDatabase('test-postgres', ['fsync=off', 'synchronous_commit=off']);
try {
  results.push(...JSON.parse(tsx(['app/bench/run.ts'], { TEST_DATABASE_URL: database.url })));
} finally {
  database.stop();
}
const machine = {
  cores: availableParallelism(),
  processor: cpus()[0]?.model,
  node: process.version,
};
const file = join(root, 'bench-results.json');
writeFileSync(
  file,
  `${JSON.stringify({ at: new Date().toISOString(), machine, results }, null, 2)}\n`,
);
console.log(`\n${'median'.padStart(12)}  ${'least - greatest'.padStart(20)}  (ms)`);
for (const { name, median, least, greatest } of results)
  console.log(
    `${median.toFixed(2).padStart(12)}  ${`${least.toFixed(2)} - ${greatest.toFixed(2)}`.padStart(20)}  ${name}`,
  );
console.log(
  `\n${machine.cores} cores, ${machine.processor}, Node ${machine.node}; also in bench-results.json`,
);

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
