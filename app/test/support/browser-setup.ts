import { freshProduct } from './fresh-product.ts';

/** One product with the demo study for all browser tests; each test makes what it changes itself. */
export default async function setUp(): Promise<() => Promise<void>> {
  const product = await freshProduct();
  process.env.PRODUCT_ADDRESS = product.address;
  process.env.PRODUCT_WEB_PID = String(product.web.pid);
  return () => product.stop();
}
