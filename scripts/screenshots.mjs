// npm run screenshots: retakes docs/screenshots/ from the demo study, on a database of its own.
import { spawnSync } from 'node:child_process';
import { ensurePackages, root } from './packages.mjs';

ensurePackages();
const { ensureBuild } = await import('./build.mjs');
const { startDatabase } = await import('./database.mjs');
ensureBuild();
const database = await startDatabase('test-postgres', ['fsync=off', 'synchronous_commit=off']);
const run = spawnSync('npx', ['tsx', 'app/test/support/take-screenshots.ts'], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, TEST_DATABASE_URL: database.url },
});
database.stop();
process.exit(run.status ?? 1);
