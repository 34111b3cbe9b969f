import { beforeAll, describe, expect, it } from 'vitest';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { ScreeningView } from '../../src/contract/screenings.ts';
import type { Act, Overview } from '../../src/contract/studies.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
/** Two browsers at one study. */
let ann: Client;
let ben: Client;
let study: string;
let cohort: string;
let list: string;

beforeAll(async () => {
  product = await productOfLane();
  [ann, ben] = [new Client(product.address), new Client(product.address)];
  study = await ann.newStudy('Two browsers');
  cohort = (await ann.bringIn(study, birthWeight, 'development', asPublished)).body.id;
  await ann.changeDesign(study, { event: 'yes', missedCost: 4 });
  await ann.send('POST', `/api/studies/${study}/candidates`, { family: 'logistic', settings: {} });
  await ann.fitted(study);
  const text = birthWeight.split('\n').slice(0, 41).join('\n');
  list = (await ann.bringIn(study, text, 'screening', asPublished)).body.id;
});

const history = async (client: Client) =>
  (await client.get<Overview>(`/api/studies/${study}`)).history;
const step = (client: Client, direction: 'undo' | 'redo', act?: number) =>
  client.send<{ what: string } & Refusal>('POST', `/api/studies/${study}/step`, {
    direction,
    ...(act !== undefined && { act }),
  });
const choices = async () => (await ann.get<DesignState>(`/api/studies/${study}/design`)).choices;
const logistic = async (): Promise<CandidateLine> => (await ann.fitted(study))[1];
const acts = (client: Client) => client.get<Act[]>(`/api/studies/${study}/acts`);

/** What can be asked for in a study, what shows whether it is done, and what it is called. */
const undoable: {
  what: RegExp;
  act: () => Promise<unknown>;
  shows: () => Promise<unknown>;
}[] = [
  {
    what: /^seed/,
    act: () => ann.changeDesign(study, { seed: 77 }),
    shows: async () => (await choices()).seed,
  },
  {
    what: /^Ftv/,
    act: () =>
      ann.mend(cohort, (dictionary) => {
        dictionary.find(({ name }) => name === 'ftv')!.missingCodes = ['6'];
      }),
    shows: async () =>
      (await ann.get<CohortInfo>(`/api/cohorts/${cohort}`)).dictionary.map(
        ({ missingCodes }) => missingCodes,
      ),
  },
  {
    what: /made$/,
    act: () =>
      ann.send('POST', `/api/studies/${study}/candidates/several`, {
        families: ['decision-tree', 'naive-bayes'],
      }),
    shows: async () => (await ann.fitted(study)).length,
  },
  {
    what: /^cutoff of Logistic/,
    act: async () =>
      ann.send('PUT', `/api/candidates/${(await logistic()).id}/cutoff`, {
        ...{ rule: 'find', share: 0.9 },
      }),
    shows: async () => (await logistic()).cutoffRule,
  },
  {
    what: /^name, group or note of/,
    act: async () =>
      ann.send('PATCH', `/api/candidates/${(await logistic()).id}`, {
        ...{ name: 'Mothers', note: 'first try', group: 'A' },
      }),
    shows: async () => {
      const { name, note, group } = await logistic();
      return { name, note, group };
    },
  },
  {
    what: /chosen$/,
    act: async () =>
      ann.send('PUT', `/api/studies/${study}/chosen`, { candidate: (await logistic()).id }),
    shows: async () => (await ann.get<Overview>(`/api/studies/${study}`)).chosen?.id,
  },
  {
    what: /deleted$/,
    act: async () => ann.send('DELETE', `/api/candidates/${(await logistic()).id}`),
    shows: async () => (await ann.fitted(study)).map(({ id }) => id),
  },
  {
    what: /^Patients deleted/,
    act: () => ann.send('DELETE', `/api/cohorts/${list}`),
    shows: async () => (await ann.get<unknown[]>(`/api/studies/${study}/cohorts`)).length,
  },
  {
    what: /matched$/,
    act: async () =>
      ann.send('PUT', `/api/cohorts/${list}/matching`, {
        candidate: (await logistic()).id,
        matching: [{ predictor: 'lwt', column: 'bwt' }],
      }),
    shows: async () => (await ann.get<CohortInfo>(`/api/cohorts/${list}`)).matching,
  },
  {
    what: /^study renamed/,
    act: () => ann.send('PATCH', `/api/studies/${study}`, { name: 'Renamed' }),
    shows: async () => (await ann.get<Overview>(`/api/studies/${study}`)).study.name,
  },
  {
    what: /^note “Form never varies” dismissed/,
    act: () =>
      ann.send('POST', `/api/studies/${study}/dismissals`, {
        ...{ note: 'constant', title: 'Form never varies', reason: 'one form' },
      }),
    shows: async () => (await ann.get<unknown[]>(`/api/studies/${study}/dismissals`)).length,
  },
  {
    what: /^design kept as March/,
    act: async () =>
      ann.send('POST', `/api/studies/${study}/versions`, {
        name: 'March',
        choices: await choices(),
      }),
    shows: async () => (await ann.get<unknown[]>(`/api/studies/${study}/versions`)).length,
  },
];

describe('undo', () => {
  for (const { what, act, shows } of undoable)
    it(`takes back ${what.source}, and nothing else, and redo does it again`, async () => {
      const before = await shows();
      expect(((await act()) as { status: number }).status).toBe(200);
      const after = await shows();
      expect(after).not.toEqual(before);
      const { undo } = await history(ann);
      expect(undo!.what).toMatch(what);
      expect((await step(ann, 'undo', undo!.id)).body.what).toBe(undo!.what);
      expect(await shows()).toEqual(before);
      const { redo } = await history(ann);
      expect(redo).toEqual(undo);
      expect((await step(ann, 'redo', redo!.id)).status).toBe(200);
      expect(await shows()).toEqual(after);
      expect((await step(ann, 'undo')).status).toBe(200);
      expect(await shows()).toEqual(before);
      expect((await acts(ann)).find(({ id }) => id === undo!.id)!.undoneAt).not.toBeNull();
    });

  it('takes back one’s own last act, and leaves what others did since', async () => {
    await ann.changeDesign(study, { missedCost: 7 });
    await ben.changeDesign(study, { falseAlarmCost: 2 });
    expect((await history(ann)).undo!.what).toBe('cost of a missed case 4 → 7');
    expect((await history(ben)).undo!.what).toBe('cost of a false alarm 1 → 2');
    await step(ann, 'undo');
    expect(await choices()).toMatchObject({ missedCost: 4, falseAlarmCost: 2 });
    expect((await history(ben)).undo!.what).toBe('cost of a false alarm 1 → 2');
    await step(ben, 'undo');
    expect(await choices()).toMatchObject({ missedCost: 4, falseAlarmCost: 1 });
    expect((await step(new Client(product.address), 'undo')).body.code).toBe('no-step');
    const [last] = await acts(ben);
    expect(last).toMatchObject({ who: 'you', what: 'cost of a false alarm 1 → 2' });
    expect((await acts(ann))[0].who).toBe('other');
  });

  it('does nothing where others have changed the same thing since, and says so', async () => {
    await ann.changeDesign(study, { missedCost: 8 });
    await ben.changeDesign(study, { missedCost: 9 });
    const refused = await step(ann, 'undo');
    expect([refused.status, refused.body.code]).toEqual([409, 'changed-since']);
    expect(refused.body.sentence).toContain('the cost of a missed case');
    expect((await choices()).missedCost).toBe(9);
    const { id } = await logistic();
    const rule = (client: Client, share: number) =>
      client.send('PUT', `/api/candidates/${id}/cutoff`, { rule: 'find', share });
    await rule(ann, 0.8);
    await rule(ben, 0.7);
    expect((await step(ann, 'undo')).body.code).toBe('changed-since');
    expect((await logistic()).cutoffRule).toEqual({ rule: 'find', share: 0.7 });
    await step(ben, 'undo');
    await step(ben, 'undo');
    expect((await choices()).missedCost).toBe(8);
  });

  it('takes back only what was shown, and offers nothing that cannot be undone', async () => {
    await ann.changeDesign(study, { falseAlarmCost: 3 });
    const shown = (await history(ann)).undo!;
    await ann.changeDesign(study, { missedCost: 5 });
    const refused = await step(ann, 'undo', shown.id);
    expect([refused.status, refused.body.code]).toEqual([409, 'other-step']);
    expect(await choices()).toMatchObject({ falseAlarmCost: 3, missedCost: 5 });
    await ann.send('POST', `/api/studies/${study}/looks`, { candidate: (await logistic()).id });
    expect(await history(ann)).toMatchObject({
      undo: null,
      blocked: expect.stringMatching(/^look at held-out patients with/) as string,
    });
    const looked = await step(ann, 'undo');
    expect([looked.status, looked.body.code]).toEqual([409, 'no-undo']);
    expect((await choices()).missedCost).toBe(5);
    // Out of turn an earlier act is taken back, and what was done since stays.
    const early = await ann.send<{ what: string }>('POST', `/api/studies/${study}/step`, {
      ...{ direction: 'undo', act: shown.id, outOfTurn: true },
    });
    expect(early.body.what).toBe(shown.what);
    expect(await choices()).toMatchObject({ falseAlarmCost: 1, missedCost: 5 });
    const foreign = await ben.send<Refusal>('POST', `/api/studies/${study}/step`, {
      ...{ direction: 'redo', act: shown.id, outOfTurn: true },
    });
    expect(foreign.body.code).toBe('no-step');
    const made = await ann.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
      ...{ cohort: list, candidate: (await logistic()).id, accept: true, unchecked: true },
    });
    expect((await history(ann)).blocked).toMatch(/scored with Logistic regression 1$/);
    const { createdAt } = await ann.get<ScreeningView>(`/api/screenings/${made.body.id}`);
    const calls = { by: 'capacity', patients: 3, ties: 'leave' };
    await ann.send('PUT', `/api/screenings/${made.body.id}/calls`, { calls, scoredAt: createdAt });
    expect((await history(ann)).undo!.what).toBe('calls of Patients');
    await step(ann, 'undo');
    expect((await ann.get<ScreeningView>(`/api/screenings/${made.body.id}`)).calls.rule).toEqual({
      by: 'candidate',
    });
  });
});
