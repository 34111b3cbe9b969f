import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { rowsOf } from '../support/database.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
let client: Client;
let study: string;
let port: number;

beforeAll(async () => {
  product = await freshProduct({ demo: false });
  client = new Client(product.address);
  port = Number(new URL(product.address).port);
  study = await client.newStudy('Network');
  await client.bringIn(study, birthWeight, 'development', asPublished);
});
afterAll(() => product.stop());

interface Got {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  text: string;
}

/** A request whose every header is ours, as a program or a foreign page could send it. */
function send(
  path: string,
  { method = 'GET', host = `127.0.0.1:${port}`, ...headers }: Record<string, string> = {},
  body?: string,
): Promise<Got> {
  return new Promise((resolve, reject) => {
    const sent = request(
      { host: '127.0.0.1', port, path, method, headers: { host, ...headers } },
      (response) => {
        let text = '';
        response.on('data', (piece: Buffer) => (text += piece.toString()));
        response.on('end', () =>
          resolve({ status: response.statusCode ?? 0, headers: response.headers, text }),
        );
      },
    );
    sent.on('error', reject);
    sent.end(body);
  });
}

describe('a name that is not ours', () => {
  it.each([
    'evil.example',
    'evil.example:4510',
    '127.0.0.1',
    '127.0.0.1:1',
    'localhost.evil.example',
  ])('is answered with nothing, whatever is asked: %s', async (host) => {
    const before = (await rowsOf(product.databaseUrl, 'select id from study')).length;
    for (const path of ['/', `/studies/${study}/records`, `/api/studies/${study}`, '/mark.svg']) {
      const got = await send(path, { host });
      expect([path, got.status]).toEqual([path, 421]);
      expect((JSON.parse(got.text) as Refusal).code).toBe('unknown-host');
      expect(got.text).not.toMatch(/Network|low/);
    }
    const origin = `http://${host}`;
    const made = await send(
      '/api/studies',
      { method: 'POST', host, origin, 'content-type': 'application/json' },
      '{"name":"Theirs"}',
    );
    expect(made.status).toBe(421);
    expect((await rowsOf(product.databaseUrl, 'select id from study')).length).toBe(before);
  });

  it('is told from the names of this machine', async () => {
    for (const name of ['127.0.0.1', 'localhost', '[::1]', 'LOCALHOST'])
      expect((await send('/api/health', { host: `${name}:${port}` })).status).toBe(200);
  });

  it('cannot change anything from a page of its own', async () => {
    const headers = { method: 'POST', 'content-type': 'application/json' };
    const asked = (more: Record<string, string>) =>
      send('/api/studies', { ...headers, ...more }, '{"name":"Theirs"}');
    expect((await asked({ origin: 'http://evil.example' })).status).toBe(403);
    expect((await asked({ origin: 'null' })).status).toBe(403);
    expect((await asked({ 'sec-fetch-site': 'cross-site' })).status).toBe(403);
    expect((await asked({ origin: product.address })).status).toBe(200);
  });
});

describe('every answer', () => {
  it('with patients in it is kept nowhere, and is what it says it is', async () => {
    const cohort = await client.get<{ id: string }>(`/api/studies/${study}/development`);
    for (const path of [
      '/',
      `/studies/${study}/records`,
      `/api/studies/${study}`,
      `/api/cohorts/${cohort.id}/rows?from=0&count=5`,
      `/api/cohorts/${cohort.id}/file?format=csv`,
      '/api/health',
      '/nowhere',
      `/api/cohorts/${study}/rows?from=0&count=5`,
    ]) {
      const { headers } = await send(path);
      expect([path, headers['cache-control']]).toEqual([path, 'no-store']);
      expect([path, headers['x-content-type-options']]).toEqual([path, 'nosniff']);
      expect([path, headers['x-frame-options']]).toEqual([path, 'DENY']);
    }
  });

  it('that is a page takes scripts and styles from here alone, known inline ones by hash', async () => {
    const { headers, text } = await send(`/studies/${study}/records`);
    const policy = String(headers['content-security-policy']);
    const directives = Object.fromEntries(
      policy.split(';').map((part) => {
        const [name, ...values] = part.trim().split(' ');
        return [name, values];
      }),
    );
    expect(directives['default-src']).toEqual(["'self'"]);
    expect(directives['object-src']).toEqual(["'none'"]);
    expect(directives['frame-ancestors']).toEqual(["'none'"]);
    for (const name of ['script-src', 'style-src'])
      for (const source of directives[name]) expect(source).toMatch(/^('self'|'sha256-[\w+/=]+')$/);
    expect(text).not.toMatch(/<script[^>]+src="(?!\/)/);
  });

  it('to TRACE and to methods nobody knows is a refusal', async () => {
    for (const method of ['TRACE', 'PROPFIND'])
      expect((await send('/', { method })).status).toBe(405);
  });
});

describe('reading', () => {
  it('writes nothing and asks for no job', async () => {
    const state = () =>
      rowsOf(
        product.databaseUrl,
        `select (select count(*) from pgboss.job) as jobs, (select max(opened_at) from study) as opened,
          (select count(*) from survey_part) as parts, (select count(*) from held_out_view) as views`,
      );
    const before = await state();
    for (const path of [
      ...[
        'records',
        'survey',
        'design',
        'candidates',
        'held-out-check',
        'reasons',
        'screening',
      ].map((stage) => `/studies/${study}/${stage}`),
      `/api/studies/${study}`,
      `/api/studies/${study}/survey?part=patients`,
      `/api/studies/${study}/survey?part=associations&ranked=no`,
      `/api/studies/${study}/candidates`,
      '/api/queue',
      '/api/deleted',
    ])
      expect([path, (await send(path)).status]).toEqual([path, 200]);
    expect(await state()).toEqual(before);
  });
});

describe('a body', () => {
  const put = (text: string) =>
    send(
      `/api/studies/${study}`,
      { method: 'PATCH', origin: product.address, 'content-type': 'application/json' },
      text,
    );

  it('is taken up to a size only', async () => {
    const { status, text } = await put(`{"name":"${'x'.repeat(400_000)}"}`);
    expect(status).toBe(413);
    expect((JSON.parse(text) as Refusal).sentence).toBe(
      'The request is larger than the 256 kB that are taken here. Nothing was changed.',
    );
  });

  it.each([
    ['NUL', '{"name":"a\\u0000b"}'],
    ['half a character', '{"name":"a\\ud800b"}'],
    ['NUL in a key', '{"name":"a","x\\u0000":1}'],
  ])('with %s is refused in a sentence', async (_, body) => {
    const { status, text } = await put(body);
    expect(status).toBe(400);
    expect((JSON.parse(text) as Refusal).code).toBe('unstorable');
  });

  it('nested without end is refused in a sentence', async () => {
    for (const depth of [100, 5000, 100_000]) {
      const { status, text } = await put(`{"name":${'['.repeat(depth)}${']'.repeat(depth)}}`);
      expect(status).toBe(400);
      expect((JSON.parse(text) as Refusal).sentence).toMatch(/Nothing was changed/);
    }
  });

  it('has whole characters in any script', async () => {
    expect((await put('{"name":"Nieren 🫘 腎臓 كلية"}')).status).toBe(200);
    await put('{"name":"Network"}');
  });

  it('of a query is held to the same', async () => {
    const { status } = await send(`/api/uploads?name=a%00b`, {
      method: 'PUT',
      origin: product.address,
    });
    expect(status).toBe(400);
  });
});

describe('streams of events', () => {
  it('are there for studies that are there', async () => {
    const gone = '00000000-0000-4000-8000-000000000000';
    expect((await send(`/api/studies/${gone}/events`)).status).toBe(404);
  });

  it('of all studies name the one that has changed', async () => {
    const stop = new AbortController();
    const { body } = await fetch(`${product.address}/api/events`, { signal: stop.signal });
    const reader = body!.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    const heard = async (what: string) => {
      while (!text.includes(what)) {
        const { done, value } = await reader.read();
        if (done) throw new Error(`The stream ended: ${text}`);
        text += value;
      }
    };
    await heard('event: changed\ndata: {"study":""}');
    // The server itself may be listening only from a moment later on.
    const again = setInterval(
      () => void client.send('PATCH', `/api/studies/${study}`, { name: 'Heard' }),
      100,
    );
    await heard(`event: changed\ndata: {"study":"${study}"}`);
    clearInterval(again);
    stop.abort();
  });
});

describe('health', () => {
  it('is that of database and worker', async () => {
    const { status, text } = await send('/api/health');
    expect(status).toBe(200);
    expect(JSON.parse(text)).toEqual({ ready: true, database: 'answers', workers: 1 });
  });
});
