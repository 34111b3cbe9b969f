// Runs the built product on a database: schema and demo study, then web server and worker.
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { root } from './packages.mjs';
import { freePort } from './ports.mjs';

const app = join(root, 'app');

/**
 * @param options.databaseUrl where everything is kept
 * @param options.demo false leaves the demo study out
 * @param options.firstPort the web server takes this port or the next free one
 * @param options.web false runs workers alone
 * @param options.env more for the environment of its processes
 */
export async function startProduct({
  databaseUrl,
  demo = true,
  firstPort = 4310,
  web: hasWeb = true,
  workers = 1,
  env: more = {},
}) {
  const host = process.env.HOST ?? '127.0.0.1';
  const port = await freePort(firstPort);
  const env = {
    ...process.env,
    ...more,
    NODE_ENV: 'production',
    DATABASE_URL: databaseUrl,
    MIGRATIONS_FOLDER: join(app, 'migrations'),
    ROOK_DEMO: demo ? 'yes' : 'no',
    HOST: host,
    PORT: String(port),
    ASTRO_NODE_LOGGING: 'disabled',
    // Where coverage is measured, each process writes there what it executed.
    ...(process.env.COVERAGE_FOLDER && { NODE_V8_COVERAGE: process.env.COVERAGE_FOLDER }),
  };
  await runOnce(join(app, 'dist/worker/setup.js'), env);
  const web = hasWeb ? supervise('web server', join(app, 'dist/web/main.js'), env) : undefined;
  const jobs = Array.from({ length: workers }, () =>
    supervise('worker', join(app, 'dist/worker/main.js'), env),
  );
  const stop = async () => {
    await Promise.all([web, ...jobs].map((process) => process?.stop()));
  };
  const address = web && `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`;
  try {
    if (address) await untilAnswers(`${address}/api/health`, workers > 0);
  } catch (error) {
    await stop();
    throw error;
  }
  return {
    address,
    web,
    workers: jobs,
    /** What a start does to the database, once more: schema, demo study, mending, clearing away. */
    setUp: () => runOnce(join(app, 'dist/worker/setup.js'), env),
    stop,
  };
}

async function runOnce(script, env) {
  const child = fork(script, { env, stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
  const [code] = await once(child, 'exit');
  if (code !== 0) throw new Error('The database could not be prepared; see the lines above.');
}

/** Keeps a process alive: when it ends by itself it is started again after a second. */
function supervise(name, script, env) {
  let stopping = false;
  let child;
  const start = () => {
    // Quiet on standard output: the address is the one thing to read there.
    child = fork(script, { env, stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
    child.once('exit', (code, signal) => {
      if (stopping) return;
      console.error(`The ${name} ended (${signal ?? code}); starting it again.`);
      setTimeout(() => !stopping && start(), 1000);
    });
  };
  start();
  return {
    get pid() {
      return child.pid;
    },
    async stop() {
      stopping = true;
      if (child.exitCode !== null || child.signalCode !== null) return;
      const gone = once(child, 'exit');
      child.kill('SIGTERM');
      const force = setTimeout(() => child.kill('SIGKILL'), 5000);
      await gone;
      clearTimeout(force);
    },
  };
}

/** Until web server, database and, where there is to be one, worker answer. */
async function untilAnswers(url, withWorker) {
  for (let tries = 0; tries < 300; tries++) {
    try {
      const { database, workers } = await (await fetch(url)).json();
      if (database === 'answers' && (workers > 0 || !withWorker)) return;
    } catch {
      // Not listening yet.
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('The web server did not answer within 30 seconds.');
}
