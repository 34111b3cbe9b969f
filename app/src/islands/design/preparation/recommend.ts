import { arrangedStepSchema, type ArrangedStep } from '@rook-scale/core/preparation';
import { isCoded, type ColumnSummary, type DictionaryEntry } from '@rook-scale/core/table';
import { plural, showPercent } from '../../../browser/format.ts';

export interface Recommended {
  step: ArrangedStep;
  /** Why, in figures. */
  reason: string;
}

interface Seen {
  entry: DictionaryEntry;
  summary: ColumnSummary;
}

const manyGaps = 0.5;
const someGaps = 0.05;
/** (mean − median) / SD from which on a number leans far to one side (common practice). */
const skewed = 0.25;
const rare = 20;

/**
 * Steps that these columns suggest, each with its reason. They are looked for in all patients as the
 * dictionary describes them, without the outcome; what they learn, they learn inside each fold.
 */
export function recommendSteps(
  columns: Seen[],
  rowCount: number,
  steps: ArrangedStep[],
  labelOf: (column: string) => string,
): Recommended[] {
  const found: Recommended[] = [];
  const gapShare = ({ summary }: Seen) => summary.missing / Math.max(1, rowCount);
  const names = (some: Seen[]) => some.map(({ entry }) => entry.name);
  const list = (some: Seen[]) =>
    some
      .slice(0, 3)
      .map(({ entry }) => labelOf(entry.name))
      .join(', ') + (some.length > 3 ? ` and ${some.length - 3} more` : '');
  const empty = columns.filter((one) => gapShare(one) >= manyGaps);
  if (empty.length > 0)
    found.push({
      step: ask({ step: 'leave out columns', columns: 'all', why: 'gaps', share: manyGaps }),
      reason: `${list(empty)}: not known in ${showPercent(gapShare(empty[0]))}${empty.length > 1 ? ' and more' : ''}. What is filled there is mostly made up.`,
    });
  const beyond = columns.filter(
    ({ entry: { plausible }, summary: { numbers } }) =>
      plausible &&
      numbers &&
      ((plausible.least !== null && numbers.least < plausible.least) ||
        (plausible.most !== null && numbers.greatest > plausible.most)),
  );
  if (beyond.length > 0)
    found.push({
      step: ask({ step: 'clip', columns: names(beyond), to: 'plausible' }),
      reason: `${list(beyond)}: values beyond the plausible range would pull the slope.`,
    });
  const leaning = columns.filter(({ summary: { numbers } }) => {
    if (!numbers || numbers.least <= 0 || !(numbers.sd > 0) || isGradeLike(numbers)) return false;
    return (numbers.mean - numbers.median) / numbers.sd > skewed;
  });
  if (leaning.length > 0)
    found.push({
      step: ask({ step: 'reshape', columns: names(leaning), how: 'log' }),
      reason: `${list(leaning)}: a few high values carry the mean ${leaning.length > 1 ? 'far ' : ''}above the median; on a logarithm they weigh less.`,
    });
  const numbersWithGaps = columns.filter(
    (one) => one.summary.numbers && gapShare(one) >= someGaps && gapShare(one) < manyGaps,
  );
  const numbers = columns.filter(({ summary }) => summary.numbers);
  if (numbersWithGaps.length >= 2 && numbers.length >= 4)
    found.push({
      step: ask({
        step: 'fill',
        columns: names(numbers),
        how: 'chained regressions',
      }),
      reason: `${list(numbersWithGaps)}: ${plural(numbersWithGaps.length, 'number')} with gaps in ${showPercent(someGaps)} or more; the patient’s other values say more than one median for all.`,
    });
  const withRare = columns.filter(
    ({ entry, summary: { counts } }) =>
      isCoded(entry.kind) &&
      entry.kind !== 'ordered category' &&
      counts &&
      counts.filter((count) => count > 0 && count < rare).length > 1,
  );
  if (withRare.length > 0)
    found.push({
      step: ask({ step: 'rare levels', columns: names(withRare), fewer: rare }),
      reason: `${list(withRare)}: several levels with fewer than ${rare} patients each.`,
    });
  // One of a kind is enough: what is done already is not suggested again.
  return found.filter(({ step }) => !steps.some((own) => isAlike(own, step)));
}

/** Widest range of whole numbers that are taken for codes or grades. */
const gradeRange = 12;

/** Codes and grades, such as sex 1 and 2 or a stage from 1 to 4: a logarithm of them means nothing. */
function isGradeLike({
  least,
  lowerQuartile,
  median,
  upperQuartile,
  greatest,
}: NonNullable<ColumnSummary['numbers']>): boolean {
  const isWhole = [least, lowerQuartile, median, upperQuartile, greatest].every(Number.isInteger);
  return isWhole && greatest - least <= gradeRange;
}

const ask = (step: Record<string, unknown>) => arrangedStepSchema.parse(step);

function isAlike(a: ArrangedStep, b: ArrangedStep): boolean {
  if (a.step !== b.step) return false;
  if (a.step === 'leave out columns' && b.step === 'leave out columns') return a.why === b.why;
  return true;
}
