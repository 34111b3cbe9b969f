// npm start: everything from a fresh machine to a running product.
import { ensurePackages } from './packages.mjs';

const begun = Date.now();
try {
  ensurePackages();
  const { ensureBuild } = await import('./build.mjs');
  const { startDatabase } = await import('./database.mjs');
  const { startProduct } = await import('./product.mjs');
  ensureBuild();
  const given = process.env.DATABASE_URL;
  const database = given ? { url: given, stop() {} } : await startDatabase('postgres');
  let stopping = false;
  let product;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    console.log('Stopping.');
    await product?.stop();
    database.stop();
    process.exit(0);
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  product = await startProduct({ databaseUrl: database.url });
  console.log(
    `\nRook Scale is ready at ${product.address}  (${((Date.now() - begun) / 1000).toFixed(1)} s)`,
  );
  console.log('Press Ctrl+C to stop it.\n');
} catch (error) {
  console.error(`\n${error.message}\n`);
  process.exit(1);
}
