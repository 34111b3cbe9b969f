// npm start: everything from a fresh machine to a running product.
import { ensurePackages } from './packages.mjs';
import { claimRunning } from './running.mjs';

const begun = Date.now();
/** What was begun, the last first, so that a start that fails leaves nothing behind. */
const ends = [];
let stopping = false;

try {
  const { port, role } = options();
  ensurePackages();
  const given = process.env.DATABASE_URL;
  const claimed = given ? undefined : await claimRunning();
  if (claimed?.address) {
    console.log(`\nRook Scale is running already, at ${claimed.address}\n`);
    process.exit(0);
  }
  if (claimed) ends.unshift(claimed.release);
  const { ensureBuild } = await import('./build.mjs');
  const { startOwnDatabase } = await import('./database.mjs');
  const { startProduct } = await import('./product.mjs');
  ensureBuild();
  process.on('SIGINT', () => void stop(0));
  process.on('SIGTERM', () => void stop(0));
  const database = given ? { url: given, stop() {} } : await startOwnDatabase();
  ends.unshift(database.stop);
  const product = await startProduct({
    databaseUrl: database.url,
    firstPort: port,
    web: role !== 'worker',
    workers: role === 'web' ? 0 : 1,
  });
  ends.unshift(product.stop);
  claimed?.tell(product.address);
  const seconds = ((Date.now() - begun) / 1000).toFixed(1);
  console.log(
    product.address
      ? `\nRook Scale is ready at ${product.address}  (${seconds} s)`
      : `\nThe worker is ready  (${seconds} s)`,
  );
  console.log('Press Ctrl+C to stop it.\n');
} catch (error) {
  console.error(`\n${error.message}\n`);
  await stop(1);
}

async function stop(code) {
  if (stopping) return;
  stopping = true;
  if (code === 0) console.log('Stopping.');
  for (const end of ends) await end();
  process.exit(code);
}

/** `npm start -- web` and `npm start -- worker` run one of the two, on a database of one's own. */
function options() {
  const role = process.argv[2] ?? 'both';
  if (!['both', 'web', 'worker'].includes(role))
    throw new Error(`There is no "${role}" to start: say web, worker, or nothing for both.`);
  if (role !== 'both' && !process.env.DATABASE_URL)
    throw new Error(
      `DATABASE_URL must say which database the ${role} is for; the private one is for both at once.`,
    );
  const port = Number(process.env.PORT ?? 4310);
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Error('PORT must be a whole number from 1 to 65535. Nothing was started.');
  return { port, role };
}
