import type { Column, Kind } from '../../table/index.ts';
import { ascendingOrder, correlate, ranksInOrder } from './correlation.ts';
import { chiSquareTest, crossTable } from './cross-table.ts';
import { byLevel, varianceBetween } from './groups.ts';
import { standardised } from './inputs.ts';

/** A column of the patients at hand, as the associations need it. */
export interface Measured {
  name: string;
  kind: Kind;
  column: Column;
}

export type Measure =
  'Pearson' | 'Spearman' | 'point-biserial' | 'phi' | 'Cramér’s V' | 'correlation ratio';

/** How strongly two columns go together. */
export interface Association {
  measure: Measure;
  /** -1 to 1 where direction has a meaning, else 0 to 1; NaN where it cannot be said. */
  value: number;
  /** Rows where both are known. */
  patients: number;
}

/** A column made ready for many associations. */
export interface Ready {
  /** Numbers, dates, ordered codes, and 0/1 of two levels; NaN where not known. */
  scale?: Float64Array;
  order?: Int32Array;
  /** Of a column without gaps: its scale and its mid-ranks in SDs, so that a pair is one sum of products. */
  standard?: Float64Array;
  standardRanks?: Float64Array;
  codes?: Int32Array;
  levels: number;
  shape: 'number' | 'ordered' | 'two' | 'category' | 'none';
  gaps: boolean;
}

/** What can be got ready once for each column: its scale and the order of its rows. */
export function makeReady({ kind, column }: Measured, ranked: boolean): Ready {
  if (column.type === 'text') return { levels: 0, shape: 'none', gaps: true };
  if (column.type === 'number') {
    const scale = column.values;
    const gaps = scale.some(Number.isNaN);
    return { levels: 0, shape: 'number', gaps, ...scaled(scale, gaps, ranked) };
  }
  const { codes, levels } = column;
  const shape = levels.length === 2 ? 'two' : kind === 'ordered category' ? 'ordered' : 'category';
  const gaps = codes.some((code) => code < 0);
  if (shape === 'category') return { codes, levels: levels.length, shape, gaps };
  const scale = Float64Array.from(codes, (code) => (code < 0 ? NaN : code));
  return {
    codes,
    levels: levels.length,
    shape,
    gaps,
    ...scaled(scale, gaps, shape === 'ordered' || ranked),
  };
}

function scaled(scale: Float64Array, gaps: boolean, ranked: boolean) {
  const order = ranked ? ascendingOrder(scale) : undefined;
  return {
    scale,
    order,
    standard: gaps ? undefined : standardised(scale),
    standardRanks: gaps || !order ? undefined : standardised(ranksInOrder(scale, order)),
  };
}

/**
 * The association that fits the two kinds: Pearson or Spearman between numbers, point-biserial
 * (which is Pearson's with 0 and 1) for a number and two levels, Spearman as soon as one is
 * ordered, phi for two levels each, Cramér's V between categories, the correlation ratio for a
 * number and a category. Undefined for text.
 */
export function associate(a: Ready, b: Ready, ranked: boolean): Association | undefined {
  if (a.shape === 'none' || b.shape === 'none') return undefined;
  if (a.shape === 'category' || b.shape === 'category') return withCategory(a, b);
  const numbers = Number(a.shape === 'number') + Number(b.shape === 'number');
  const asRanks = a.shape === 'ordered' || b.shape === 'ordered' || (ranked && numbers === 2);
  if (asRanks) return { measure: 'Spearman', ...ofRanks(a, b) };
  const measure = numbers === 2 ? 'Pearson' : numbers === 1 ? 'point-biserial' : 'phi';
  if (a.standard && b.standard) return { measure, ...sumOfProducts(a.standard, b.standard) };
  return { measure, ...correlate(a.scale!, b.scale!) };
}

/** Pearson's correlation of two columns in SDs (divisor n), without gaps. */
function sumOfProducts(a: Float64Array, b: Float64Array): { value: number; patients: number } {
  if (a.length < 3) return { value: NaN, patients: a.length };
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return { value: Math.min(1, Math.max(-1, sum / a.length)), patients: a.length };
}

function ofRanks(a: Ready, b: Ready): { value: number; patients: number } {
  if (a.standardRanks && b.standardRanks) return sumOfProducts(a.standardRanks, b.standardRanks);
  const ranks = (mine: Ready, other: Ready) =>
    ranksInOrder(
      mine.scale!,
      mine.order ?? ascendingOrder(mine.scale!),
      other.gaps ? other.scale : undefined,
    );
  return correlate(ranks(a, b), ranks(b, a));
}

function withCategory(a: Ready, b: Ready): Association {
  if (a.codes && b.codes) {
    const { counts, patients } = crossTable(a.codes, a.levels, b.codes, b.levels);
    return { measure: 'Cramér’s V', value: chiSquareTest(counts)?.cramersV ?? NaN, patients };
  }
  const [number, category] = a.codes ? [b, a] : [a, b];
  const groups = byLevel(number.scale!, category.codes!, category.levels);
  return {
    measure: 'correlation ratio',
    value: Math.sqrt(varianceBetween(groups)?.share ?? NaN),
    patients: groups.reduce((sum, group) => sum + group.length, 0),
  };
}
