import { and, eq, lte } from 'drizzle-orm';
import type { CutoffRule } from '@rook-scale/core/measures';
import type { CaseRule } from '@rook-scale/core/outcome';
import type { Match } from '@rook-scale/core/screening';
import { readScore } from '@rook-scale/core/outcome';
import type { CandidateVersion } from '../../contract/candidates.ts';
import { db, tables } from '../ground/database/index.ts';
import { cutoffCell, identifierOf, quote } from './list-file.ts';
import { openScreening } from './view.ts';

/**
 * What scored a list and who is called in, as CSV with two columns, `field` and `value`. The fields are the same for
 * every list, in the same order; those of matched columns stand last.
 *
 * @param cutoff in place of the list's own, set for this file
 */
export async function screeningHead(id: string, cutoff?: number): Promise<string> {
  const opened = await openScreening(id);
  const { row, cohort, version, calls, risks, outcome, candidate } = opened;
  const from = cutoff ?? calls.cutoff;
  const scored = risks.filter((risk) => !Number.isNaN(risk));
  const { costs, number, fittedAt } = version;
  const identifier = identifierOf(cohort);
  const lines: [string, string][] = [
    ['list', cohort.name],
    ['list file', cohort.file.name],
    ['patients', String(cohort.rowCount)],
    ['patients scored', String(scored.length)],
    ['patients called in', String(scored.filter((risk) => risk >= from).length)],
    ['patient identifier', identifier?.name ?? ''],
    ['model', version.name],
    ['model family', candidate.family],
    ['version', number === 0 ? 'before versions were kept' : String(number)],
    ['fitted at', fittedAt],
    ['design', version.design],
    ['outcome', outcome.label || outcome.choice.column],
    ['case', caseWords(outcome.choice.kind === 'event' ? outcome.choice.event : '', row.cases)],
    ['scored at', row.createdAt.toISOString()],
    ['checked on held-out patients', (await wasChecked(opened)) ? 'yes' : 'no'],
    ['cutoff of the model', cutoffCell(row.cases, version.cutoff)],
    ['cutoff rule of the model', ruleWords(version)],
    ['cutoff of this list', cutoffCell(row.cases, from)],
    ['calls of this list', cutoff === undefined ? callWords(opened) : 'cutoff set for this file'],
    ['cost of a missed case', costs.own?.missed || String(costs.missed)],
    ['cost of a false alarm', costs.own?.falseAlarm || String(costs.falseAlarm)],
    ['unit of costs', costs.unit],
    ...row.matching.map((match): [string, string] => [
      `predictor ${match.predictor}`,
      matchWords(match),
    ]),
  ];
  return ['field,value', ...lines.map((line) => line.map(quote).join(','))]
    .map((line) => `${line}\r\n`)
    .join('');
}

/** Whether the fit that scored the list had been looked at by then. */
async function wasChecked({
  row: { candidateId, createdAt },
  version: { fittedAt },
}: Awaited<ReturnType<typeof openScreening>>): Promise<boolean> {
  if (!fittedAt) return false;
  const { look } = tables;
  const [found] = await db()
    .select({ id: look.id })
    .from(look)
    .where(
      and(
        eq(look.candidateId, candidateId),
        eq(look.fittedAt, new Date(fittedAt)),
        lte(look.at, createdAt),
      ),
    )
    .limit(1);
  return found !== undefined;
}

function ruleWords({ rule }: CandidateVersion): string {
  const words: { [R in CutoffRule['rule']]: (of: Extract<CutoffRule, { rule: R }>) => string } = {
    cheapest: () => 'lowest cost out of fold',
    find: ({ share }) =>
      `finds at least ${Number((100 * share).toPrecision(4))}% of the cases out of fold`,
    call: ({ perThousand }) => `calls in at most ${perThousand} per 1,000 out of fold`,
    hand: () => 'set by hand',
  };
  return (words[rule.rule] as (of: CutoffRule) => string)(rule);
}

function callWords({
  row: { calls: rule },
  calls,
}: Awaited<ReturnType<typeof openScreening>>): string {
  if (rule.by === 'candidate') return 'cutoff of the model';
  if (rule.by === 'cutoff') return 'cutoff set for this list';
  const { tied } = calls;
  const ties = tied
    ? `; ${tied.patients} patients share the risk at the limit and are ${rule.ties === 'call' ? 'all called in' : 'all left alone'}`
    : '';
  return `the ${rule.patients} patients most at risk${ties}`;
}

function caseWords(event: string, cases: CaseRule): string {
  if (cases.kind === 'event') return event;
  if (cases.kind === 'levels') return cases.levels.join(' or ');
  return `${cases.side === 'from' ? 'from' : 'up to'} ${readScore(cases.value, cases)}`;
}

function matchWords({ predictor, column, conversion, levels }: Match): string {
  const parts = [column === predictor ? 'column of the same name' : `column ${column}`];
  if (conversion)
    parts.push(
      `× ${conversion.factor}${conversion.offset === 0 ? '' : ` ${conversion.offset < 0 ? '-' : '+'} ${Math.abs(conversion.offset)}`}${conversion.from ? ` (list: ${conversion.from})` : ''}`,
    );
  for (const { from, to } of levels ?? []) parts.push(`${from} is ${to || 'missing'}`);
  return parts.join(', ');
}
