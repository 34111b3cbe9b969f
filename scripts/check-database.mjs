// npm run check-database: whether everything in the database belongs together.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensurePackages, root } from './packages.mjs';
import { databaseAtHand } from './tools.mjs';

ensurePackages();
const { ensureBuild } = await import('./build.mjs');
ensureBuild();
const database = await databaseAtHand();
const run = spawnSync(process.execPath, [join(root, 'app/dist/worker/check.js')], {
  stdio: 'inherit',
  env: { ...process.env, DATABASE_URL: database.url },
});
database.stop();
process.exit(run.status ?? 1);
