import { spawn } from 'node:child_process';
import { once } from 'node:events';

const script = new URL('../../dist/worker/check.js', import.meta.url).pathname;

/** What the product's own check finds amiss in a database. */
export async function inconsistencies(databaseUrl: string): Promise<{ what: string }[]> {
  const child = spawn(process.execPath, [script], {
    env: { ...process.env, DATABASE_URL: databaseUrl },
  });
  let output = '';
  child.stdout.on('data', (piece: Buffer) => (output += piece.toString()));
  let errors = '';
  child.stderr.on('data', (piece: Buffer) => (errors += piece.toString()));
  const [code] = (await once(child, 'close')) as [number];
  if (code === 0) return [];
  if (!/inconsistencies/.test(output)) throw new Error(`The check broke: ${errors}`);
  return output
    .trim()
    .split('\n')
    .slice(0, -1)
    .map((line) => ({ what: line.replace(/^Study \S+: /, '') }));
}
