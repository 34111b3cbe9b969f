import { connect, type Socket } from 'node:net';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { birthWeight } from '../support/birth-weight.ts';
import { Client } from '../support/client.ts';
import { rowsOf } from '../support/database.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
const open: Socket[] = [];

beforeAll(async () => {
  product = await freshProduct({ demo: false });
});
afterAll(async () => {
  for (const socket of open) socket.destroy();
  await product.stop();
});

/** A file that is promised and of which a few bytes come; answers with what the server says, whenever it says it. */
function slowUpload(cookie?: string): Promise<string> {
  const { port, host } = new URL(product.address);
  const socket = connect(Number(port), '127.0.0.1');
  open.push(socket);
  socket.write(
    [
      `PUT /api/uploads?name=slow.csv HTTP/1.1`,
      `Host: ${host}`,
      `Origin: ${product.address}`,
      ...(cookie ? [`Cookie: ${cookie}`] : []),
      'Content-Type: application/octet-stream',
      'Content-Length: 1000000',
      '',
      'age,low\n30,yes\n',
    ].join('\r\n'),
  );
  return new Promise((resolve) => {
    let heard = '';
    socket.on('data', (bytes) => {
      heard += bytes.toString();
      if (heard.includes('"sentence"')) resolve(heard);
    });
    socket.on('error', () => resolve('broken'));
    socket.on('close', () => resolve(heard || 'closed'));
  });
}

const health = async () => {
  const begun = Date.now();
  const { status } = await fetch(`${product.address}/api/health`);
  return { status, took: Date.now() - begun };
};

describe('files that hardly come', () => {
  it('are limited in number for one browser and for all, and end after a while; others are served', async () => {
    const first = await fetch(product.address);
    const cookie = first.headers.getSetCookie()[0].split(';')[0];
    const mine = Array.from({ length: 4 }, () => slowUpload(cookie));
    await wait(500);
    // One more of this browser waits for a place, and is told why there is none.
    const refused = await slowUpload(cookie);
    expect(refused).toContain('429');
    expect(refused).toContain('This browser is sending 4 files already.');
    // Another browser is not concerned.
    const other = new Client(product.address);
    const study = await other.newStudy('Beside slow ones');
    expect((await other.bringIn(study, birthWeight, 'development')).status).toBe(200);
    const many = Array.from({ length: 60 }, () => slowUpload());
    await wait(1000);
    const { status, took } = await health();
    expect(status).toBe(200);
    expect(took).toBeLessThan(5000);
    for (const said of await Promise.all(mine)) {
      expect(said).toContain('408');
      expect(said).toContain('The file comes in too slowly');
    }
    const answers = await Promise.all(many);
    expect(answers.every((said) => / 408 | 429 /.test(said))).toBe(true);
    expect(answers.some((said) => said.includes('The server is receiving 12 files already.'))).toBe(
      true,
    );
    // Nothing of them is kept, and there is room again.
    expect(
      (await other.bringIn(await other.newStudy('After'), birthWeight, 'development')).status,
    ).toBe(200);
    const kept = await rowsOf(
      product.databaseUrl,
      `select count(*)::int as files from upload where file_name = 'slow.csv'`,
    );
    expect(kept).toEqual([{ files: 0 }]);
  });
});
