import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { SurveyView } from '../../src/contract/surveys.ts';
import { Client } from '../support/client.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
let client: Client;
let study: string;

beforeAll(async () => {
  product = await freshProduct();
  client = new Client(product.address);
  const first = await fetch(product.address);
  study = new URL(first.url).pathname.split('/')[2];
});
afterAll(() => product.stop());

async function survey(): Promise<SurveyView<'findings'>> {
  for (let tries = 0; tries < 300; tries++) {
    const view = await client.ask<SurveyView<'findings'>>(
      `/api/studies/${study}/survey?part=findings`,
    );
    if (view.current) return view;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('The patients were not looked through in time.');
}

const codes = ({ result }: SurveyView<'findings'>) =>
  result!.map(({ code, columns }) => [code, ...columns]);

describe('what the worker notices in the demo cohort', () => {
  it('are the traps that the generator sets', async () => {
    expect(codes(await survey())).toEqual([
      ['duplicated patients', 'reference'],
      ['spelled twice', 'hospital'],
      ['implausible zeros', 'albumin'],
      ['constant', 'clinic_form'],
      ['gives the answer away', 'renal_ward_transfer'],
      ['gives the answer away', 'injury_grade'],
      ['gives the answer away', 'highest_creatinine'],
      ['near-duplicates', 'creatinine', 'urea'],
    ]);
  });

  it('is looked for again after a mend, and gone where it was mended', async () => {
    const cohort = await client.get<CohortInfo>(`/api/studies/${study}/development`);
    await client.mend(cohort.id, (dictionary) => {
      for (const entry of dictionary) {
        if (entry.name === 'albumin') entry.missingCodes = ['0'];
        if (entry.name === 'hospital') {
          entry.spellings = { 'Carrick lea': 'Carrick Lea' };
          entry.levels = entry.levels!.filter((level) => level !== 'Carrick lea');
        }
      }
    });
    const found = codes(await survey()).map(([code, column]) => `${code} ${column}`);
    expect(found).not.toContain('implausible zeros albumin');
    expect(found).not.toContain('spelled twice hospital');
    expect(found).toContain('duplicated patients reference');
    const mended = await client.get<CohortInfo>(`/api/cohorts/${cohort.id}`);
    const hospital = mended.dictionary.findIndex((entry) => entry.name === 'hospital');
    expect(mended.dictionary[hospital].levels).toEqual(['Carrick Lea', 'Fennmoor']);
    expect(mended.summaries[hospital].counts!.reduce((sum, count) => sum + count)).toBe(2412);
  });
});
