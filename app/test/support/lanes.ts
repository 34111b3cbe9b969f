import { createServer } from 'node:http';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { freshProduct, type FreshProduct } from './fresh-product.ts';

/** The product of a lane, as its test files see it. */
export interface LaneProduct {
  address: string;
  databaseUrl: string;
}

/**
 * Runs one product for each lane of test files, started when a file of the lane first asks for it. The product lives in
 * vitest's main process; test files get its address over HTTP.
 */
export default async function keepLanes(): Promise<() => Promise<void>> {
  const lanes = new Map<string, Promise<FreshProduct>>();
  const server = createServer((asked, answer) => {
    const lane = asked.url!.slice(1);
    const product = lanes.get(lane) ?? freshProduct({ demo: false, lane: Number(lane) });
    lanes.set(lane, product);
    product.then(
      ({ address, databaseUrl }) => answer.end(JSON.stringify({ address, databaseUrl })),
      (error: unknown) => answer.writeHead(500).end(String(error)),
    );
  });
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  process.env.LANES = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return async () => {
    server.close();
    await Promise.all([...lanes.values()].map(async (product) => (await product).stop()));
  };
}

/** The product that the files of this lane use, one after the other; each makes its own studies in it. */
export async function productOfLane(): Promise<LaneProduct> {
  const response = await fetch(`${process.env.LANES}/${process.env.VITEST_POOL_ID ?? '1'}`);
  if (!response.ok) throw new Error(await response.text());
  return (await response.json()) as LaneProduct;
}
