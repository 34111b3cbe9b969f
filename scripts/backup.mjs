// npm run backup -- FILE: everything in the database as it is at this moment, in one file.
import { spawnSync } from 'node:child_process';
import { closeSync, openSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { ensurePackages } from './packages.mjs';
import { databaseAtHand, postgresProgram, withPassword } from './tools.mjs';

/** The file is there, empty and for its owner alone, before any patient is in it. */
function reserve(file, given) {
  try {
    closeSync(openSync(file, 'wx', 0o600));
  } catch (error) {
    if (error.code === 'EEXIST')
      throw new Error(`${given} is there already. Nothing was written over.`);
    throw new Error(`${given} cannot be written: ${error.message}`);
  }
}

try {
  const [given, ...more] = process.argv.slice(2);
  if (!given || more.length > 0) throw new Error('Say where to: npm run backup -- FILE');
  const file = resolve(given);
  reserve(file, given);
  ensurePackages();
  const database = await databaseAtHand();
  try {
    // One snapshot: whatever is changed meanwhile is in it whole or not at all.
    const dumped = spawnSync(
      postgresProgram('pg_dump'),
      ['--format=custom', '--no-owner', '--no-privileges', `--file=${file}`, database.plainUrl],
      { encoding: 'utf8', env: withPassword(database) },
    );
    if (dumped.status !== 0) {
      rmSync(file, { force: true });
      throw new Error(`The backup was not made: ${dumped.stderr}`);
    }
  } finally {
    database.stop();
  }
  console.log(`Everything is in ${given}. It holds patients: keep it as safe as the database.`);
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
