import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { setPriority, tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from '../packages.mjs';

/** Measures what a command and all that it begins cost the processors, in seconds of one core. */
const measuring = 'TIMEFORMAT="%U %S"; { time "$@" 2>&3; } 3>&2 2>"$0"';

/**
 * Runs a command and keeps in the tally what it took; what it prints comes line by line, as others print beside it.
 *
 * @returns the exit code
 */
export async function timed(tally, name, command, args, { env = {}, priority = 0 } = {}) {
  const costs = resultFile();
  const begun = Date.now();
  const child = spawn('bash', ['-c', measuring, costs, command, ...args], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1', ...env },
  });
  if (child.pid && priority !== 0) setPriority(child.pid, priority);
  const code = await new Promise((resolve, reject) => {
    child.once('error', reject);
    child.once('close', resolve);
  });
  const used = existsSync(costs) ? readFileSync(costs, 'utf8').trim().split(/\s+/) : [];
  const cores = used.slice(-2).reduce((sum, part) => sum + Number(part), 0);
  tally.parts.push({ name, seconds: (Date.now() - begun) / 1000, cores });
  return code;
}

/** The program of a package, without what npm takes to find it. */
export const programOf = (name) => join(root, 'node_modules/.bin', name);

/** A place for what a command writes down. */
export function resultFile() {
  return join(mkdtempSync(join(tmpdir(), 'rook-scale-')), 'result');
}
