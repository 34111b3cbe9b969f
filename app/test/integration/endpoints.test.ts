import { readdirSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { candidateRoutes } from '../../src/contract/candidates.ts';
import { cohortRoutes } from '../../src/contract/cohorts.ts';
import { deletedRoutes } from '../../src/contract/deleted.ts';
import { designRoutes } from '../../src/contract/designs.ts';
import { dismissalRoutes } from '../../src/contract/dismissals.ts';
import { lookRoutes } from '../../src/contract/looks.ts';
import { patientRoutes } from '../../src/contract/patients.ts';
import { queueRoutes } from '../../src/contract/queue.ts';
import type { Route } from '../../src/contract/route.ts';
import { screeningRoutes } from '../../src/contract/screenings.ts';
import { searchRoutes } from '../../src/contract/searches.ts';
import { studyRoutes } from '../../src/contract/studies.ts';
import { surveyRoutes } from '../../src/contract/surveys.ts';
import { uploadRoutes } from '../../src/contract/uploads.ts';
import { birthWeight, asPublished } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;
let study: string;
let cohort: string;
let candidate: string;
const nobody = '00000000-0000-4000-8000-000000000000';

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await client.newStudy('Endpoints');
  cohort = (await client.bringIn(study, birthWeight, 'development', asPublished)).body.id;
  await client.changeDesign(study, { event: 'yes' });
  [{ id: candidate }] = await client.fitted(study);
});

const routes = [
  candidateRoutes,
  cohortRoutes,
  deletedRoutes,
  designRoutes,
  dismissalRoutes,
  lookRoutes,
  patientRoutes,
  queueRoutes,
  screeningRoutes,
  searchRoutes,
  studyRoutes,
  surveyRoutes,
  uploadRoutes,
].flatMap((room) => Object.values<Route>(room));

type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

/** What each endpoint takes: a body that is sound in form, for those that read one. */
const endpoints: Record<string, Partial<Record<Method, object | null>>> = {
  'searches/[search]/choose': { POST: { trial: 0, how: 'best', measure: 'auc' } },
  'searches/[search]/closer': { POST: { trial: 0 } },
  'searches/[search]/corrected': { GET: null },
  'searches/[search]/erase': { POST: { name: 'x' } },
  'searches/[search]/go-on': { POST: null },
  'searches/[search]/index': { GET: null, DELETE: null },
  'searches/[search]/judge': { POST: null },
  'searches/[search]/nested': { GET: null, POST: null },
  'searches/[search]/restore': { POST: null },
  'searches/[search]/stop': { POST: null },
  'studies/[study]/searches/index': {
    GET: null,
    POST: {
      family: 'logistic',
      plan: { tried: { iterations: [5, 6] }, fixed: {}, way: { kind: 'all' }, measure: 'auc' },
    },
  },
  'studies/[study]/searches/how-long': {
    POST: {
      family: 'logistic',
      plan: { tried: { iterations: [5, 6] }, fixed: {}, way: { kind: 'all' }, measure: 'auc' },
    },
  },
  'candidates/[candidate]/next': { POST: null },
  'candidates/[candidate]/cancel': { POST: null },
  'candidates/[candidate]/comparison': { GET: null },
  'candidates/[candidate]/curves': { GET: null },
  'candidates/[candidate]/differing': { GET: null },
  'candidates/[candidate]/cutoff': { PUT: { rule: 'cheapest' } },
  'candidates/[candidate]/index': { GET: null, PATCH: { name: 'x' }, DELETE: null },
  'candidates/[candidate]/model': { GET: null },
  'candidates/[candidate]/sheet': { GET: null },
  'candidates/[candidate]/patient': { POST: { values: {} } },
  'candidates/[candidate]/predictions': { GET: null },
  'candidates/[candidate]/reasons/effect': { GET: null },
  'candidates/[candidate]/reasons/pairs': { GET: null },
  'candidates/[candidate]/reasons/patient': { GET: null, POST: { values: {} } },
  'candidates/[candidate]/reasons/rules': { GET: null },
  'candidates/[candidate]/reasons/two': { GET: null },
  'candidates/[candidate]/reasons/whole': { GET: null },
  'candidates/[candidate]/reasons/worth': { GET: null, POST: { together: [] } },
  'candidates/[candidate]/restore': { POST: null },
  'cohorts/[cohort]/dictionary': {
    PUT: {
      base: [{ name: 'a', label: '', unit: '', kind: 'text', role: 'set aside', missingCodes: [] }],
      mine: [{ name: 'a', label: '', unit: '', kind: 'text', role: 'set aside', missingCodes: [] }],
    },
  },
  'cohorts/[cohort]/index': { GET: null, DELETE: null },
  'cohorts/[cohort]/file': { GET: null },
  'cohorts/[cohort]/matching': { PUT: { candidate: nobody, matching: [] } },
  'cohorts/[cohort]/formula': { POST: { formula: 'age + 1' } },
  'cohorts/[cohort]/selection': {
    PUT: {
      base: { duplicates: null, exclusions: [] },
      mine: { duplicates: null, exclusions: [] },
    },
  },
  'cohorts/[cohort]/restore': { POST: null },
  'cohorts/[cohort]/rows': { GET: null },
  'candidates/[candidate]/erase': { POST: { name: 'x' } },
  'cohorts/[cohort]/erase': { POST: { name: 'x' } },
  'studies/[study]/erase': { POST: { name: 'x' } },
  deleted: { GET: null },
  events: { GET: null },
  health: { GET: null },
  queue: { GET: null },
  'screenings/[screening]/calls': {
    PUT: { calls: { by: 'candidate' }, scoredAt: '2026-01-01T00:00:00.000Z' },
  },
  'screenings/[screening]/file': { GET: null },
  'screenings/[screening]/files/index': { GET: null, POST: { reasons: true } },
  'screenings/[screening]/files/[file]': { GET: null, DELETE: null },
  'screenings/[screening]/head': { GET: null },
  'screenings/[screening]/index': { GET: null },
  'screenings/[screening]/reasons': { GET: null },
  'screenings/[screening]/rows': { GET: null },
  'studies/[study]/candidates/several': { POST: { families: ['logistic'] } },
  'studies/[study]/candidates': {
    GET: null,
    POST: { family: 'logistic', settings: {} },
    PUT: { candidates: [nobody] },
  },
  'studies/[study]/candidates/blends': {
    POST: { candidates: [nobody, nobody], weights: 'equal' },
  },
  'studies/[study]/candidates/recalibrated': {
    POST: { candidate: nobody, how: 'line' },
  },
  'studies/[study]/cohorts': {
    GET: null,
    POST: {
      purpose: 'screening',
      name: 'x',
      uploadId: nobody,
      dictionary: [
        { name: 'a', label: '', unit: '', kind: 'text', role: 'set aside', missingCodes: [] },
      ],
    },
  },
  'studies/[study]/design': { GET: null, PUT: {} },
  'studies/[study]/development': { GET: null },
  'studies/[study]/dismissals': {
    GET: null,
    POST: { note: 'n', title: 't', reason: 'r' },
    DELETE: { note: 'n' },
  },
  'studies/[study]/events': { GET: null },
  'studies/[study]/index': { GET: null, PATCH: { name: 'x' }, DELETE: null },
  'studies/[study]/looks': { GET: null, POST: { candidate: nobody } },
  'studies/[study]/looks/column': { GET: null },
  'studies/[study]/looks/wrong': { GET: null },
  'studies/[study]/allocation': { GET: null, POST: { uploadId: nobody } },
  'studies/[study]/preparation/index': { GET: null },
  'studies/[study]/preparation/step': { GET: null },
  'studies/[study]/looks/several': { POST: { candidates: [nobody, nobody.replace('8', '9')] } },
  'studies/[study]/sealed': {
    GET: null,
    POST: { candidate: nobody, reason: 'Everything is settled.' },
  },
  'studies/[study]/second-file': { POST: { uploadId: nobody, columns: {} }, DELETE: null },
  'studies/[study]/sides': { GET: null },
  'studies/[study]/versions': { GET: null, POST: { name: '' }, DELETE: { id: nobody } },
  'studies/[study]/restore': { POST: null },
  'studies/[study]/screenings/index': { GET: null, POST: { cohort: nobody, candidate: nobody } },
  'studies/[study]/screenings/check': { GET: null },
  'studies/[study]/step': { POST: { direction: 'undo' } },
  'studies/[study]/survey/columns': { GET: null },
  'studies/[study]/acts': { GET: null },
  'studies/[study]/chosen': { PUT: { candidate: nobody } },
  'studies/[study]/opened': { POST: null },
  'studies/[study]/survey/index': { GET: null, POST: null },
  'studies/[study]/survey/look': { POST: null },
  'studies/index': { POST: { name: 'Another' } },
  'uploads/[upload]/index': { GET: null },
  'uploads/[upload]/progress': { GET: null },
  'uploads/[upload]/reading': {
    PUT: { delimiter: ',', encoding: 'utf-8', leaveOutLast: 0 },
  },
  'uploads/combine': {
    POST: { how: 'append', first: nobody, second: nobody },
  },
  'uploads/index': { PUT: null },
};

const pathOf = (endpoint: string, id: string) =>
  `/api/${endpoint.replace(/\/index$/, '').replaceAll(/\[\w+\]/g, id)}`;
const queries: Record<string, string> = {
  'screenings/[screening]/reasons': '?from=0&count=1',
  'candidates/[candidate]/reasons/effect': '?name=age',
  'candidates/[candidate]/reasons/patient': '?row=0',
  'candidates/[candidate]/comparison': `?with=${nobody}`,
  'candidates/[candidate]/differing': `?with=${nobody}`,
  'cohorts/[cohort]/file': '?format=csv',
  'studies/[study]/preparation/step': '?place=0&column=a',
  'studies/[study]/looks/column': `?candidate=${nobody}&fittedAt=2026-01-01T00:00:00.000Z&name=a`,
  'studies/[study]/looks/wrong': `?candidate=${nobody}&fittedAt=2026-01-01T00:00:00.000Z&cutoff=0.5`,
  'studies/[study]/survey/columns': '?name=a',
  'studies/[study]/screenings/check': `?cohort=${nobody}&candidate=${nobody}`,
  'studies/[study]/survey/index': '?part=findings',
};
const queryOf = (endpoint: string) =>
  queries[endpoint] ?? (endpoint.endsWith('/rows') ? '?from=0&count=10' : '');
const calls = Object.entries(endpoints).flatMap(([endpoint, methods]) =>
  (Object.entries(methods) as [Method, object | null][]).map(
    ([method, body]) => [method, endpoint, body] as const,
  ),
);
const withId = calls.filter(([, endpoint]) => endpoint.includes('['));
const withBody = calls.filter(([, , body]) => body !== null);

/** The id of something that is there, for endpoints of it. */
const idFor = (endpoint: string): string =>
  endpoint.includes('[cohort]') ? cohort : endpoint.includes('[candidate]') ? candidate : study;

/** The body with one of its fields left out, or in place of it each wrong value. */
function wrongVersions(body: object, wrong: unknown[]): object[] {
  return Object.keys(body).flatMap((field) => {
    const { [field]: _, ...rest } = body as Record<string, unknown>;
    return [rest, ...wrong.map((value) => ({ ...body, [field]: value }))];
  });
}

describe('every endpoint', () => {
  it('is in this list', () => {
    const folder = new URL('../../src/pages/api/', import.meta.url);
    const files = readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((file) => file.endsWith('.ts'))
      .map((file) => file.replaceAll('\\', '/').replace(/\.ts$/, ''));
    expect(Object.keys(endpoints).sort()).toEqual(files.sort());
  });

  it('that pages ask is where its route says, under that method', () => {
    const there = calls.map(([method, endpoint]) => `${method} ${pathOf(endpoint, '[…]')}`);
    const asked = routes.map(
      ({ method, path }) => `${method} ${path.replaceAll(/\[\w+\]/g, '[…]')}`,
    );
    expect(asked.filter((one) => !there.includes(one))).toEqual([]);
    expect(asked.length).toBeGreaterThan(50);
    expect(new Set(asked).size).toBe(asked.length);
  });

  it.each(withId)(
    '%s %s says that an address without a sound id leads nowhere',
    async (...call) => {
      const [method, endpoint, body] = call;
      const { status, body: answer } = await client.send<Refusal>(
        method,
        pathOf(endpoint, 'not-an-id') + queryOf(endpoint),
        body ?? undefined,
      );
      expect([status, answer.code]).toEqual([404, 'not-found']);
      expect(answer.sentence).toBe('There is nothing at this address.');
    },
  );

  it.each(withBody)('%s %s refuses a body that it cannot understand', async (...call) => {
    const [method, endpoint] = call;
    for (const body of [{ unheard: 'of' }, [], 'text', 7]) {
      const { status, body: answer } = await client.send<Refusal>(
        method,
        pathOf(endpoint, study),
        body,
      );
      expect([400, 404]).toContain(status);
      expect(answer.sentence.length).toBeGreaterThan(5);
      expect(JSON.stringify(answer)).not.toMatch(/\bat .*\.[jt]s|stack/);
    }
  });

  it.each(withBody)(
    '%s %s refuses what is in part of another kind, in our own words',
    async (...call) => {
      const [method, endpoint, sound] = call;
      const wrong = [null, 'x', -1.5, 1e9, [], ['x', 1], {}, { a: 1 }, true, 'x'.repeat(20_000)];
      for (const body of wrongVersions(sound ?? {}, wrong)) {
        const { status, body: answer } = await client.send<Refusal>(
          method,
          pathOf(endpoint, idFor(endpoint)),
          body,
        );
        const what = JSON.stringify(body).slice(0, 200);
        expect(status, what).toBeLessThan(500);
        if (status >= 400) expect(answer.sentence, what).toMatch(/^[\p{L}\d“].*[.?]$/su);
        expect(answer.sentence ?? '', what).not.toMatch(
          /Invalid|expected|received|Too (big|small)|Unrecognized|undefined|NaN/,
        );
      }
    },
  );

  it.each(withBody)('%s %s refuses a body that was cut short', async (...call) => {
    const [method, endpoint] = call;
    const response = await fetch(product.address + pathOf(endpoint, study), {
      method,
      headers: { 'Content-Type': 'application/json', Origin: product.address },
      body: '{"name": "cut',
    });
    // Of a cohort, candidate, search or list that is not there nothing is read.
    const there =
      !/\[(cohort|candidate|search|screening)\]/.test(endpoint) || endpoint.endsWith('/erase');
    expect(response.status).toBe(there ? 400 : 404);
    expect(((await response.json()) as Refusal).sentence).toMatch(
      there ? /cut short. Nothing was changed/ : /is not there/,
    );
  });
});

describe('what is not there', () => {
  const gone = withId.filter(([, endpoint]) => !endpoint.endsWith('/progress'));

  it.each(gone)('%s %s says so', async (...call) => {
    const [method, endpoint, body] = call;
    const { status, body: answer } = await client.send<Refusal>(
      method,
      pathOf(endpoint, nobody) + queryOf(endpoint),
      body ?? undefined,
    );
    expect([404, 409]).toContain(status);
    expect(answer.sentence).toMatch(/^[A-Z].*\.$/);
  });
});

describe('a query', () => {
  it.each(['from=-1&count=10', 'from=0&count=0', 'from=0&count=501', 'from=a&count=b', ''])(
    'for rows that makes no sense is refused: %s',
    async (query) => {
      const cohort = await client.get<{ id: string }>(`/api/studies/${study}/development`);
      const { status } = await client.send('GET', `/api/cohorts/${cohort.id}/rows?${query}`);
      expect(status).toBe(400);
    },
  );

  it('beyond the last row gives none', async () => {
    const cohort = await client.get<{ id: string }>(`/api/studies/${study}/development`);
    expect(await client.get(`/api/cohorts/${cohort.id}/rows?from=5000&count=100`)).toEqual({
      total: 189,
      places: [],
      rows: [],
    });
  });
});

describe('pages', () => {
  it.each(['records', 'survey', 'design', 'candidates', 'held-out-check', 'reasons', 'screening'])(
    'of a study that is not there say so: %s',
    async (page) => {
      for (const id of [nobody, 'not-an-id']) {
        const response = await fetch(`${product.address}/studies/${id}/${page}`);
        expect(response.status).toBe(404);
        expect(await response.text()).toContain('There is nothing at this address');
      }
    },
  );

  it('carry the headers that keep other sites out', async () => {
    const { headers } = await fetch(`${product.address}/studies/${study}/records`);
    expect(headers.get('x-frame-options')).toBe('DENY');
    expect(headers.get('x-content-type-options')).toBe('nosniff');
    expect(headers.get('referrer-policy')).toBe('same-origin');
  });
});
