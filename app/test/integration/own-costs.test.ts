import { beforeAll, describe, expect, it } from 'vitest';
import Papa from 'papaparse';
import type { CandidateLine, Predictions } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState, SidesView } from '../../src/contract/designs.ts';
import type { HeldOutView, SealedView } from '../../src/contract/looks.ts';
import type { ScreeningView } from '../../src/contract/screenings.ts';
import type { Act } from '../../src/contract/studies.ts';
import { Client, inRoles } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

/** Made-up patients; a stay on the ward that was missed costs days, which some do not have. */
const patients = (count: number, from = 0) =>
  Array.from({ length: count }, (_, i) => {
    const age = 40 + ((i * 7 + from) % 41);
    const risk = (age - 30) / 80 + (((i * 29 + from) % 17) - 8) / 30;
    return {
      id: `P${from + i}`,
      age: String(age),
      gait: ((i * 11) % 30) / 10,
      days: i % 11 === 0 ? '' : String(2 + ((i * 5) % 23)),
      falls: risk > 0.45 ? 'yes' : 'no',
    };
  });
const asText = (rows: object[]) => Papa.unparse(rows, { newline: '\n' });
const rows = patients(400);

async function newStudy(name: string) {
  const study = await client.newStudy(name);
  const { id: cohort } = (
    await client.bringIn(
      study,
      asText(rows),
      'development',
      inRoles({ id: 'identifier', falls: 'outcome', days: 'set aside' }),
    )
  ).body;
  await client.changeDesign(study, { event: 'yes', missedCost: 6 });
  const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
  });
  await client.fitted(study);
  return { study, cohort, candidate: body.id };
}

const lineOf = async (study: string, candidate: string): Promise<CandidateLine> =>
  (await client.fitted(study)).find(({ id }) => id === candidate)!;

/** Risks and events as they are sent, and what each patient costs by the file. */
function unpacked({ risks, events }: Predictions) {
  return { risks: floats(risks), events: Array.from(Buffer.from(events, 'base64')) };
}

function floats(base64: string): number[] {
  const bytes = Buffer.from(base64, 'base64');
  return Array.from(new Float64Array(bytes.buffer, bytes.byteOffset, bytes.length / 8));
}

const costOf = ({ days }: { days: string }) => (days === '' ? 6 : Number(days));

/** Cost per 1,000 by hand. */
function byHand(
  { risks, events }: ReturnType<typeof unpacked>,
  costs: number[],
  cutoff: number,
): number {
  const sum = risks.reduce(
    (total, risk, i) =>
      total + (events[i] ? (risk < cutoff ? costs[i] : 0) : risk >= cutoff ? 1 : 0),
    0,
  );
  return (1000 * sum) / risks.length;
}

async function sidesOf(study: string) {
  const text = await (await fetch(`${product.address}/api/studies/${study}/allocation`)).text();
  return Papa.parse<{ id: string; side: string }>(text, { header: true, skipEmptyLines: true })
    .data;
}

const costsOn = (sides: { id: string; side: string }[], side: string) => {
  const byId = new Map(rows.map((row) => [row.id, row]));
  return sides.filter((one) => one.side === side).map(({ id }) => costOf(byId.get(id)!));
};

describe('errors that cost each patient their own', () => {
  it('are counted out of fold and held out as by hand, and put the cutoff, without a fit', async () => {
    const { study, candidate } = await newStudy('Days');
    const before = await lineOf(study, candidate);
    await client.changeDesign(study, { ownCosts: { missed: 'days', falseAlarm: '' } });
    const line = await lineOf(study, candidate);
    expect(line).toMatchObject({ outOfDate: false, fittedAt: before.fittedAt });
    const sides = await sidesOf(study);
    const costs = costsOn(sides, 'development');
    const seen = unpacked(
      await client.get<Predictions>(`/api/candidates/${candidate}/predictions`),
    );
    const { cutoff, costPerThousand } = line.results!;
    expect(costPerThousand).toBeCloseTo(byHand(seen, costs, cutoff), 9);
    const cheapest = Math.min(...seen.risks.map((one) => byHand(seen, costs, one)));
    expect(costPerThousand).toBeCloseTo(Math.min(cheapest, byHand(seen, costs, 2)), 9);
    expect(costPerThousand).not.toBeCloseTo(before.results!.costPerThousand, 3);

    const { body: look } = await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, {
      candidate,
    });
    expect(floats(look.predictions.costs!.missed)).toEqual(costsOn(sides, 'held out'));

    const { withoutModel } = await client.get<SidesView>(`/api/studies/${study}/sides`);
    expect(withoutModel!.nobody).toBeCloseTo(byHand(seen, costs, 2), 9);
    expect(withoutModel!.everybody).toBeCloseTo(byHand(seen, costs, -1), 9);

    // A fit under the same costs keeps the same figures.
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [candidate] });
    expect((await lineOf(study, candidate)).results).toEqual(line.results);
    // A fit cannot be undone; the change of the costs can, out of turn.
    const acts = await client.get<Act[]>(`/api/studies/${study}/acts`);
    const { id: act } = acts.find(({ what }) => what.includes('cost'))!;
    await client.send('POST', `/api/studies/${study}/step`, {
      ...{ direction: 'undo', act, outOfTurn: true },
    });
    expect((await lineOf(study, candidate)).results).toEqual(before.results);
  });

  it('stay with the sealed patients as they were when these were opened', async () => {
    const { study, candidate } = await newStudy('Sealed');
    await client.changeDesign(study, {
      sealedShare: 0.2,
      ownCosts: { missed: 'days', falseAlarm: 'gait' },
    });
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [candidate] });
    await client.fitted(study);
    const path = `/api/studies/${study}/sealed`;
    const { body: opened } = await client.send<SealedView>('POST', path, {
      candidate,
      reason: 'The candidate is settled.',
    });
    const gait = new Map(rows.map((row) => [row.id, row.gait]));
    const sealed = (await sidesOf(study)).filter(({ side }) => side === 'sealed');
    expect(sealed.length).toBeGreaterThan(60);
    const missed = costsOn(sealed, 'sealed');
    expect(floats(opened.predictions.costs!.missed)).toEqual(missed);
    expect(floats(opened.predictions.costs!.falseAlarm)).toEqual(
      sealed.map(({ id }) => gait.get(id)),
    );
    // Another choice afterwards is no choice of what was seen.
    await client.changeDesign(study, { ownCosts: { missed: '', falseAlarm: '' } });
    expect((await client.get<SealedView>(path)).predictions).toEqual(opened.predictions);
  });

  it('are those of all in patients whose costs are not known any more', async () => {
    const { study, cohort, candidate } = await newStudy('Others');
    const common = (await lineOf(study, candidate)).results;
    await client.changeDesign(study, { ownCosts: { missed: 'days', falseAlarm: 'gait' } });
    const own = (await lineOf(study, candidate)).results;
    expect(own).not.toEqual(common);
    const { selection } = await client.get<CohortInfo>(`/api/cohorts/${cohort}`);
    await client.send('PUT', `/api/cohorts/${cohort}/selection`, {
      base: selection,
      mine: { ...selection, exclusions: [{ condition: 'age < 42', reason: 'too young' }] },
    });
    const line = await lineOf(study, candidate);
    expect(line.outOfDate).toBe(true);
    expect(line.results).toEqual(common);
    const sent = await client.get<Predictions>(`/api/candidates/${candidate}/predictions`);
    expect(sent.costs).toBeUndefined();
    // With the column gone as a number, the design does not name it any more.
    await client.mend(cohort, (dictionary) => {
      const days = dictionary.find(({ name }) => name === 'days')!;
      days.kind = 'text';
    });
    const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
    expect(choices.ownCosts).toEqual({ missed: '', falseAlarm: 'gait' });
  });

  it('are counted in a list whose outcome is known, where it has the column', async () => {
    const { study, candidate } = await newStudy('Lists');
    await client.changeDesign(study, { ownCosts: { missed: 'days', falseAlarm: '' } });
    const later = patients(90, 1000);
    const known = async (list: object[]) => {
      const { body } = await client.bringIn(study, asText(list), 'screening', (dictionary) => {
        dictionary[0].role = 'identifier';
      });
      const scored = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
        cohort: body.id,
        candidate,
        unchecked: true,
      });
      return client.get<ScreeningView>(`/api/screenings/${scored.body.id}`);
    };
    const view = await known(later);
    expect(floats(view.known!.predictions.costs!.missed)).toEqual(later.map(costOf));
    const without = await known(later.map(({ days: _, ...row }) => row));
    expect(without.known!.predictions.costs).toBeUndefined();
  });
});
