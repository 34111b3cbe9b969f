import { sharedCounts, type Grades } from '../../numeric/index.ts';
import {
  correlateScaled,
  scaleOfRanks,
  scaleOfValues,
  type Correlated,
  type Scale,
} from './correlation.ts';
import { chiSquareTest, crossTable } from './cross-table.ts';
import { momentsOfOffsets, varianceBetween } from './groups.ts';
import { gradesOfColumn, type Measured } from './measured.ts';

export type Measure =
  | 'Pearson'
  | 'Spearman'
  | 'point-biserial'
  | 'phi'
  | 'Cramér’s V'
  | 'correlation ratio';

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
  grades?: Grades;
  /** The scales of all rows that are known: those of a pair where the other has no gaps. */
  values?: Scale;
  ranks?: Scale;
  codes?: Int32Array;
  levels: number;
  shape: 'number' | 'ordered' | 'two' | 'category' | 'none';
}

export function makeReady(measured: Measured): Ready {
  const { kind, column } = measured;
  if (column.type === 'text') return { levels: 0, shape: 'none' };
  const grades = gradesOfColumn(measured);
  const scales = {
    grades,
    values: scaleOfValues(grades.values, grades.counts),
    ranks: scaleOfRanks(grades.counts),
  };
  if (column.type === 'number') return { levels: 0, shape: 'number', ...scales };
  const { codes, levels } = column;
  const shape = levels.length === 2 ? 'two' : kind === 'ordered category' ? 'ordered' : 'category';
  return { codes, levels: levels.length, shape, ...scales };
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
  if (asRanks) return { measure: 'Spearman', ...correlateReady(a, b, 'ranks') };
  const measure = numbers === 2 ? 'Pearson' : numbers === 1 ? 'point-biserial' : 'phi';
  return { measure, ...correlateReady(a, b, 'values') };
}

function correlateReady(a: Ready, b: Ready, by: 'values' | 'ranks'): Correlated {
  const scale = (mine: Ready, other: Ready): Scale => {
    const grades = mine.grades!;
    if (other.grades!.unknown.length === 0) return mine[by]!;
    const counts = sharedCounts(grades, other.grades!);
    return by === 'ranks' ? scaleOfRanks(counts) : scaleOfValues(grades.values, counts);
  };
  return correlateScaled(a.grades!.codes, scale(a, b), b.grades!.codes, scale(b, a));
}

function withCategory(a: Ready, b: Ready): Association {
  if (a.codes && b.codes) {
    const { counts, patients } = crossTable(a.codes, a.levels, b.codes, b.levels);
    return { measure: 'Cramér’s V', value: chiSquareTest(counts)?.cramersV ?? NaN, patients };
  }
  const [number, category] = a.codes ? [b, a] : [a, b];
  const { codes } = number.grades!;
  const { offsets } = number.values!;
  const moments = momentsOfOffsets(codes, offsets, category.codes!, category.levels);
  return {
    measure: 'correlation ratio',
    value: Math.sqrt(varianceBetween(moments)?.share ?? NaN),
    patients: moments.sizes.reduce((sum, size) => sum + size, 0),
  };
}
