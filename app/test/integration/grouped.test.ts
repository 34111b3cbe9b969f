import { readFileSync } from 'node:fs';
import Papa from 'papaparse';
import { beforeAll, describe, expect, it } from 'vitest';
import { facetOf } from '@rook-scale/core/families';
import type { Dictionary } from '@rook-scale/core/table';
import type { CandidateDetail } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { ScreeningView } from '../../src/contract/screenings.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

/** Breslow & Day (1980), Statistical Methods in Cancer Research 1: 88 groups of age, alcohol and tobacco. */
const groups = Papa.parse<Record<string, string>>(
  readFileSync(new URL('../../../core/test/reference/data/esoph.csv', import.meta.url), 'utf8'),
  { header: true, skipEmptyLines: true },
).data;
const exposures = ['agegp', 'alcgp', 'tobgp'];
/** A row a group and outcome, with how many patients it stands for. */
const counted: Record<string, string>[] = groups.flatMap((group) =>
  (['ncases', 'ncontrols'] as const).map((name) => ({
    ...Object.fromEntries(exposures.map((exposure) => [exposure, group[exposure]])),
    cancer: name === 'ncases' ? 'yes' : 'no',
    people: group[name],
  })),
);
/** The same, a row a patient. */
const onePerRow = counted.flatMap(({ people, ...row }) =>
  Array.from({ length: Number(people) }, () => row),
);

const roles = (dictionary: Dictionary) => {
  for (const entry of dictionary) {
    if (entry.name === 'cancer') entry.role = 'outcome';
    if (entry.name === 'people') entry.role = 'number of patients';
  }
};

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

async function fittedStudy(name: string, file: string) {
  const study = await client.newStudy(name);
  const cohort = (await client.bringIn(study, file, 'development', roles)).body.id;
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  const body = { family: 'logistic', settings: {} };
  const { id } = (
    await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, body)
  ).body;
  const lines = await client.fitted(study);
  const detail = await client.get<CandidateDetail>(`/api/candidates/${id}`);
  return { study, cohort, id, lines, detail };
}

describe('a table of groups', () => {
  let grouped: Awaited<ReturnType<typeof fittedStudy>>;

  it('is divided, fitted and judged as the same patients one by one are', async () => {
    grouped = await fittedStudy('Groups', Papa.unparse(counted));
    const plain = await fittedStudy('One by one', Papa.unparse(onePerRow));
    const { rowCount, storedRows, flow } = await client.get<CohortInfo>(
      `/api/cohorts/${grouped.cohort}`,
    );
    expect([rowCount, storedRows]).toEqual([onePerRow.length, counted.length]);
    expect(flow.stand).toEqual({ by: 'People', patients: onePerRow.length, unknown: 0 });
    const counts = async ({ study }: typeof plain) =>
      (await client.get<DesignState>(`/api/studies/${study}/design`)).counts;
    expect(await counts(grouped)).toEqual(await counts(plain));
    const results = ({ lines }: typeof plain) => lines.map((line) => line.results);
    expect(results(grouped)).toEqual(results(plain));
    const lines = ({ detail }: typeof plain) =>
      facetOf(detail.facets, 'coefficients')!.groups[0].lines;
    lines(grouped).forEach((line, i) => {
      expect(line.estimate).toBeCloseTo(lines(plain)[i].estimate!, 9);
      expect(line.standardError).toBeCloseTo(lines(plain)[i].standardError!, 9);
    });
    expect(grouped.detail.inputs.some(({ column }) => column === 'people')).toBe(false);
  });

  it('is screened patient by patient, and its file names the row of the table', async () => {
    const list = counted.slice(60, 70);
    const people = list.reduce((sum, row) => sum + Number(row.people), 0);
    const cohort = (await client.bringIn(grouped.study, Papa.unparse(list), 'screening', roles))
      .body.id;
    const scored = await client.send<{ id: string }>(
      'POST',
      `/api/studies/${grouped.study}/screenings`,
      { cohort, candidate: grouped.id, accept: true, unchecked: true },
    );
    expect(scored.status).toBe(200);
    const view = await client.get<ScreeningView>(`/api/screenings/${scored.body.id}`);
    expect(view.rowCount).toBe(people);
    const file = await (
      await fetch(`${product.address}/api/screenings/${scored.body.id}/file`)
    ).text();
    const { data } = Papa.parse<Record<string, string>>(file, {
      header: true,
      skipEmptyLines: true,
    });
    list.forEach(({ people: expected }, row) => {
      const own = data.filter((line) => line['row in file'] === String(row + 1));
      expect(own).toHaveLength(Number(expected));
      expect(new Set(own.map(({ risk }) => risk)).size).toBeLessThanOrEqual(1);
    });
  });

  it('goes out as a row a patient, so that nobody is counted twice when it comes back', async () => {
    const response = await fetch(
      `${product.address}/api/cohorts/${grouped.cohort}/file?format=csv&side=all`,
    );
    const { data } = Papa.parse<Record<string, string>>(await response.text(), {
      header: true,
      skipEmptyLines: true,
    });
    expect(data).toHaveLength(onePerRow.length);
    expect(new Set(data.map(({ people }) => people))).toEqual(new Set(['1']));
  });

  it('follows exclusions, and counts rows again as patients when the role is taken away', async () => {
    const before = await client.get<CohortInfo>(`/api/cohorts/${grouped.cohort}`);
    const young = onePerRow.filter(({ agegp }) => agegp === '25-34').length;
    const put = await client.send('PUT', `/api/cohorts/${grouped.cohort}/selection`, {
      base: before.selection,
      mine: {
        duplicates: null,
        exclusions: [{ condition: "agegp = '25-34'", reason: 'too young' }],
      },
    });
    expect(put.status).toBe(200);
    const after = await client.get<CohortInfo>(`/api/cohorts/${grouped.cohort}`);
    expect(after.rowCount).toBe(onePerRow.length - young);
    await client.send('POST', `/api/studies/${grouped.study}/step`, { direction: 'undo' });
    expect((await client.get<CohortInfo>(`/api/cohorts/${grouped.cohort}`)).rowCount).toBe(
      onePerRow.length,
    );
    await client.mend(grouped.cohort, (dictionary) => {
      dictionary.find(({ name }) => name === 'people')!.role = 'set aside';
    });
    expect((await client.get<CohortInfo>(`/api/cohorts/${grouped.cohort}`)).rowCount).toBe(
      counted.length,
    );
    await client.mend(grouped.cohort, (dictionary) => {
      dictionary.find(({ name }) => name === 'people')!.role = 'number of patients';
    });
    expect((await client.get<CohortInfo>(`/api/cohorts/${grouped.cohort}`)).rowCount).toBe(
      onePerRow.length,
    );
  });

  it('is refused where a number is no number of patients', async () => {
    const study = await client.newStudy('Halves');
    const file = Papa.unparse(counted.map((row, i) => (i === 3 ? { ...row, people: '1.5' } : row)));
    const { status, body } = await client.bringIn(study, file, 'development', roles);
    expect(status).toBe(422);
    expect((body as unknown as Refusal).sentence).toMatch(/People has 1.5 in row 4/);
  });
});
