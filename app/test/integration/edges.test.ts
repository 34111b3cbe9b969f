import { beforeAll, describe, expect, it } from 'vitest';
import Papa from 'papaparse';
import { clustersOf, errorTable, rankRisks, ratesOf } from '@rook-scale/core/measures';
import { randomStream } from '@rook-scale/core/numeric';
import { readJson } from '@rook-scale/core/stored';
import type { CandidateDetail, CandidateLine } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { CheckBeforeScoring } from '../../src/contract/screenings.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

// Made-up patients with three visits each: a marker in two units, a leak, and an outcome of each kind.
const draw = randomStream(41, 'visits');
const visits = Array.from({ length: 150 }, (_, patient) => {
  const own = draw.normal();
  return Array.from({ length: 3 }, () => {
    const marker = Math.exp(0.5 * own + 0.2 * draw.normal());
    const age = 60 + 10 * draw.normal();
    const stay = 4 + 2 * Math.log(marker) + draw.normal();
    return {
      patient: `p${String(patient).padStart(4, '0')}`,
      marker: marker.toFixed(4),
      age: age.toFixed(1),
      stay: stay.toFixed(2),
      bill: (100 * Number(stay.toFixed(2)) + 50).toFixed(0),
      back: own + draw.normal() > 0.8 ? 'yes' : 'no',
    };
  });
}).flat();
const development = visits.slice(0, 390);
const later = visits.slice(390);

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

async function studyOf(
  outcome: string,
  aside: string[],
  choices: Parameters<Client['changeDesign']>[1],
) {
  const study = await client.newStudy(outcome);
  await client.bringIn(study, Papa.unparse(development), 'development', (dictionary) => {
    for (const entry of dictionary) {
      entry.role = aside.includes(entry.name) ? 'set aside' : 'predictor';
      if (entry.name === outcome) entry.role = 'outcome';
      if (entry.name === 'patient') entry.role = 'identifier';
    }
  });
  await client.changeDesign(study, choices);
  return study;
}
const add = (study: string, family: string, settings: object = {}) =>
  client.send<{ id: string } & Refusal>('POST', `/api/studies/${study}/candidates`, {
    family,
    settings,
  });

describe('patients with several rows', () => {
  let study: string;
  let line: CandidateLine;
  beforeAll(async () => {
    study = await studyOf('back', ['bill', 'stay'], { event: 'yes', missedCost: 4 });
    await add(study, 'logistic');
    [, line] = await client.fitted(study);
  });

  it('are counted beside the coefficients', async () => {
    const { dependent } = await client.get<CandidateDetail>(`/api/candidates/${line.id}`);
    expect(dependent!.clusters).toBe(line.results!.table.spread!.clusters);
    expect(dependent!.rows).toBeGreaterThan(dependent!.clusters);
  });

  it('have intervals by patient in the table of candidates and in the held-out check', async () => {
    const { table } = line.results!;
    expect(table.spread!.clusters).toBeLessThan(110);
    const byRow = ratesOf({ ...table, spread: undefined }).specificity.interval!;
    const byPatient = ratesOf(table).specificity.interval!;
    expect(byPatient[1] - byPatient[0]).toBeGreaterThan(byRow[1] - byRow[0]);
    const { body } = await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, {
      candidate: line.id,
    });
    const floats = (text: string) =>
      new Float64Array(new Uint8Array(Buffer.from(text, 'base64')).buffer);
    const { risks, events, clusters } = body.predictions;
    const codes = new Int32Array(new Uint8Array(Buffer.from(clusters!, 'base64')).buffer);
    const own = clustersOf(codes)!;
    expect(codes.length).toBe(floats(risks).length);
    expect(own.count).toBeLessThan(codes.length / 2);
    const found = errorTable(
      rankRisks(floats(risks), Buffer.from(events, 'base64'), undefined, undefined, 1, own),
      body.cutoff,
    );
    expect(found.spread!.clusters).toBe(own.count);
  });

  it('are met with a question where a column of the list lies elsewhere as a whole', async () => {
    const list = later.map((row) => ({ ...row, marker: (Number(row.marker) / 100).toFixed(6) }));
    const { body } = await client.bringIn(study, Papa.unparse(list), 'screening');
    const check = await client.get<CheckBeforeScoring>(
      `/api/studies/${study}/screenings/check?cohort=${body.id}&candidate=${line.id}`,
    );
    expect(check.suggestions).toMatchObject([
      { predictor: 'marker', column: 'marker', conversion: { factor: 100, offset: 0 } },
    ]);
    const marker = check.predictors.find(({ name }) => name === 'marker')!;
    expect(marker.unfamiliar).toMatchObject([{ what: 'displaced', rows: list.length, then: 0 }]);
    expect(marker.treatment).toMatch(/used as they are once you agree/);
    const score = (accept?: boolean) =>
      client.send<{ id: string } & Refusal>('POST', `/api/studies/${study}/screenings`, {
        cohort: body.id,
        candidate: line.id,
        accept,
        unchecked: true,
      });
    const refused = await score();
    expect(refused.status).toBe(409);
    expect(refused.body.sentence).toContain('Marker lies elsewhere as a whole');
    // Read as it was suggested, the list is scored without a question, and like the list in the first unit.
    await client.send('PUT', `/api/cohorts/${body.id}/matching`, {
      candidate: line.id,
      matching: check.suggestions.map(({ predictor, column, conversion }) => ({
        predictor,
        column,
        conversion,
      })),
    });
    const scored = await score();
    expect(scored.status).toBe(200);
    const plain = await client.bringIn(study, Papa.unparse(later), 'screening');
    // The conversion is kept for lists with the same columns: this one it would displace.
    const pair = { cohort: plain.body.id, candidate: line.id, unchecked: true };
    const kept = await client.send('POST', `/api/studies/${study}/screenings`, pair);
    expect(kept.status).toBe(409);
    await client.send('PUT', `/api/cohorts/${plain.body.id}/matching`, {
      candidate: line.id,
      matching: [],
    });
    const same = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
      ...pair,
    });
    const risksOf = async (id: string) => {
      const { rows } = await client.get<{ rows: { row: number; risk: number }[] }>(
        `/api/screenings/${id}/rows?from=0&count=100`,
      );
      return rows.toSorted((a, b) => a.row - b.row).map(({ risk }) => risk);
    };
    const [a, b] = [await risksOf(scored.body.id), await risksOf(same.body.id)];
    // The list in the other unit has two digits less.
    a.forEach((risk, i) => expect(risk).toBeCloseTo(b[i], 2));
  });

  it('have no settings under a name that the family does not have', async () => {
    const { status, body } = await add(study, 'naive-bayes', { priors: 'equal' });
    expect(status).toBe(400);
    expect(body.sentence).toMatch(/^There is no setting “priors”\. The settings are /);
  });
});

describe('an exact fit', () => {
  it('is said, and keeps its infinite criteria on the wire', async () => {
    const study = await studyOf('stay', ['back'], { kind: 'number', caseFrom: 6 });
    await add(study, 'linear');
    const [, line] = await client.fitted(study);
    expect(line.state).toBe('fitted');
    expect(line.warnings.map(({ code }) => code)).toContain('exact fit');
    const text = await (await fetch(`${product.address}/api/candidates/${line.id}`)).text();
    const detail = readJson(text) as CandidateDetail;
    const variance = detail.facets.find(({ kind }) => kind === 'variance')!.value as {
      aic: number;
    };
    expect(variance.aic).toBe(-Infinity);
    expect(text).toContain('"aic":{"$number":"-Infinity"}');
  });
});

describe('columns that are read as another kind', () => {
  it('are asked about where more than one cell in a hundred would be lost, and then only', async () => {
    const study = await client.newStudy('Kinds');
    const careful = new Client(product.address, false);
    const rows = Array.from({ length: 300 }, (_, i) =>
      [20 + (i % 50), i % 3 ? '0.0' : '1.0', i === 0 ? 'high' : i % 2, i % 2 ? 'yes' : 'no'].join(
        ',',
      ),
    );
    const text = `age,smoker,fever,died\n${rows.join('\n')}`;
    const { body } = await careful.bringIn(study, text, 'development', (dictionary) => {
      for (const entry of dictionary.slice(0, 3)) {
        entry.kind = entry.name === 'fever' ? 'text' : 'number';
        entry.levels = undefined;
      }
    });
    const read = (name: string, who = careful) =>
      who.mend(body.id, (dictionary) => {
        const entry = dictionary.find((one) => one.name === name)!;
        Object.assign(entry, { kind: 'yes/no', levels: undefined });
      });
    const missing = async (name: string) => {
      const { dictionary, summaries } = await client.get<CohortInfo>(`/api/cohorts/${body.id}`);
      return summaries[dictionary.findIndex((one) => one.name === name)].missing;
    };
    // Numbers equal to 1 and 0 are yes and no; one cell of 300 is not one in a hundred.
    expect((await read('smoker')).status).toBe(200);
    expect(await missing('smoker')).toBe(0);
    expect((await read('fever')).status).toBe(200);
    expect(await missing('fever')).toBe(1);
    const refused = await read('age');
    expect([refused.status, refused.body.code]).toEqual([409, 'lost-cells']);
    expect(refused.body.sentence).toContain('300 of 300 known cells of Age as yes/no');
    expect(await missing('age')).toBe(0);
    expect((await read('age', client)).status).toBe(200);
    expect(await missing('age')).toBe(300);
  });
});
