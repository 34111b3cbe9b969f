import { freshProduct } from './fresh-product.ts';

/** One product with the demo study for all browser tests; each test makes what it changes itself. */
export default async function setUp(): Promise<() => Promise<void>> {
  const product = await freshProduct();
  process.env.PRODUCT_ADDRESS = product.address;
  return () => product.stop();
}
