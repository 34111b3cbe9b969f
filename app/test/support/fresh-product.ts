import { randomBytes } from 'node:crypto';
import { onDatabase } from './database.ts';
import { preparedDatabase } from './prepared-database.ts';
import { startProduct, type Product } from '../../../scripts/product.mjs';

export interface FreshProduct extends Product {
  databaseUrl: string;
}

/** What runs side by side must not find the same port free. */
const firstPortOf = (lane: number) => 4510 + 200 * (lane - 1);

/** The built product on a new database, with the demo study or empty; `stop` ends it and drops the database. */
export async function freshProduct({
  cluster = process.env.TEST_DATABASE_URL,
  lane = Number(process.env.VITEST_POOL_ID ?? 1),
  ...options
}: {
  demo?: boolean;
  workers?: number;
  /** Another cluster than that of the other tests. */
  cluster?: string;
  /** Which of those that run side by side it is for. */
  lane?: number;
} = {}): Promise<FreshProduct> {
  if (!cluster) throw new Error('Run these tests with npm run test:app or npm run test:browser.');
  const name = `test_${randomBytes(6).toString('hex')}`;
  const template = options.demo === false ? 'template0' : await preparedDatabase(cluster);
  await onDatabase(cluster, `create database ${name} template ${template}`);
  const url = new URL(cluster);
  url.pathname = `/${name}`;
  const product = await startProduct({
    databaseUrl: url.href,
    firstPort: firstPortOf(lane),
    ...options,
  });
  return {
    ...product,
    databaseUrl: url.href,
    async stop() {
      await product.stop();
      await onDatabase(cluster, `drop database ${name} with (force)`);
    },
  };
}
