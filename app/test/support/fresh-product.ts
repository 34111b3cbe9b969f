import { randomBytes } from 'node:crypto';
import pg from 'pg';
import { startProduct, type Product } from '../../../scripts/product.mjs';

export interface FreshProduct extends Product {
  databaseUrl: string;
}

/** The built product on an empty database of its own; `stop` ends it and drops the database. */
export async function freshProduct(
  options: { demo?: boolean; workers?: number } = {},
): Promise<FreshProduct> {
  const cluster = process.env.TEST_DATABASE_URL;
  if (!cluster) throw new Error('Run these tests with npm run test:app or npm run test:browser.');
  const name = `test_${randomBytes(6).toString('hex')}`;
  await onCluster(cluster, `create database ${name}`);
  const url = new URL(cluster);
  url.pathname = `/${name}`;
  const product = await startProduct({ databaseUrl: url.href, firstPort: 4510, ...options });
  return {
    ...product,
    databaseUrl: url.href,
    async stop() {
      await product.stop();
      await onCluster(cluster, `drop database ${name} with (force)`);
    },
  };
}

async function onCluster(url: string, command: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(command);
  await client.end();
}
