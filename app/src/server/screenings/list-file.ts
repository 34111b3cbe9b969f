import { harmlessCell, showValue } from '@rook-scale/core/table';
import { candidateName } from '../candidates.ts';
import { loadTable, type CohortInfo } from '../cohorts/index.ts';
import { asFloats, asIntegers } from '../files/index.ts';
import { bitsOf } from './bits.ts';
import { openScreening, refuseAnotherList } from './view.ts';

/**
 * The list as CSV (RFC 4180), highest risk first: identifier or row number, risk, call, and what the
 * risk rests on that hardly any development patient had. Where columns were matched or the call was
 * made at another cutoff than the candidate's, lines that begin with # say so above the header.
 *
 * @param cutoff in place of the candidate's own
 */
export async function* screeningFile(id: string, cutoff?: number): AsyncGenerator<string> {
  const opened = await openScreening(id);
  const { row, cohort } = opened;
  const from = cutoff ?? opened.cutoff;
  const ranking = asIntegers(row.ranking);
  const risks = asFloats(row.risks);
  const identifier = identifierOf(cohort);
  const table = identifier ? await loadTable(cohort, [identifier.name]) : undefined;
  const isDate = identifier?.kind === 'date';
  const { unfamiliar, unfamiliarRows } = row;
  yield* headLines(opened, cutoff);
  yield `${quote(identifier?.name ?? 'row in file')},risk,call${unfamiliarRows ? ',hardly seen before' : ''}\r\n`;
  let lines = '';
  for (const place of ranking) {
    const name = table ? showValue(table.columns[0], place, isDate) : String(place + 1);
    const risk = risks[place];
    const scored = !Number.isNaN(risk);
    const call = !scored ? 'not scored' : risk >= from ? 'call in' : 'leave alone';
    const strange = unfamiliarRows
      ? `,${quote(
          bitsOf(unfamiliarRows, unfamiliar.length, place)
            .map((i) => unfamiliar[i])
            .join('; '),
        )}`
      : '';
    lines += `${quote(name)},${scored ? risk : ''},${call}${strange}\r\n`;
    if (lines.length > 65_536) {
      yield lines;
      lines = '';
    }
  }
  yield lines;
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
    lines.push(`called in from a risk of ${cutoff}, put by hand for this file`);
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

function identifierOf(cohort: CohortInfo) {
  return cohort.dictionary.find((entry) => entry.role === 'identifier');
}

function quote(cell: string): string {
  const safe = harmlessCell(cell);
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
