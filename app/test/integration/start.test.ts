import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { createServer } from 'node:net';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { onDatabase } from '../support/database.ts';

const root = new URL('../../../', import.meta.url).pathname;
const name = `test_start_${randomBytes(4).toString('hex')}`;
const database = new URL(process.env.TEST_DATABASE_URL!);
let url: string;

beforeAll(async () => {
  await onDatabase(database.href, `create database ${name}`);
  const own = new URL(database.href);
  own.pathname = `/${name}`;
  url = own.href;
});
afterAll(() => onDatabase(database.href, `drop database ${name} with (force)`));

/** What a failed test leaves running would hold its port against the next run. */
const running = new Set<ChildProcess>();
afterEach(async () => {
  for (const child of running) {
    const ended = once(child, 'exit');
    child.kill('SIGINT');
    await ended;
  }
});

/** The first of two neighbouring ports that nobody listens on, beyond those of products in other tests. */
async function freePort(): Promise<number> {
  for (let port = 4910; port < 5100; port += 2)
    if ((await isFree(port)) && (await isFree(port + 1))) return port;
  throw new Error('No port is free.');
}

function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const server = createServer().once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
}

interface Started {
  child: ChildProcess;
  address: string;
  output: () => string;
}

/** Runs the start command on a database of its own until it prints its address. */
async function start(
  env: Record<string, string>,
  [program, ...given] = ['node', 'scripts/start.mjs'],
): Promise<Started> {
  const child = spawn(program, given, {
    cwd: root,
    env: { ...process.env, DATABASE_URL: url, ...env },
  });
  running.add(child);
  child.once('exit', () => running.delete(child));
  let output = '';
  child.stdout.on('data', (piece: Buffer) => (output += piece.toString()));
  child.stderr.on('data', (piece: Buffer) => (output += piece.toString()));
  await expect.poll(() => output).toMatch(/ready at|is missing|did not/);
  const address = /ready at (\S+)/.exec(output)?.[1] ?? '';
  return { child, address, output: () => output };
}

async function stop({ child }: Started): Promise<number | null> {
  const ended = once(child, 'exit');
  child.kill('SIGINT');
  const [code] = (await ended) as [number | null];
  return code;
}

describe('npm start', () => {
  it('prepares an empty database, prints its address, and Ctrl+C ends all of it', async () => {
    const port = await freePort();
    const started = await start({ PORT: String(port) });
    expect(started.address).toBe(`http://127.0.0.1:${port}`);
    const response = await fetch(started.address);
    expect(response.status).toBe(200);
    expect(await response.text()).toContain('Kidney injury after planned surgery');
    expect(await stop(started)).toBe(0);
    expect(started.output()).toContain('Stopping.');
    await expect(fetch(started.address)).rejects.toThrow();
  });

  it('ends all of it too where the signal is sent to npm alone', async () => {
    const port = await freePort();
    const started = await start({ PORT: String(port) }, ['npm', 'start']);
    await stop(started);
    await expect
      .poll(() =>
        fetch(started.address).then(
          () => 'answers',
          () => 'gone',
        ),
      )
      .toBe('gone');
    expect(started.output()).toContain('Stopping.');
  });

  it('takes the next free port where another program has the first, with the study of before', async () => {
    const port = await freePort();
    const other = createServer().listen(port, '127.0.0.1');
    await once(other, 'listening');
    const started = await start({ PORT: String(port) });
    expect(started.address).toBe(`http://127.0.0.1:${port + 1}`);
    const page = await (await fetch(started.address)).text();
    expect(page.match(/Kidney injury after planned surgery/g)!.length).toBeGreaterThan(0);
    expect(await stop(started)).toBe(0);
    other.close();
  });

  it('says what is amiss where the database cannot be reached', async () => {
    const child = spawn('node', ['scripts/start.mjs'], {
      cwd: root,
      env: { ...process.env, DATABASE_URL: 'postgres://nobody@127.0.0.1:9/none', PORT: '4720' },
    });
    let output = '';
    child.stderr.on('data', (piece: Buffer) => (output += piece.toString()));
    const [code] = (await once(child, 'exit')) as [number];
    expect(code).toBe(1);
    expect(output).toMatch(/The database could not be prepared/);
  });
});
