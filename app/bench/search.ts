import type { SearchPlan } from '@rook-scale/core/search';
import { randomStream } from '@rook-scale/core/numeric';
import type { SearchDetail, SearchLine } from '../src/contract/searches.ts';
import type { Client } from '../test/support/client.ts';

/** Runs searches as whole jobs, from being asked for to their last figure. */
export async function benchSearches(
  client: Client,
  keep: (name: string, taken: number[]) => void,
): Promise<void> {
  const small = await studyOf(client, 240, 13, 3);
  const forest: Partial<SearchPlan> = {
    tried: {
      trees: [10, 17, 25, 33, 41, 48, 56, 64, 72, 80],
      triesBy: ['usual', 'given'],
      depth: [4, 30],
      leastLeaf: [1, 5],
      thresholds: ['best', 'random'],
      drawnBy: ['bootstrap', 'balanced'],
    },
    fixed: { tries: 2 },
  };
  const taken: number[] = [];
  for (let i = 0; i < 5; i++)
    taken.push((await searched(client, small, 'random-forest', forest)).taken);
  keep('search of 320 forest settings x 3 folds, 240 patients x 13', taken);

  const neighbours = Array.from({ length: 200 }, (_, i) => i + 1);
  const many = await searched(client, small, 'nearest-patients', {
    tried: { neighbours, added: [0, 1, 2, 3, 4, 5, 6, 7, 8, 9] },
    fixed: { neighboursBy: 'given' },
  });
  keep('search of 2,000 settings of nearest patients, 240 patients x 13', [many.taken]);
  const opened: number[] = [];
  for (let i = 0; i < 5; i++) {
    const begun = performance.now();
    await client.get<SearchDetail>(`/api/searches/${many.id}?measure=auc`);
    opened.push(performance.now() - begun);
  }
  keep('a search of 2,000 settings opened', opened);

  const selected = await studyOf(client, 1800, 20, 5);
  for (const way of ['backward', 'path'] as const) {
    const { taken: selecting } = await searched(client, selected, 'logistic', {
      tried: {},
      fewer: { way, pinned: [], sets: [], halves: 50 },
    });
    keep(`selection of 20 predictors (${way}), 5 folds and 50 half samples, 1,800 patients`, [
      selecting,
    ]);
  }

  const large = await studyOf(client, 96_000, 17, 5);
  const { taken: boosted } = await searched(client, large, 'boosted-trees', {
    tried: { depth: [2, 3, 4], learningRate: [0.05, 0.1, 0.3] },
    fixed: { until: 'all', trees: 100 },
  });
  keep('search of 3 x 3 boosting settings x 5 folds, 96,000 patients x 17', [boosted]);
}

async function searched(
  client: Client,
  study: string,
  family: string,
  part: Partial<SearchPlan>,
): Promise<{ id: string; taken: number }> {
  const begun = performance.now();
  const plan = { fixed: {}, way: { kind: 'all' }, measure: 'auc', ...part };
  const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/searches`, {
    family,
    plan,
  });
  for (;;) {
    const lines = await client.get<SearchLine[]>(`/api/studies/${study}/searches`);
    const { state, problem } = lines.find(({ id }) => id === body.id)!;
    if (state === 'done') return { id: body.id, taken: performance.now() - begun };
    if (state !== 'waiting' && state !== 'running') throw new Error(problem ?? state);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

/** Made-up patients, of whom the given number are learned from in each round of so many folds. */
async function studyOf(
  client: Client,
  patients: number,
  columns: number,
  folds: number,
): Promise<string> {
  const study = await client.newStudy(`Search ${patients}`);
  const { body } = await client.upload('made-up.csv', madeUp(patients, columns));
  const dictionary = body.columns.map(({ proposal }) => proposal.entry);
  for (const entry of dictionary)
    entry.role =
      entry.name === 'patient' ? 'identifier' : entry.name === 'case' ? 'outcome' : 'predictor';
  await client.send('POST', `/api/studies/${study}/cohorts`, {
    purpose: 'development',
    name: 'Made up',
    uploadId: body.id,
    dictionary,
  });
  await client.changeDesign(study, { event: 'yes', folds: { way: 'by chance', count: folds } });
  await client.fitted(study);
  return study;
}

function madeUp(patients: number, columns: number): string {
  const draw = randomStream(1, 'bench of searches');
  const names = Array.from({ length: columns }, (_, j) => `lab_${j + 1}`);
  const rows = Array.from({ length: patients }, (_, i) => {
    const labs = names.map(() => draw.normal());
    const z = labs[0] + 0.7 * labs[1] * labs[2] - 0.5 * labs[3] - 1;
    const isCase = draw.uniform() < 1 / (1 + Math.exp(-z));
    return `p${i},${labs.map((lab) => lab.toFixed(4)).join()},${isCase ? 'yes' : 'no'}`;
  });
  return [`patient,${names.join()},case`, ...rows].join('\n');
}
