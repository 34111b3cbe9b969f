import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

export const root = new URL('..', import.meta.url).pathname;

/** Installs the npm packages of the lock file when others are there, or none. */
export function ensurePackages() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 10))
    throw new Error(`Node 20.10 or later is needed; this is ${process.versions.node}.`);
  if (isInstalled()) return;
  console.log('Installing npm packages.');
  const done = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: 'inherit',
  });
  if (done.status !== 0)
    throw new Error(
      'The npm packages could not be installed. See the lines above; try again with: npm ci',
    );
}

/**
 * Whether what npm says it has installed is what the lock file asks for. By content, not by time: a fresh checkout of
 * the same lock file is newer than what is installed, and nothing is to be done.
 */
function isInstalled() {
  const wanted = packagesIn('package-lock.json');
  const there = packagesIn('node_modules/.package-lock.json');
  if (!wanted || !there) return false;
  const isSame = (name) => there[name]?.integrity === wanted[name]?.integrity;
  // What is optional may be for another machine.
  return (
    Object.keys(wanted).every((name) => (wanted[name].optional && !there[name]) || isSame(name)) &&
    Object.keys(there).every(isSame)
  );
}

/** The packages of a lock file that come from a registry; undefined where it cannot be read. */
function packagesIn(file) {
  try {
    const { packages } = JSON.parse(readFileSync(join(root, file), 'utf8'));
    return Object.fromEntries(
      Object.entries(packages).filter(([, { integrity }]) => integrity !== undefined),
    );
  } catch {
    return undefined;
  }
}
