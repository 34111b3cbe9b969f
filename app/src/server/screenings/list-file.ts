import { giveLevels, levelRule } from '@rook-scale/core/measures';
import { caseScores, readScore, type CaseRule, type Predictions } from '@rook-scale/core/outcome';
import { harmlessCell, showValue } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { ListReasonsView } from '../../contract/screenings.ts';
import { candidateName } from '../candidates/index.ts';
import { keptRows, loadTable } from '../cohorts/index.ts';
import { asFloats, asIntegers } from '../files/index.ts';
import { bitsOf } from './bits.ts';
import { askReasonsIfAny } from './reasons.ts';
import { openScreening, predictionsIn, refuseAnotherList } from './view.ts';

/**
 * The list as CSV (RFC 4180), whoever is most taken for a case first: identifier or row number, what is
 * predicted, call, what it rests on that hardly any development patient had, how unlike these they are, and the three
 * strongest reasons. Where columns were matched or the call was
 * made at another cutoff than the candidate's, lines that begin with # say so above the header.
 *
 * @param cutoff in place of the candidate's own
 */
export async function* screeningFile(id: string, cutoff?: number): AsyncGenerator<string> {
  const opened = await openScreening(id);
  const { row, cohort } = opened;
  const from = cutoff ?? opened.cutoff;
  const ranking = asIntegers(row.ranking);
  const predictions = predictionsIn(row);
  const scores = caseScores(predictions, row.cases);
  const columns = columnsOf(opened, predictions);
  const identifier = identifierOf(cohort);
  const table = identifier ? await loadTable(cohort, [identifier.name]) : undefined;
  const rows = identifier ? undefined : await keptRows(cohort);
  const isDate = identifier?.kind === 'date';
  const { unfamiliar, unfamiliarRows } = row;
  const unusual = row.unusual && asFloats(row.unusual);
  const reasonsOf = await askReasonsIfAny(opened);
  yield* headLines(opened, cutoff);
  yield `${quote(identifier?.name ?? 'row in file')},${columns.map(({ name: head }) => quote(head)).join(',')},call${unfamiliarRows ? ',hardly seen before' : ''}${unusual ? ',unusualness,unusual' : ''}${reasonsOf ? reasonHeads : ''}\r\n`;
  let lines = '';
  for await (const { place, reasons, isCertain } of withReasons(reasonsOf, ranking, scores, from)) {
    const name = table
      ? showValue(table.columns[0], place, isDate)
      : String((rows ? rows[place] : place) + 1);
    const scored = !Number.isNaN(scores[place]);
    const call = !scored ? 'not scored' : scores[place] >= from ? 'call in' : 'leave alone';
    const strange = unfamiliarRows
      ? `,${quote(
          bitsOf(unfamiliarRows, unfamiliar.length, place)
            .map((i) => unfamiliar[i])
            .join('; '),
        )}`
      : '';
    const unlike = unusual
      ? `,${unusual[place].toFixed(4)},${unusual[place] > row.unusualFrom! ? 'yes' : 'no'}`
      : '';
    const said = columns.map(({ of }) => (scored ? quote(String(of(place))) : '')).join(',');
    const why = reasonsOf ? reasonCells(reasons, isCertain) : '';
    lines += `${quote(name)},${said},${call}${strange}${unlike}${why}\r\n`;
    if (lines.length > 65_536) {
      yield lines;
      lines = '';
    }
  }
  yield lines;
}

type Told = ListReasonsView['patients'][number];

/** Reasons of each patient, and how many are asked about at once. */
const told = { reasons: 3, together: 2000, drawnTogether: 100 };

const reasonHeads =
  Array.from({ length: told.reasons }, (_, i) => `,reason ${i + 1}`).join('') + ',order of reasons';

const reasonCells = (reasons: Told, isCertain: boolean) =>
  Array.from({ length: told.reasons }, (_, i) => {
    if (!reasons[i]) return ',';
    const { name, value, isImputed } = reasons[i];
    const missing = isImputed ? ' (missing, imputed)' : '';
    return `,${quote(`${name}${missing} ${value > 0 ? 'raises' : 'lowers'} it`)}`;
  }).join('') + `,${isCertain ? 'certain' : 'not certain'}`;

/** The patients in their order, with the strongest reasons; drawn ones only of who is called in, as they take long. */
async function* withReasons(
  reasonsOf: Awaited<ReturnType<typeof askReasonsIfAny>>,
  ranking: Int32Array,
  scores: Float64Array,
  cutoff: number,
): AsyncGenerator<{ place: number; reasons: Told; isCertain: boolean }> {
  let isDrawn = true;
  let places: Int32Array;
  for (let from = 0; from < ranking.length; from += places.length) {
    // Whether they are drawn is known after the first few.
    const count = isDrawn ? told.drawnTogether : told.together;
    places = ranking.slice(from, from + count);
    const isAsked: boolean = from === 0 || !isDrawn || scores[places[0]] >= cutoff;
    const found: ListReasonsView | undefined = isAsked ? await reasonsOf?.(places) : undefined;
    if (found) isDrawn = found.isDrawn;
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

function* headLines(
  { row, candidate, cohort }: Awaited<ReturnType<typeof openScreening>>,
  cutoff: number | undefined,
): Generator<string> {
  const lines: string[] = [];
  if (cutoff !== undefined)
    lines.push(`called in ${cutoffWords(row.cases, cutoff)}, put by hand for this file`);
  for (const { predictor, column, conversion, levels } of row.matching) {
    const parts = [predictor === column ? predictor : `${predictor} is column ${column}`];
    if (conversion)
      parts.push(
        `${conversion.from ? `read as ${conversion.from}, ` : ''}× ${conversion.factor}${conversion.offset === 0 ? '' : ` ${conversion.offset < 0 ? '-' : '+'} ${Math.abs(conversion.offset)}`}`,
      );
    for (const { from, to } of levels ?? []) parts.push(`${from} is ${to || 'not known'}`);
    lines.push(parts.join(', '));
  }
  if (lines.length === 0) return;
  for (const line of [`${cohort.name}, scored with ${candidateName(candidate)}`, ...lines])
    yield `${quote(`# ${line}`)}\r\n`;
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
        name: levelCosts ? 'cheapest level' : 'likeliest level',
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
  return [
    { name, of: (place) => values[place] },
    ...(intervals
      ? [
          { name: '95% from', of: (place: number) => intervals[2 * place] },
          { name: '95% to', of: (place: number) => intervals[2 * place + 1] },
        ]
      : []),
  ];
}

function cutoffWords(cases: CaseRule, cutoff: number): string {
  if (cases.kind === 'number')
    return `${cases.side === 'from' ? 'from' : 'up to'} a predicted ${readScore(cutoff, cases)}`;
  return `from a ${cases.kind === 'event' ? 'risk' : 'share of cases'} of ${cutoff}`;
}

function identifierOf(cohort: CohortInfo) {
  return cohort.dictionary.find((entry) => entry.role === 'identifier');
}

function quote(cell: string): string {
  const safe = harmlessCell(cell);
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
