import { setImmediate } from 'node:timers/promises';
import { giveLevels, levelRule } from '@rook-scale/core/measures';
import { caseScores, readScore, type CaseRule, type Predictions } from '@rook-scale/core/outcome';
import { harmlessCell, showValue } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { ListReasonsView } from '../../contract/screenings.ts';
import { keptRows, loadTable } from '../cohorts/index.ts';
import { asFloats, asIntegers } from '../files/index.ts';
import { bitsOf } from './bits.ts';
import { askReasonsIfAny } from './reasons.ts';
import { openScreening, refuseAnotherList } from './view.ts';

/**
 * The list as CSV (RFC 4180), the highest risk first: one header row, then one row a patient. The columns are the
 * same for every list of a model, whatever the list: who it is, what is predicted, the call, what is unusual, the
 * three strongest reasons, and what scored it. What else is to be known stands in the file beside it (`screeningHead`).
 *
 * Each part has its text and the number of patients written so far.
 *
 * @param options.cutoff in place of the list's own
 * @param options.reasons false for a file whose columns of reasons are empty: reasons of many patients take time
 */
export async function* screeningFile(
  id: string,
  { cutoff, reasons: wanted = true }: { cutoff?: number; reasons?: boolean } = {},
): AsyncGenerator<{ text: string; patients: number }> {
  const opened = await openScreening(id);
  const { row, cohort, version, predictions, risks: scores } = opened;
  const from = cutoff ?? opened.calls.cutoff;
  const ranking = asIntegers(row.ranking);
  const columns = columnsOf(opened, predictions);
  const identifier = identifierOf(cohort);
  const table = identifier ? await loadTable(cohort, [identifier.name]) : undefined;
  const rows = await keptRows(cohort);
  const isDate = identifier?.kind === 'date';
  const { unfamiliar, unfamiliarRows } = row;
  const unusual = row.unusual && asFloats(row.unusual);
  const reasonsOf = wanted ? await askReasonsIfAny(opened) : undefined;
  const heads = [
    ...['patient', 'row in file', ...columns.map(({ name }) => name), 'call'],
    ...['hardly seen before', 'unusualness', 'unusual'],
    ...Array.from({ length: told.reasons }, (_, i) => `reason ${i + 1}`),
    ...['order of reasons', 'model', 'version', 'cutoff', 'scored at'],
  ];
  let patients = 0;
  yield { text: `${heads.map(quote).join(',')}\r\n`, patients };
  const same = [
    ...[version.name, String(version.number), cutoffCell(row.cases, from)],
    row.createdAt.toISOString(),
  ].map(quote);
  let lines = '';
  for await (const { place, reasons, isCertain } of withReasons(reasonsOf, ranking, scores, from)) {
    const scored = !Number.isNaN(scores[place]);
    const strange = unfamiliarRows
      ? bitsOf(unfamiliarRows, unfamiliar.length, place).map((i) => unfamiliar[i])
      : [];
    lines += `${[
      quote(table ? showValue(table.columns[0], place, isDate) : ''),
      String((rows ? rows[place] : place) + 1),
      ...columns.map(({ of }) => (scored ? quote(String(of(place))) : '')),
      !scored ? 'not scored' : scores[place] >= from ? 'call in' : 'leave alone',
      quote(strange.join('; ')),
      ...(unusual
        ? [unusual[place].toFixed(4), unusual[place] > row.unusualFrom! ? 'yes' : 'no']
        : ['', '']),
      ...reasonCells(reasons, isCertain),
      ...same,
    ].join(',')}\r\n`;
    patients++;
    if (lines.length > 65_536) {
      yield { text: lines, patients };
      lines = '';
      // Others are answered between the parts of a long file.
      await setImmediate();
    }
  }
  yield { text: lines, patients };
}

type Told = ListReasonsView['patients'][number];

/** Reasons of each patient, how many patients are asked about at once, and in how many parts ahead. */
const told = { reasons: 3, together: 16_384, drawnTogether: 100, ahead: 2 };

const reasonCells = (reasons: Told, isCertain: boolean) => [
  ...Array.from({ length: told.reasons }, (_, i) => {
    if (!reasons[i]) return '';
    const { name, value, isImputed } = reasons[i];
    const missing = isImputed ? ' (missing, imputed)' : '';
    return quote(`${name}${missing} ${value > 0 ? 'raises' : 'lowers'} it`);
  }),
  reasons.length === 0 ? '' : isCertain ? 'certain' : 'not certain',
];

/** The patients in their order, with the strongest reasons; drawn ones only of who is called in, as they take long. */
async function* withReasons(
  reasonsOf: Awaited<ReturnType<typeof askReasonsIfAny>>,
  ranking: Int32Array,
  scores: Float64Array,
  cutoff: number,
): AsyncGenerator<{ place: number; reasons: Told; isCertain: boolean }> {
  // Whether they are drawn is known after the first few.
  let isDrawn = true;
  const ask = async (places: Int32Array) => {
    const isAsked = !isDrawn || places[0] === ranking[0] || scores[places[0]] >= cutoff;
    return { places, found: isAsked ? await reasonsOf?.(places) : undefined };
  };
  const first = await ask(ranking.slice(0, told.drawnTogether));
  isDrawn = first.found?.isDrawn ?? true;
  const together = isDrawn ? told.drawnTogether : told.together;
  const underWay = [Promise.resolve(first)];
  let from = first.places.length;
  for (let next = underWay.shift(); next; next = underWay.shift()) {
    // Threads work at the next parts while this one is written.
    while (underWay.length < told.ahead && from < ranking.length) {
      const asked = ask(ranking.slice(from, from + together));
      // Where the reader leaves, nobody hears what became of it.
      asked.catch(() => undefined);
      underWay.push(asked);
      from += together;
    }
    const { places, found } = await next;
    for (const [i, place] of places.entries())
      yield {
        place,
        reasons: found?.patients[i] ?? [],
        isCertain: found?.certain?.[i] ?? true,
      };
  }
}

/** The name of the file; refuses, before anything of it is sent, a list that has changed since. */
export async function screeningFileName(id: string): Promise<string> {
  const { row, cohort } = await openScreening(id);
  refuseAnotherList(row, cohort);
  return `call-in-list-${cohort.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.csv`;
}

/** What is predicted, as columns of the file. */
function columnsOf(
  { row, outcome, levelCosts }: Awaited<ReturnType<typeof openScreening>>,
  predictions: Predictions,
): { name: string; of: (place: number) => string | number }[] {
  const scores = caseScores(predictions, row.cases);
  if (predictions.kind === 'event') return [{ name: 'risk', of: (place) => scores[place] }];
  if (predictions.kind === 'levels') {
    const { levels, shares } = predictions;
    const given = giveLevels(predictions, levelRule(levelCosts));
    return [
      { name: 'share of cases', of: (place) => scores[place] },
      {
        name: 'level',
        of: (place) => levels[given[place]],
      },
      ...levels.map((level, k) => ({
        name: `share ${level}`,
        of: (place: number) => shares[place * levels.length + k],
      })),
    ];
  }
  const { values } = predictions;
  const name = `predicted ${outcome.label || outcome.choice.column}${outcome.unit && ` (${outcome.unit})`}`;
  const intervals = row.intervals && asFloats(row.intervals);
  const end = (which: 0 | 1) => (place: number) => intervals?.[2 * place + which] ?? '';
  return [
    { name, of: (place) => values[place] },
    { name: '95% from', of: end(0) },
    { name: '95% to', of: end(1) },
  ];
}

export function identifierOf(cohort: CohortInfo) {
  return cohort.dictionary.find((entry) => entry.role === 'identifier');
}

/** As it is read: of a number where low values are cases, the value up to which patients are called in. */
export function cutoffCell(cases: CaseRule, cutoff: number): string {
  if (cutoff > (cases.kind === 'number' ? 1e300 : 1)) return 'nobody';
  return String(cases.kind === 'number' ? readScore(cutoff, cases) : cutoff);
}

export function quote(cell: string): string {
  const safe = harmlessCell(cell);
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
