import { expect, test } from '../support/browser-test.ts';
import Papa from 'papaparse';
import { randomStream } from '@rook-scale/core/numeric';
import { address, ready } from '../support/browser-study.ts';
import { Client, inRoles } from '../support/client.ts';

const draw = randomStream(3, 'advice');
/** Made-up patients: codes and grades that lean to one side, a skewed laboratory value, gaps. */
const patients = Array.from({ length: 120 }, (_, i) => {
  const crp = Math.exp(1 + draw.normal());
  const score = 20 + crp + 3 * draw.normal();
  return {
    id: `P${i}`,
    sex: i % 8 === 0 ? 2 : 1,
    grade: i % 10 === 0 ? 4 : i % 5 === 0 ? 2 : 1,
    crp: crp.toFixed(2),
    ward: ['north', 'south', 'east', 'west'][i % 4],
    // Missing in 24 patients.
    urea: i % 5 === 1 ? '' : (6 + draw.normal()).toFixed(1),
    ...Object.fromEntries(
      Array.from({ length: 12 }, (__, k) => [`lab${k}`, draw.normal().toFixed(3)]),
    ),
    score: score.toFixed(1),
    ill: score > 24 ? 'yes' : 'no',
  };
});

async function study(name: string, outcome: 'score' | 'ill', design: object) {
  const client = new Client(address());
  const id = await client.newStudy(name);
  const other = outcome === 'score' ? 'ill' : 'score';
  await client.bringIn(
    id,
    Papa.unparse(patients),
    'development',
    inRoles({ id: 'identifier', [outcome]: 'outcome', [other]: 'set aside' }),
  );
  await client.changeDesign(id, design);
  return id;
}

test('a logarithm is advised for what is skewed, not for codes and grades', async ({ page }) => {
  const id = await study('Advice', 'ill', { event: 'yes' });
  await page.goto(`${address()}/studies/${id}/design`);
  await ready(page);
  const preparation = page.getByRole('region', { name: 'Preparation', exact: true });
  const advised = preparation.getByRole('listitem').filter({ hasText: 'on a logarithm' });
  await expect(advised).toContainText('Crp');
  await expect(advised).not.toContainText('Sex');
  await expect(advised).not.toContainText('Grade');
});

test('how much a model may ask is counted in patients for a number, with levels and gaps', async ({
  page,
}) => {
  const id = await study('Enough', 'score', { caseFrom: 24 });
  await page.goto(`${address()}/studies/${id}/design`);
  await ready(page);
  const note = page
    .getByRole('complementary')
    .getByRole('listitem')
    .filter({ hasText: 'per parameter' });
  // Sex, grade, CRP, urea and its gaps, three levels of ward beside the first, twelve labs.
  await expect(note).toContainText('Few patients per parameter');
  await expect(note).toContainText('about 20 parameters');
  await expect(note).toContainText('of 17 predictors');
});
