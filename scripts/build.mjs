import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './packages.mjs';

const stamp = join(root, 'app/dist/built');
const sources = [
  'core/src',
  'demo',
  'app/src',
  'app/public',
  'app/astro.config.mjs',
  'app/build-worker.mjs',
  'app/compress-files.mjs',
  'package-lock.json',
];

/** Builds web server and worker when a source is newer than the last build. */
export function ensureBuild() {
  const built = existsSync(stamp) ? statSync(stamp).mtimeMs : 0;
  if (sources.every((source) => newest(join(root, source)) < built)) return;
  console.log('Building.');
  const started = Date.now();
  const done = spawnSync('npm', ['run', '--silent', 'build'], {
    cwd: root,
    encoding: 'utf8',
    // Whoever asks for the build, a test runner too: it is the one that is served.
    env: { ...process.env, NODE_ENV: 'production', ASTRO_TELEMETRY_DISABLED: '1' },
  });
  if (done.status !== 0) throw new Error(`The build failed:\n${done.stdout}\n${done.stderr}`);
  writeFileSync(stamp, new Date(started).toISOString());
}

function newest(path) {
  const status = statSync(path);
  if (!status.isDirectory()) return status.mtimeMs;
  return readdirSync(path).reduce(
    (most, name) => Math.max(most, newest(join(path, name))),
    status.mtimeMs,
  );
}
