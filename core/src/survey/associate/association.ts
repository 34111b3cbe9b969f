import { dot, type Grades } from '../../numeric/index.ts';
import {
  correlate,
  rankCorrelateGrades,
  ranksOfGrades,
  spreadGrades,
  type Correlated,
} from './correlation.ts';
import { chiSquareTest, crossTable } from './cross-table.ts';
import { momentsOfStandard, varianceBetween } from './groups.ts';
import { standardised } from './inputs.ts';
import { gradesOfColumn, type Measured } from './measured.ts';

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
  grades?: Grades;
  /** In SDs; a pair of columns without gaps is then one sum of products. */
  standard?: Float64Array;
  /** Mid-ranks in SDs, of a column without gaps. */
  standardRanks?: Float64Array;
  gaps: boolean;
  codes?: Int32Array;
  levels: number;
  shape: 'number' | 'ordered' | 'two' | 'category' | 'none';
}

/** @param ranked whether numbers will be set against each other by rank */
export function makeReady(measured: Measured, ranked: boolean): Ready {
  const { kind, column } = measured;
  if (column.type === 'text') return { levels: 0, shape: 'none', gaps: true };
  const grades = gradesOfColumn(measured);
  if (column.type === 'number')
    return { levels: 0, shape: 'number', ...scaled(column.values, grades, ranked) };
  const { codes, levels } = column;
  const shape = levels.length === 2 ? 'two' : kind === 'ordered category' ? 'ordered' : 'category';
  const common = { codes, levels: levels.length, shape } as const;
  if (shape === 'category') return { ...common, gaps: grades.unknown.length > 0 };
  const scale = spreadGrades(codes, grades.values);
  return { ...common, ...scaled(scale, grades, shape === 'ordered' || ranked) };
}

function scaled(scale: Float64Array, grades: Grades, ranked: boolean) {
  const gaps = grades.unknown.length > 0;
  const ranks = () => spreadGrades(grades.codes, ranksOfGrades(grades.counts));
  return {
    scale,
    grades,
    gaps,
    standard: standardised(scale),
    standardRanks: gaps || !ranked ? undefined : standardised(ranks()),
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
  if (a.standard && b.standard && !a.gaps && !b.gaps)
    return { measure, ...sumOfProducts(a.standard, b.standard) };
  return { measure, ...correlate(a.scale!, b.scale!) };
}

/** Pearson's correlation of two columns in SDs (divisor n), without gaps. */
function sumOfProducts(a: Float64Array, b: Float64Array): Correlated {
  const patients = a.length;
  // A column that does not vary is NaN in SDs.
  const value = patients < 3 ? NaN : dot(a, b) / patients;
  return { value: Math.min(1, Math.max(-1, value)), patients };
}

function ofRanks(a: Ready, b: Ready): Correlated {
  if (a.standardRanks && b.standardRanks) return sumOfProducts(a.standardRanks, b.standardRanks);
  return rankCorrelateGrades(a.grades!, b.grades!);
}

function withCategory(a: Ready, b: Ready): Association {
  if (a.codes && b.codes) {
    const { counts, patients } = crossTable(a.codes, a.levels, b.codes, b.levels);
    return { measure: 'Cramér’s V', value: chiSquareTest(counts)?.cramersV ?? NaN, patients };
  }
  const [number, category] = a.codes ? [b, a] : [a, b];
  const moments = momentsOfStandard(number.standard!, category.codes!, category.levels);
  return {
    measure: 'correlation ratio',
    value: Math.sqrt(varianceBetween(moments)?.share ?? NaN),
    patients: moments.sizes.reduce((sum, size) => sum + size, 0),
  };
}
