import { get as request } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Overview } from '../../src/contract/studies.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client } from '../support/client.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
let client: Client;
let study: string;

beforeAll(async () => {
  product = await freshProduct({ demo: false });
  client = new Client(product.address);
  study = await client.newStudy('Pages');
  await client.bringIn(study, birthWeight, 'development', asPublished);
});
afterAll(() => product.stop());

interface Got {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  bytes: number;
}

/** Asks past fetch, which would unpack the answer and hide how it came. */
function ask(path: string, encoding = ''): Promise<Got> {
  return new Promise((resolve, reject) => {
    request(product.address + path, { headers: { 'Accept-Encoding': encoding } }, (response) => {
      let bytes = 0;
      response.on('data', (piece: Buffer) => (bytes += piece.length));
      response.on('end', () =>
        resolve({ status: response.statusCode ?? 0, headers: response.headers, bytes }),
      );
    }).on('error', reject);
  });
}

const page = async (path: string) => (await fetch(product.address + path)).text();
/** Scripts that a page names, and those they bring with them at once. */
const scriptsOf = (html: string) => [...new Set(html.match(/\/assets\/[\w.-]+\.js/g) ?? [])];

describe('files of the product', () => {
  it('come compressed as asked for, are kept by the browser, and are not taken for something else', async () => {
    const [script] = scriptsOf(await page(`/studies/${study}/records`));
    const plain = await ask(script);
    const brotli = await ask(script, 'br, gzip');
    const gzip = await ask(script, 'gzip');
    expect(plain.headers['content-encoding']).toBeUndefined();
    expect(brotli.headers['content-encoding']).toBe('br');
    expect(gzip.headers['content-encoding']).toBe('gzip');
    expect(brotli.bytes).toBeLessThan(gzip.bytes);
    expect(gzip.bytes).toBeLessThan(0.6 * plain.bytes);
    expect(brotli.headers['cache-control']).toContain('immutable');
    expect(brotli.headers['x-content-type-options']).toBe('nosniff');
  });

  it('are few enough: the scripts that a page names stay under 200 KB', async () => {
    for (const stage of [
      'records',
      'survey',
      'design',
      'candidates',
      'held-out-check',
      'reasons',
      'screening',
    ]) {
      const scripts = scriptsOf(await page(`/studies/${study}/${stage}`));
      expect(scripts.length).toBeGreaterThan(0);
      const sizes = await Promise.all(scripts.map(async (path) => (await ask(path, 'br')).bytes));
      expect(sizes.reduce((sum, size) => sum + size, 0)).toBeLessThan(200 * 1024);
    }
  });

  it('that do not exist are answered with the page that says so', async () => {
    const lost = await fetch(`${product.address}/nowhere`);
    expect(lost.status).toBe(404);
    expect(await lost.text()).toMatch(/<html/);
    expect((await ask('/assets/nothing.js')).status).toBe(404);
    expect((await ask('/../package.json')).status).toBe(404);
  });
});

describe('pages', () => {
  it('come compressed, and a stream of events does not wait to be', async () => {
    expect((await ask(`/studies/${study}/design`, 'br')).headers['content-encoding']).toBe('br');
    const stop = new AbortController();
    const events = await fetch(`${product.address}/api/studies/${study}/events`, {
      signal: stop.signal,
      headers: { 'Accept-Encoding': 'br, gzip' },
    });
    expect(events.headers.get('content-encoding')).toBeNull();
    const first = await events.body!.getReader().read();
    expect(new TextDecoder().decode(first.value)).toContain('event: changed');
    stop.abort();
  });

  it('show a change at once, though what they show is remembered', async () => {
    const title = async () => /<title>([^<]*)/.exec(await page(`/studies/${study}/records`))?.[1];
    expect(await title()).toContain('Pages');
    for (const name of ['Another name', 'And another']) {
      await client.send('PATCH', `/api/studies/${study}`, { name });
      expect(await title()).toContain(name);
    }
    const cost = async () =>
      (await client.get<Overview>(`/api/studies/${study}`)).design?.choices.missedCost;
    for (const missedCost of [3, 5, 7]) {
      await client.changeDesign(study, { event: 'yes', missedCost });
      expect(await cost()).toBe(missedCost);
    }
  });

  it('show what the worker has done as soon as it says so', async () => {
    await client.fitted(study);
    const overview = await client.get<Overview>(`/api/studies/${study}`);
    expect(overview.candidates).toMatchObject({ fitted: 1, atWork: 0 });
    expect(await page(`/studies/${study}/candidates`)).toContain('Reference');
  });
});
