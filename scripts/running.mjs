// Which product runs in this folder, so that a second start leads to it instead of starting another.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './packages.mjs';

const folder = join(root, '.data');
const file = join(folder, 'running.json');

/**
 * Claims the folder for this process. Gives the address of the product that runs already, or what
 * tells others of this one and what lets go of the folder.
 */
export async function claimRunning() {
  mkdirSync(folder, { recursive: true });
  for (let tries = 0; tries < 120; tries++) {
    if (claim())
      return {
        tell: (address) => write({ address }),
        release: () => rmSync(file, { force: true }),
      };
    const other = read();
    // Left by one that was killed; its number may be another program's by now.
    if (!other || !isStart(other.pid)) rmSync(file, { force: true });
    else if (other.address && (await answers(other.address))) return { address: other.address };
    // It is being started, or ended, this very moment.
    else await new Promise((resolve) => setTimeout(resolve, 500));
  }
  throw new Error(
    'Another start in this folder has not come to an end for a minute. End it first (Ctrl+C where it runs).',
  );
}

function claim() {
  try {
    writeFileSync(file, JSON.stringify({ pid: process.pid }), { flag: 'wx' });
    return true;
  } catch (error) {
    if (error.code === 'EEXIST') return false;
    throw new Error(
      `The folder .data cannot be written to: ${error.message}. Nothing was started.`,
    );
  }
}

const write = (more) => writeFileSync(file, JSON.stringify({ pid: process.pid, ...more }));

function read() {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return undefined;
  }
}

function isStart(pid) {
  try {
    process.kill(pid, 0);
  } catch {
    return false;
  }
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');
  } catch {
    return true;
  }
}

async function answers(address) {
  try {
    await fetch(`${address}/api/health`, { signal: AbortSignal.timeout(3000) });
    return true;
  } catch {
    return false;
  }
}
