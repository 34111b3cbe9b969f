import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from '../packages.mjs';

const kept = join(root, '.data/test-times.json');

/** Seconds that each file of tests took when it last ran on this machine. */
export function knownTimes() {
  return existsSync(kept) ? JSON.parse(readFileSync(kept, 'utf8')) : {};
}

/** Keeps how long the files of a run took, for runs that have to choose. */
export function keepTimes({ times }) {
  const ran = {};
  for (const { name, seconds } of times) {
    const [file] = name.split(' › ');
    ran[file] = Math.round(10 * ((ran[file] ?? 0) + seconds)) / 10;
  }
  mkdirSync(join(root, '.data'), { recursive: true });
  writeFileSync(kept, JSON.stringify({ ...knownTimes(), ...ran }, undefined, 2));
}
