import { beforeAll, describe, expect, it } from 'vitest';
import type { Dictionary } from '@rook-scale/core/table';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { ScreenedRow, ScreeningView } from '../../src/contract/screenings.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;
let study: string;
let candidate: CandidateLine;

const [header, ...mothers] = birthWeight.trim().split('\n');
const columns = header.split(',');

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await client.newStudy('Low birth weight');
  await client.bringIn(study, birthWeight, 'development', asPublished);
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
  });
  [, candidate] = await client.fitted(study);
});

/** Columns known from the development cohort are read as there, but in the list's own spelling. */
async function likeDevelopment(): Promise<(dictionary: Dictionary) => void> {
  const { dictionary } = await client.get<CohortInfo>(`/api/studies/${study}/development`);
  return (list) => {
    for (const entry of list) {
      const same = dictionary.find((one) => one.name === entry.name);
      if (same) Object.assign(entry, { ...same, format: entry.format });
    }
  };
}

interface Scored {
  view: ScreeningView;
  rows: ScreenedRow[];
}

async function score(text: string): Promise<Scored> {
  const cohort = (await client.bringIn(study, text, 'screening', await likeDevelopment())).body.id;
  const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
    cohort,
    candidate: candidate.id,
    accept: true,
    unchecked: true,
  });
  const view = await client.get<ScreeningView>(`/api/screenings/${body.id}`);
  const { rows } = await client.get<{ rows: ScreenedRow[] }>(
    `/api/screenings/${body.id}/rows?from=0&count=300`,
  );
  return { view, rows };
}

const risks = ({ view }: Scored) =>
  new Float64Array(Uint8Array.from(Buffer.from(view.risks, 'base64')).buffer);
const treatment = ({ view }: Scored, name: string) =>
  view.predictors.find((one) => one.name === name)!.treatment;

describe('a scored list', () => {
  it('has the development patients’ own risks, whatever the order of rows and columns', async () => {
    const straight = await score(birthWeight);
    const turned = await score(
      [columns, ...mothers.map((row) => row.split(','))]
        .map((cells) => [...cells].reverse().join(','))
        .map((row, i, all) => (i === 0 ? row : all[all.length - i]))
        .join('\n'),
    );
    expect([...risks(turned)].reverse()).toEqual([...risks(straight)]);
    // Outcomes of held-out patients stay closed until a look.
    const { known, closed, studyPatients } = straight.view;
    expect(known!.patients + closed.heldOut).toBe(189);
    expect(closed.heldOut).toBe(studyPatients!.heldOut);
  });

  it('has the same risks from another system: semicolons, decimal commas, other yes and no', async () => {
    const yes = new Set(['smoke', 'ht', 'ui', 'low']);
    const rows = mothers.slice(0, 50).map((row) => row.split(','));
    const plain = [columns, ...rows].map((cells) => cells.join(',')).join('\n');
    const foreign = [
      columns.join(';'),
      ...rows.map((cells) =>
        cells
          .map((cell, i) => {
            if (yes.has(columns[i])) return cell === '1' ? 'ja' : 'nein';
            return ['age', 'lwt'].includes(columns[i]) ? `${cell},0` : cell;
          })
          .join(';'),
      ),
    ].join('\r\n');
    expect(risks(await score(foreign))).toEqual(risks(await score(plain)));
  });

  it('is sorted by risk, equal risks in the order of the file, and every row once', async () => {
    const scored = await score([header, ...mothers, ...mothers.slice(0, 40)].join('\n'));
    const { rows } = scored;
    expect(rows.map(({ rank }) => rank)).toEqual(rows.map((_, i) => i + 1));
    expect(rows.map(({ row }) => row).sort((a, b) => a - b)).toEqual(rows.map((_, i) => i));
    rows.slice(1).forEach(({ risk, row }, i) => {
      expect(risk).toBeLessThanOrEqual(rows[i].risk!);
      if (risk === rows[i].risk) expect(row).toBeGreaterThan(rows[i].row);
    });
    rows.forEach(({ risk, row }) => expect(risk).toBe(risks(scored)[row]));
  });

  it('says of each column what was amiss and what was done', async () => {
    const [first, ...rest] = mothers.slice(0, 30).map((row) => row.split(','));
    const cells = (name: string, value: string, row: string[]) =>
      row.map((cell, i) => (columns[i] === name ? value : cell));
    const list = [
      columns.filter((name) => name !== 'ui'),
      ...[cells('race', '4', cells('lwt', '400', cells('age', '', first))), ...rest].map((row) =>
        row.filter((_, i) => columns[i] !== 'ui'),
      ),
    ].map((row) => row.join(','));
    const scored = await score(list.join('\n'));
    expect(treatment(scored, 'ui')).toMatch(/^not in the file: all 30 rows filled with the most/);
    expect(treatment(scored, 'race')).toMatch(/^1 with the new level "4": treated as not known/);
    expect(treatment(scored, 'lwt')).toMatch(/^1 above \d+: used as they are$/);
    expect(treatment(scored, 'age')).toMatch(/^1 not known: filled with the median \d+; that it/);
    expect(treatment(scored, 'ht')).toBe('');
    expect(scored.view.extraColumns).toEqual(['low', 'bwt']);
    expect(risks(scored).every((risk) => risk > 0 && risk < 1)).toBe(true);
  });

  it('without any outcome is scored all the same, and has none to check', async () => {
    const place = columns.indexOf('low');
    const list = [header, ...mothers.slice(0, 20)].map((row) =>
      row
        .split(',')
        .filter((_, i) => i !== place)
        .join(','),
    );
    const { view } = await score(list.join('\n'));
    expect(view.known).toBeNull();
    expect(view.calls.called).toBeGreaterThan(0);
  });

  it('shows held-out patients beside it only once they were looked at', async () => {
    const before = await score([header, ...mothers.slice(0, 20)].join('\n'));
    expect(before.view.heldOut).toBeNull();
    await client.send('POST', `/api/studies/${study}/looks`, { candidate: candidate.id });
    const after = await client.get<ScreeningView>(`/api/screenings/${before.view.id}`);
    expect(after.heldOut).not.toBeNull();
  });

  it('scored again takes its own place; fitted again, it is out of date', async () => {
    const { view } = await score([header, ...mothers.slice(0, 20)].join('\n'));
    const again = () =>
      client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
        cohort: view.cohort.id,
        candidate: candidate.id,
        accept: true,
        unchecked: true,
      });
    expect((await again()).body.id).toBe(view.id);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [candidate.id] });
    await client.fitted(study);
    expect((await client.get<ScreeningView>(`/api/screenings/${view.id}`)).outOfDate).toBe('fit');
    await again();
    expect((await client.get<ScreeningView>(`/api/screenings/${view.id}`)).outOfDate).toBeNull();
  });
});

describe('the file of a list', () => {
  const file = async (id: string) => {
    const text = await (await fetch(`${product.address}/api/screenings/${id}/file`)).text();
    return text.trimEnd().split('\r\n');
  };

  it('names rows where there is no identifier, and agrees with the cutoff', async () => {
    const { view } = await score([header, ...mothers.slice(0, 40)].join('\n'));
    const [head, ...lines] = await file(view.id);
    expect(head).toBe(
      'patient,row in file,risk,call,hardly seen before,unusualness,unusual,reason 1,reason 2,reason 3,order of reasons,model,version,cutoff,scored at',
    );
    expect(lines.filter((line) => line.includes(',call in,')).length).toBe(view.calls.called);
  });

  it('quotes what needs it, and lets no identifier run as a formula', async () => {
    const names = ['=1+1', '+49 30', '@ward', 'Roe, "J"', 'plain'];
    const rows = names.map((name, i) => `"${name.replaceAll('"', '""')}",${mothers[i]}`);
    const { view } = await score([`patient_id,${header}`, ...rows].join('\n'));
    const written = (await file(view.id)).map((line) => line.replace(/,\d+,0\.\d+,.*$/, ''));
    for (const name of ["'=1+1", "'+49 30", "'@ward", '"Roe, ""J"""', 'plain'])
      expect(written).toContain(name);
  });
});

describe('a list that cannot be scored', () => {
  it('is refused before a candidate is fitted, and by a candidate of another study', async () => {
    const other = await client.newStudy('Other');
    const list = (await client.bringIn(other, birthWeight, 'screening')).body.id;
    const refused = await client.send<Refusal>('POST', `/api/studies/${other}/screenings`, {
      cohort: list,
      candidate: candidate.id,
    });
    expect(refused.status).toBe(404);
  });
});
