import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { facetOf, type Coefficient, type LikelihoodSummary } from '@rook-scale/core/families';
import { ratesOf, type CrossValidated, type Rates } from '@rook-scale/core/measures';
import type { CandidateDetail, CandidateLine, Predictions } from '../../src/contract/candidates.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { ScreenedRow, ScreeningView } from '../../src/contract/screenings.ts';
import { postgresProgram } from '../../../scripts/tools.mjs';
import { startProduct, type Product } from '../../../scripts/product.mjs';
import { inconsistencies } from '../support/check.ts';
import { Client } from '../support/client.ts';
import { onDatabase } from '../support/database.ts';

/** What the version before outcomes of three kinds answered, from the database that is kept beside it. */
interface Before {
  study: string;
  candidates: CandidateLine[];
  detail: { coefficients: Coefficient[]; likelihood: LikelihoodSummary; warnings: unknown[] };
  outOfFold: Predictions;
  look: HeldOutView;
  screening: ScreeningView;
  rows: { rows: ScreenedRow[] };
}

const file = (name: string) => readFileSync(new URL(`../data/${name}`, import.meta.url));
const before = JSON.parse(file('before-kinds.json').toString()) as Before;

/** Rates were kept once: they must be what the counts beside them give. */
function withoutRates(results: CandidateLine['results']) {
  const { rates, ...others } = results as CrossValidated & { rates: Rates };
  // There are more of them by now.
  expect(ratesOf(others.table)).toMatchObject(rates);
  return others;
}

describe('a database of the version before', () => {
  const name = `test_before_${randomBytes(4).toString('hex')}`;
  const url = new URL(process.env.TEST_DATABASE_URL!);
  let product: Product;
  let client: Client;

  beforeAll(async () => {
    await onDatabase(process.env.TEST_DATABASE_URL!, `create database ${name}`);
    url.pathname = `/${name}`;
    const { status, stderr } = spawnSync(
      postgresProgram('psql'),
      ['-q', '-v', 'ON_ERROR_STOP=1', url.href],
      {
        input: gunzipSync(file('before-kinds.sql.gz')),
        encoding: 'utf8',
      },
    );
    expect([status, stderr]).toEqual([0, '']);
    product = await startProduct({ databaseUrl: url.href, demo: false, firstPort: 4640 });
    client = new Client(product.address);
  });
  afterAll(async () => {
    await product.stop();
    await onDatabase(process.env.TEST_DATABASE_URL!, `drop database ${name} with (force)`);
  });

  it('migrates at start, and nothing in it is amiss', async () => {
    expect(await inconsistencies(url.href)).toEqual([]);
  });

  it('has its candidates current, with the same figures to the last digit', async () => {
    const lines = await client.get<CandidateLine[]>(`/api/studies/${before.study}/candidates`);
    for (const [i, line] of lines.entries()) {
      const { elapsed: _, results, ...was } = before.candidates[i];
      expect(line).toMatchObject(was);
      expect(line.results).toEqual(withoutRates(results));
      expect(line.outOfDate).toBe(false);
      expect(line.outcome).toMatchObject({
        choice: { kind: 'event', column: 'low', event: 'yes' },
      });
    }
    const [, logistic] = lines;
    const detail = await client.get<CandidateDetail>(`/api/candidates/${logistic.id}`);
    expect(facetOf(detail.facets, 'coefficients')!.groups).toEqual([
      { lines: before.detail.coefficients },
    ]);
    expect(facetOf(detail.facets, 'likelihood')).toEqual(before.detail.likelihood);
    const outOfFold = await client.get<Predictions>(`/api/candidates/${logistic.id}/predictions`);
    expect(outOfFold).toMatchObject(before.outOfFold);
  });

  it('shows what was looked at and scored, without a new look and without scoring again', async () => {
    const { screening, rows, look } = before;
    const view = await client.get<ScreeningView>(`/api/screenings/${screening.id}`);
    const { risks, predictors, outOfDate } = screening;
    const { cutoff, calledIn: called } = screening as unknown as Record<string, number>;
    expect(view).toMatchObject({ calls: { cutoff, called }, risks, predictors, outOfDate });
    expect(view.version).toMatchObject({ number: 1, cutoff });
    expect(view.heldOut).toMatchObject(look.predictions);
    expect(
      await client.get<{ rows: ScreenedRow[] }>(
        `/api/screenings/${screening.id}/rows?from=0&count=40`,
      ),
    ).toMatchObject(rows);
  });

  it('fits again to the same numbers, with what is new beside them', async () => {
    const id = before.candidates[1].id;
    await client.send('PUT', `/api/studies/${before.study}/candidates`, { candidates: [id] });
    const [, line] = await client.fitted(before.study);
    expect(line.results).toMatchObject(withoutRates(before.candidates[1].results));
    const outOfFold = await client.get<Predictions>(`/api/candidates/${id}/predictions`);
    expect(outOfFold).toMatchObject(before.outOfFold);
    const { facets } = await client.get<CandidateDetail>(`/api/candidates/${id}`);
    const { lines } = facetOf(facets, 'coefficients')!.groups[0];
    expect(lines).toMatchObject(before.detail.coefficients);
    expect(lines[1].inflation).toBeGreaterThanOrEqual(1);
  });
});
