import {
  measuresByKind,
  ratesOf,
  type Interval,
  type Measure,
  type Rate,
  type Rates,
} from '@rook-scale/core/measures';
import type { ModelSize } from '@rook-scale/core/families';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import type { CandidateLine } from '../../contract/candidates.ts';
import { showCost, showCount, showCutoff, showInterval, showRate } from '../../browser/format.ts';
import { compareKnown } from '../../browser/order.ts';
import { roundTo, showDigits, showExact, showFixed } from '../../browser/numbers.ts';
import { durationText } from '../search/index.ts';

/** What a cell of the table says. */
export interface LedgerCell {
  text: string;
  /** Said in a lighter tone behind it. */
  beside?: string;
  title?: string;
}

/** A column of the table of candidates that it can be sorted by. */
export interface LedgerColumn {
  key: string;
  head: string;
  /** Said in a lighter tone behind the head. */
  beside?: string;
  help?: string;
  /** What is best stands first: the least of it, or the most. */
  first: 'least' | 'most';
  /** Shown until the analyst says otherwise. */
  usual?: true;
  /** A measure of the whole, of which the best is marked: not one that calling everybody in is best at. */
  marksBest?: true;
  value: (line: CandidateLine) => number | string | undefined;
  /** Of a line that has results. */
  cell: (line: CandidateLine) => LedgerCell;
}

/** Every column of a kind of outcome, the name first. */
export function ledgerColumns(kind: OutcomeKind): LedgerColumn[] {
  return [
    {
      key: 'name',
      head: 'Candidate',
      first: 'least',
      usual: true,
      value: ({ name }) => name,
      cell: ({ name }) => ({ text: name }),
    },
    {
      key: 'cost',
      head: 'Cost per 1,000',
      help: 'Cost of the errors per 1,000 patients, at its cutoff.',
      first: 'least',
      usual: true,
      marksBest: true,
      value: ({ results }) => results?.costPerThousand,
      cell: ({ results }) => ({
        text: showCost(results!.costPerThousand),
        ...(results!.costCrossFitted !== undefined && {
          title: `${showCost(results!.costCrossFitted)} with the cutoff of each fold chosen in the other folds`,
        }),
      }),
    },
    rateColumn('sensitivity', 'Sensitivity', true),
    rateColumn('specificity', 'Specificity', true),
    {
      key: 'auc',
      head: 'AUC',
      help: 'Area under the ROC curve, the mean of the folds.',
      first: 'most',
      usual: true,
      marksBest: true,
      value: ({ results }) => results?.area?.mean,
      cell: ({ results }) => areaCell(results!.area),
    },
    ...(kind === 'event' ? eventColumns : kindColumns(kind)),
    {
      key: 'cutoff',
      head: 'Cutoff',
      first: 'least',
      usual: true,
      value: ({ results }) => results?.cutoff,
      cell: ({ results, outcome }) => ({ text: showCutoff(results!.cutoff, outcome) }),
    },
    rateColumn('positivePredictiveValue', 'PPV', false, 'Of those called in, the share of cases.'),
    rateColumn(
      'negativePredictiveValue',
      'NPV',
      false,
      'Of those not called in, the share of others.',
    ),
    {
      key: 'calledIn',
      head: 'Called in per 1,000',
      first: 'least',
      value: (line) => ratesAt(line)?.calledIn.value,
      cell: (line) => ({
        text: showCount(Math.round(1000 * (ratesAt(line)!.calledIn.value ?? 0))),
      }),
    },
    {
      key: 'kappa at cutoff',
      head: kind === 'levels' ? 'Kappa of calls' : 'Kappa',
      help: 'Agreement of calls and outcomes beyond chance.',
      first: 'most',
      marksBest: true,
      value: (line) => ratesAt(line)?.kappa.value,
      cell: (line) => ({ text: showFixed(ratesAt(line)!.kappa.value, 2) }),
    },
    {
      key: 'development auc',
      head: 'AUC in those learned from',
      help: 'Of the whole model; far above the one out of fold where it learns its patients by heart.',
      first: 'most',
      value: ({ apparentArea }) => apparentArea ?? undefined,
      cell: ({ apparentArea }) => ({ text: showFixed(apparentArea, 2) }),
    },
    {
      key: 'predictors',
      head: 'Predictors',
      help: 'Predictors that the fitted model uses, of those it was offered.',
      first: 'least',
      value: ({ uses, size }) => size?.predictors ?? uses.length,
      cell: ({ uses, size }) => {
        const used = size?.predictors;
        if (used === undefined || used === uses.length) return { text: String(uses.length) };
        return { text: `${used} of ${uses.length}` };
      },
    },
    sizeColumn('inputs', 'Inputs', 'What the model looks at after the preparation.'),
    sizeColumn('leaves', 'Leaves', 'Of its tree, or of all its trees.'),
    sizeColumn('trees', 'Trees'),
    sizeColumn(
      'degrees',
      'Degrees of freedom',
      'Coefficients, or what penalised ones are worth together; constants left out.',
    ),
    {
      key: 'score time',
      head: 'Score time per 1,000',
      help: 'In which the worker prepared and scored a thousand patients.',
      first: 'least',
      value: ({ scoreTime }) => scoreTime ?? undefined,
      cell: ({ scoreTime }) => ({ text: scoreTime === null ? '–' : millisecondsText(scoreTime) }),
    },
    {
      key: 'fit time',
      head: 'Fit time',
      help: 'From its first fold to the last, on the worker that fitted it.',
      first: 'least',
      value: ({ fitTime }) => fitTime ?? undefined,
      cell: ({ fitTime }) => ({ text: fitTime === null ? '–' : durationText(fitTime) }),
    },
  ];
}

function sizeColumn(of: keyof ModelSize, head: string, help?: string): LedgerColumn {
  return {
    key: of,
    head,
    ...(help && { help }),
    first: 'least',
    value: ({ size }) => size?.[of],
    cell({ size }) {
      const value = size?.[of];
      if (value === undefined) return { text: '–' };
      return { text: Number.isInteger(value) ? showCount(value) : showFixed(value, 1) };
    },
  };
}

const millisecondsText = (milliseconds: number): string =>
  milliseconds < 1
    ? `${showFixed(milliseconds, 2)} ms`
    : milliseconds < 1000
      ? `${showDigits(milliseconds, 2)} ms`
      : durationText(milliseconds);

const ratesAt = ({ results }: CandidateLine): Rates | undefined =>
  results && ratesOf(results.table);

type RateName = { [K in keyof Rates]: Rates[K] extends Rate ? K : never }[keyof Rates];

function rateColumn(key: RateName, head: string, usual: boolean, help?: string): LedgerColumn {
  return {
    key,
    head,
    ...(help && { help }),
    first: 'most',
    ...(usual && { usual }),
    value: (line) => ratesAt(line)?.[key].value,
    cell(line) {
      const found = ratesAt(line)![key];
      return { text: showRate(found), title: fractionText(found) };
    },
  };
}

const fractionText = ({
  count,
  total,
  interval,
}: {
  count: number;
  total: number;
  interval?: Interval;
}) => `${showExact(roundTo(count, 1))} of ${total}, 95% interval ${showInterval(interval)}`;

function areaCell(area: NonNullable<CandidateLine['results']>['area']): LedgerCell {
  if (!area) return { text: '–' };
  const { mean, least, greatest } = area;
  return {
    text: showFixed(mean, 2),
    title: `Mean of the folds; they range from ${showFixed(least, 2)} to ${showFixed(greatest, 2)}`,
  };
}

const eventColumns: LedgerColumn[] = [
  {
    key: 'accuracy',
    head: 'Accuracy',
    beside: 'majority baseline',
    first: 'most',
    usual: true,
    value: (line) => ratesAt(line)?.accuracy.value,
    cell(line) {
      const { accuracy, majorityBaseline } = ratesAt(line)!;
      return { text: showRate(accuracy), beside: showRate(majorityBaseline) };
    },
  },
];

const kindColumns = (kind: OutcomeKind): LedgerColumn[] =>
  (measuresByKind[kind] as Measure[]).map((measure) => ({
    key: measure.id,
    head: measure.name.charAt(0).toUpperCase() + measure.name.slice(1),
    help: measure.help,
    first: measure.better === 'lower' ? 'least' : 'most',
    usual: true,
    marksBest: true,
    value: ({ results }) => results?.figures?.[measure.id]?.value,
    cell: (line) => ({ text: showFigure(measure, line) }),
  }));

/** A dash where the candidate was fitted to another kind of outcome. */
function showFigure({ id, unit }: Measure, { results }: CandidateLine): string {
  const value = results?.figures?.[id]?.value;
  if (value === undefined) return '–';
  if (unit === 'cost') return showCost(value);
  // Nearly nothing has no sign.
  return unit === 'outcome' ? showDigits(value, 3) : showFixed(value, 2);
}

/** Lines that are best by a column, as far as one can be told from others: none where all are the same. */
export function bestOf(lines: CandidateLine[], column: LedgerColumn): Set<string> {
  const known = lines.flatMap((line) => {
    const value = line.outOfDate || !line.results ? undefined : column.value(line);
    return typeof value === 'number' ? [{ id: line.id, value }] : [];
  });
  const values = known.map(({ value }) => value);
  const best = column.first === 'least' ? Math.min(...values) : Math.max(...values);
  return new Set(known.filter(({ value }) => value === best).map(({ id }) => id));
}

/** A column, or with a minus in front the other way round; the order of their numbers where absent. */
export type LedgerSort = string | undefined;

export function sortedLines(
  lines: CandidateLine[],
  columns: LedgerColumn[],
  sort: LedgerSort,
): CandidateLine[] {
  const column = columns.find(({ key }) => key === sort?.replace(/^-/, ''));
  if (!column || !sort) return lines;
  const isUp = (column.first === 'least') !== sort.startsWith('-');
  // Figures of an old design, perhaps of another outcome, are not to be set beside those of the new one.
  const known = (line: CandidateLine) =>
    line.outOfDate && column.key !== 'name' ? undefined : column.value(line);
  return lines.toSorted((a, b) => compareKnown(known(a), known(b), isUp));
}

/** The best first, then the other way round, then as they were made. */
export const turnedSort = (now: LedgerSort, key: string): LedgerSort =>
  now === key ? `-${key}` : now === `-${key}` ? undefined : key;

export function ariaSort(
  { key, first }: LedgerColumn,
  now: LedgerSort,
): 'ascending' | 'descending' | undefined {
  if (now !== key && now !== `-${key}`) return undefined;
  return (first === 'least') === (now === key) ? 'ascending' : 'descending';
}
