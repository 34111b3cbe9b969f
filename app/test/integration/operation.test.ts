import { execFileSync, spawn, spawnSync, type SpawnSyncReturns } from 'node:child_process';
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { gunzipSync } from 'node:zlib';
import { ensureApplication } from '../../../scripts/application-role.mjs';
import { startDatabase, startOwnDatabase } from '../../../scripts/database.mjs';
import { startProduct } from '../../../scripts/product.mjs';
import { postgresProgram } from '../../../scripts/tools.mjs';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { inconsistencies } from '../support/check.ts';
import { Client } from '../support/client.ts';
import { onDatabase, rowsOf } from '../support/database.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

const root = new URL('../../../', import.meta.url).pathname;
const folder = mkdtempSync(join(tmpdir(), 'rook-scale-test-'));

function command(script: string, file: string, url: string): SpawnSyncReturns<string> {
  return spawnSync('node', [`scripts/${script}.mjs`, file], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, DATABASE_URL: url },
  });
}

describe('backup and restore', () => {
  let product: FreshProduct;
  let client: Client;
  let study: string;
  const file = join(folder, 'all.backup');

  beforeAll(async () => {
    product = await freshProduct({ demo: false });
    client = new Client(product.address);
    study = await client.newStudy('Kept');
    await client.bringIn(study, birthWeight, 'development', asPublished);
    await client.changeDesign(study, { event: 'yes' });
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    await client.fitted(study);
  });
  afterAll(() => product.stop());

  const state = async () => {
    const lines = await client.get<{ id: string; results: unknown }[]>(
      `/api/studies/${study}/candidates`,
    );
    return lines.map(({ id, results }) => ({ id, results }));
  };

  it('bring everything back while the product runs, and a fit and a list go on from there', async () => {
    const before = await state();
    const saved = command('backup', file, product.databaseUrl);
    expect([saved.status, saved.stderr]).toEqual([0, '']);
    const again = command('backup', file, product.databaseUrl);
    expect([again.status, again.stderr]).toMatchObject([1, /is there already/]);
    await client.changeDesign(study, { seed: 99 });
    await client.fitted(study);
    await client.send('DELETE', `/api/studies/${study}`);
    await client.newStudy('Made after the backup');
    const restored = command('restore', file, product.databaseUrl);
    expect([restored.status, restored.stderr]).toEqual([0, '']);
    await expect
      .poll(() =>
        client.send('GET', `/api/studies/${study}`).then(
          ({ status }) => status,
          () => 0,
        ),
      )
      .toBe(200);
    await expect.poll(() => state().catch(() => undefined)).toEqual(before);
    const studies = await rowsOf(product.databaseUrl, 'select name from study');
    expect(studies).toEqual([{ name: 'Kept' }]);
    await expect
      .poll(() =>
        fetch(`${product.address}/api/health`).then(
          ({ ok }) => ok,
          () => false,
        ),
      )
      .toBe(true);
    await client.send('PUT', `/api/studies/${study}/candidates`, {
      candidates: before.map(({ id }) => id),
    });
    await client.fitted(study);
    expect(await state()).toEqual(before);
    const list = (await client.bringIn(study, birthWeight, 'screening')).body.id;
    const scored = await client.send('POST', `/api/studies/${study}/screenings`, {
      cohort: list,
      candidate: before[1].id,
      accept: true,
      unchecked: true,
    });
    expect(scored.status).toBe(200);
    expect(await inconsistencies(product.databaseUrl)).toEqual([]);
  });

  it('are readable by their owner alone, and one that fails leaves no file', () => {
    const own = join(folder, 'own.backup');
    expect(command('backup', own, product.databaseUrl).status).toBe(0);
    expect(statSync(own).mode & 0o777).toBe(0o600);
    const failed = join(folder, 'failed.backup');
    const nowhere = new URL(product.databaseUrl);
    nowhere.pathname = '/nowhere';
    expect(command('backup', failed, nowhere.href).status).toBe(1);
    expect(existsSync(failed)).toBe(false);
  });

  it('refuse what is no backup, is cut short, or was made by a later version', async () => {
    const before = await state();
    const broken = join(folder, 'broken.backup');
    writeFileSync(broken, 'not a backup');
    expect(command('restore', broken, product.databaseUrl).stderr).toMatch(
      /no backup of Rook Scale.*Nothing was changed/,
    );
    const whole = readFileSync(file);
    writeFileSync(broken, whole.subarray(0, whole.length - 2000));
    const cut = command('restore', broken, product.databaseUrl);
    expect([cut.status, cut.stderr]).toMatchObject([1, /Nothing was changed|nothing was changed/]);
    const later = join(folder, 'later.backup');
    await onDatabase(
      product.databaseUrl,
      `insert into drizzle.__drizzle_migrations (hash, created_at) values ('abcdef', 9999999999999)`,
    );
    expect(command('backup', later, product.databaseUrl).status).toBe(0);
    await onDatabase(
      product.databaseUrl,
      `delete from drizzle.__drizzle_migrations where hash = 'abcdef'`,
    );
    expect(command('restore', later, product.databaseUrl).stderr).toMatch(
      /made by a later version.*Nothing was changed/,
    );
    expect(await state()).toEqual(before);
  });
});

describe('the database of an older version', () => {
  /** What the start does to hand it over, in its order. */
  const steps = [
    'create role rook_scale login',
    'alter database postgres rename to rook_scale',
    'create database postgres',
    'alter database rook_scale owner to rook_scale',
  ];

  it('is handed over by the next start, wherever the first one was interrupted', async () => {
    const cluster = await startDatabase('test-upgrade-postgres');
    const [template, old] = ['template1', 'postgres'].map((name) => {
      const url = new URL(cluster.url);
      url.pathname = `/${name}`;
      return url.href;
    });
    const dump = gunzipSync(readFileSync(new URL('../data/before-kinds.sql.gz', import.meta.url)));
    const secret = join(folder, 'secret');
    try {
      for (let done = 0; done <= steps.length; done++) {
        for (const statement of [
          'drop database if exists rook_scale with (force)',
          'drop database if exists postgres with (force)',
          'drop role if exists rook_scale',
          'create database postgres',
        ])
          await onDatabase(template, statement);
        const { status, stderr } = spawnSync(
          postgresProgram('psql'),
          ['-q', '-v', 'ON_ERROR_STOP=1', old],
          { input: dump, encoding: 'utf8' },
        );
        expect([status, stderr]).toEqual([0, '']);
        for (const step of steps.slice(0, done)) await onDatabase(template, step);
        const url = await ensureApplication(cluster.url, secret);
        // Whatever was done is left as it is by the start after that.
        expect(await ensureApplication(cluster.url, secret)).toBe(url);
        const tables = await rowsOf(
          url,
          `select distinct tableowner from pg_tables where schemaname in ('public', 'drizzle')`,
        );
        expect(tables, `after ${done} steps`).toEqual([{ tableowner: 'rook_scale' }]);
      }
      const product = await startProduct({
        ...{ databaseUrl: await ensureApplication(cluster.url, secret), demo: false },
        firstPort: 4660,
      });
      const first = await fetch(product.address);
      expect([first.status, /\/studies\/[0-9a-f-]{36}/.test(first.url)]).toEqual([200, true]);
      await product.stop();
    } finally {
      cluster.stop();
    }
  });
});

describe('the database that the start keeps', () => {
  const name = 'test-own-postgres';

  it('has checksums, a role that owns its database alone, and no values in its log', async () => {
    const own = await startOwnDatabase(name);
    try {
      const product = await startProduct({ databaseUrl: own.url, demo: false, firstPort: 4660 });
      const client = new Client(product.address);
      const study = await client.newStudy('Own');
      await client.bringIn(study, birthWeight, 'development', asPublished);
      await client.changeDesign(study, { event: 'yes' });
      expect((await client.fitted(study))[0].results).toBeDefined();
      await product.stop();
      const [role] = await rowsOf(
        own.url,
        `select rolsuper, rolcreatedb, rolcreaterole, current_setting('data_checksums') as sums,
          current_database() as name from pg_roles where rolname = current_user`,
      );
      expect(role).toEqual({
        rolsuper: false,
        rolcreatedb: false,
        rolcreaterole: false,
        sums: 'on',
        name: 'rook_scale',
      });
      const elsewhere = new URL(own.url);
      elsewhere.pathname = '/postgres';
      await expect(rowsOf(elsewhere.href, 'select 1')).rejects.toThrow(/permission denied/);
      await expect(rowsOf(own.url, `select 'creatinine of Ines'::int`)).rejects.toThrow();
      const home = join(own.home, 'cluster');
      const logs = readdirSync(join(home, 'log')).map((file) =>
        readFileSync(join(home, 'log', file), 'utf8'),
      );
      expect(logs.length).toBeGreaterThan(0);
      expect(logs.join('\n')).not.toMatch(/creatinine|Ines|insert into/);
    } finally {
      own.stop();
    }
  });

  it('comes back by itself when it is killed, and a number in its pid file that is another program’s does not keep it down', async () => {
    const own = await startOwnDatabase(name);
    const home = join(own.home, 'cluster');
    const pidFile = join(home, 'postmaster.pid');
    const pidOf = () => Number(readFileSync(pidFile, 'utf8').split('\n')[0]);
    const answers = () =>
      rowsOf(own.url, 'select 1').then(
        () => true,
        () => false,
      );
    try {
      const first = pidOf();
      process.kill(first, 'SIGKILL');
      await expect.poll(answers).toBe(true);
      expect(pidOf()).not.toBe(first);
    } finally {
      own.stop();
    }
    const lines = ['1', ...Array.from({ length: 6 }, () => '0')];
    writeFileSync(pidFile, `${process.pid}\n${home}\n${lines.join('\n')}\n`);
    const again = await startOwnDatabase(name);
    try {
      expect(await answers().catch(() => false)).toBe(true);
      expect(pidOf()).not.toBe(process.pid);
    } finally {
      again.stop();
    }
  });
});

/** A disk of a few MB, where this machine lets one be made. */
function smallDisk(): { path: string; end(): void } | undefined {
  const path = mkdtempSync('/var/tmp/rook-scale-disk-');
  const made = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=12m', 'tmpfs', path]);
  const end = () => {
    if (made.status === 0) spawnSync('umount', [path]);
    rmSync(path, { recursive: true, force: true });
  };
  if (made.status === 0) return { path, end };
  end();
  return undefined;
}

describe('a disk without room', () => {
  const disk = smallDisk();
  afterAll(() => disk?.end());

  it.skipIf(!disk)('is named, and nothing is left behind', async () => {
    const home = join(disk!.path, 'kept');
    mkdirSync(home);
    chmodSync(disk!.path, 0o755);
    await expect(startDatabase(home)).rejects.toThrow(/no room on the disk.*Make room/);
    expect(readdirSync(home)).toEqual([]);
  });
});

describe('a database of one’s own', () => {
  it('is reached over TLS, with its certificate checked', async () => {
    const cluster = process.env.TEST_DATABASE_URL!;
    const [{ home }] = await rowsOf<{ home: string }>(
      cluster,
      `select current_setting('data_directory') as home`,
    );
    const key = join(home, 'server.key');
    const certificate = join(home, 'server.crt');
    execFileSync('openssl', [
      ...'req -new -x509 -days 2 -nodes -newkey rsa:2048 -subj /CN=localhost'.split(' '),
      ...[
        '-addext',
        'subjectAltName=DNS:localhost,IP:127.0.0.1',
        '-out',
        certificate,
        '-keyout',
        key,
      ],
    ]);
    if (process.getuid?.() === 0) {
      const id = (flag: string) => Number(execFileSync('id', [flag, 'postgres']).toString());
      for (const file of [key, certificate]) chownSync(file, id('-u'), id('-g'));
    }
    await onDatabase(cluster, 'alter system set ssl = on');
    await onDatabase(cluster, 'select pg_reload_conf()');
    await wait(1000);
    const url = new URL(cluster);
    url.searchParams.set('sslmode', 'verify-full');
    url.searchParams.set('sslrootcert', certificate);
    const product = await freshProduct({ demo: false, cluster: url.href });
    try {
      const [{ ssl }] = await rowsOf<{ ssl: boolean }>(
        product.databaseUrl,
        `select bool_and(ssl) as ssl from pg_stat_ssl join pg_stat_activity using (pid)
          where datname = current_database()`,
      );
      expect(ssl).toBe(true);
    } finally {
      await product.stop();
      await onDatabase(cluster, 'alter system reset ssl');
      await onDatabase(cluster, 'select pg_reload_conf()');
    }
  });
});

describe('a start', () => {
  it.each(['0', 'abc', '70000'])(
    'that cannot have its port says so and leaves nothing running: %s',
    (port) => {
      const run = spawnSync('node', ['scripts/start.mjs'], {
        cwd: root,
        encoding: 'utf8',
        env: { ...process.env, PORT: port },
      });
      expect([run.status, run.stderr]).toMatchObject([
        1,
        /PORT must be a whole number.*Nothing was started/,
      ]);
    },
  );

  it('of one part says which database it is for', () => {
    const { DATABASE_URL: _, ...env } = process.env;
    const run = spawnSync('node', ['scripts/start.mjs', 'worker'], {
      cwd: root,
      encoding: 'utf8',
      env,
    });
    expect([run.status, run.stderr]).toMatchObject([1, /DATABASE_URL must say which database/]);
  });

  it('that is killed takes web server and worker with it', async () => {
    const name = `test_orphans_${process.pid}`;
    await onDatabase(process.env.TEST_DATABASE_URL!, `create database ${name}`);
    const url = new URL(process.env.TEST_DATABASE_URL!);
    url.pathname = `/${name}`;
    const child = spawn('node', ['scripts/start.mjs'], {
      cwd: root,
      env: { ...process.env, DATABASE_URL: url.href, PORT: '4690', ROOK_DEMO: 'no' },
    });
    let output = '';
    child.stdout.on('data', (piece: Buffer) => (output += piece.toString()));
    await expect.poll(() => output).toMatch(/ready at/);
    const address = /ready at (\S+)/.exec(output)![1];
    child.kill('SIGKILL');
    const gone = () =>
      fetch(`${address}/api/health`).then(
        () => false,
        () => true,
      );
    await expect.poll(gone).toBe(true);
    await wait(500);
    await onDatabase(process.env.TEST_DATABASE_URL!, `drop database ${name} with (force)`);
  });
});
