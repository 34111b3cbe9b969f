import { quantile } from '../../numeric/index.ts';
import { areaUnderCurve } from '../../measures/index.ts';
import {
  conversionsTo,
  convert,
  type CodedColumn,
  type DictionaryEntry,
  type NumberColumn,
  type Table,
} from '../../table/index.ts';
import type { Finding } from './finding.ts';

/** Rows that decide it: more would only cost time. */
const rowsUsed = 20_000;
const fewestInGroup = 10;
const fewestOnSide = 20;
const mostGroups = 60;
/** Share of the pairs in which the same side has the greater value. */
const separated = 0.97;
/** Ratio of the medians from which only another unit explains it; below, a known conversion has to fit. */
const surelyOther = 5;
const perhapsOther = 1.9;
/**
 * How far, as a factor, the converted median may lie from the other: patients of hospitals differ. A power of ten has to
 * come nearer, as nothing else speaks for it.
 */
const fits = { known: 1.3, powerOfTen: 1.1 };

/**
 * Number columns that lie elsewhere as a whole in some groups, such as hospitals, as they do when these report another
 * unit. Groups are divided at the widest gap between their medians; the fewer patients are taken to have the other
 * unit. Values of zero and below, which a factor does not move, play no part.
 *
 * @returns `columns` number and group, `values` the groups, `figures` both medians and, where a conversion of this
 *   measure or a power of ten fits, its `factor` and `offset` (factor × value + offset)
 */
export function findMixedUnits(table: Table, usable: boolean[], outcome?: string): Finding[] {
  const step = Math.max(1, Math.ceil(table.rowCount / rowsUsed));
  return table.columns.flatMap((column, i) => {
    if (column.type !== 'number' || !usable[i] || table.dictionary[i].kind !== 'number') return [];
    const found = table.columns.flatMap((groups, g) => {
      const { kind, name } = table.dictionary[g];
      if (groups.type !== 'coded' || kind !== 'category' || name === outcome) return [];
      const mixed = compare(table.dictionary[i], column, groups, step);
      return mixed ? [{ ...mixed, by: name }] : [];
    });
    if (found.length === 0) return [];
    const clearest = found.reduce((best, one) => (one.area > best.area ? one : best));
    const { by, levels, figures } = clearest;
    return [
      {
        code: 'units differ by group',
        columns: [table.dictionary[i].name, by],
        values: levels,
        figures,
      },
    ];
  });
}

interface Mixed {
  levels: string[];
  figures: Record<string, number>;
  area: number;
}

function compare(
  entry: DictionaryEntry,
  column: NumberColumn,
  groups: CodedColumn,
  step: number,
): Mixed | undefined {
  const byGroup = valuesByGroup(column, groups, step);
  if (!byGroup) return undefined;
  const sides = divide(byGroup);
  if (!sides) return undefined;
  const [odd, rest] = sides;
  const values = odd.flatMap((group) => group.values);
  const others = rest.flatMap((group) => group.values);
  if (Math.min(values.length, others.length) < fewestOnSide) return undefined;
  const [median, otherMedian] = [quantile(values, 0.5), quantile(others, 0.5)];
  const ratio = Math.max(median / otherMedian, otherMedian / median);
  if (ratio < perhapsOther) return undefined;
  const conversion = conversionThatFits(entry, median, otherMedian);
  if (!conversion && ratio < surelyOther) return undefined;
  const area =
    areaUnderCurve([...values, ...others], [...values.map(() => 1), ...others.map(() => 0)])
      ?.value ?? 0.5;
  const apart = Math.max(area, 1 - area);
  if (apart < separated) return undefined;
  const patients = odd.reduce((sum, group) => sum + group.patients, 0);
  return {
    levels: odd.map(({ level }) => level),
    figures: { median, otherMedian, ratio, patients, ...conversion },
    area: apart,
  };
}

interface Group {
  level: string;
  patients: number;
  values: number[];
  median: number;
}

function valuesByGroup(
  column: NumberColumn,
  { codes, levels }: CodedColumn,
  step: number,
): Group[] | undefined {
  if (levels.length < 2 || levels.length > mostGroups) return undefined;
  const values = levels.map((): number[] => []);
  const patients = levels.map(() => 0);
  for (let row = 0; row < codes.length; row++) {
    if (codes[row] < 0) continue;
    patients[codes[row]]++;
    if (row % step === 0 && column.values[row] > 0) values[codes[row]].push(column.values[row]);
  }
  return levels.flatMap((level, code) =>
    values[code].length < fewestInGroup
      ? []
      : [
          {
            level,
            patients: patients[code],
            values: values[code],
            median: quantile(values[code], 0.5),
          },
        ],
  );
}

/** The groups on either side of the widest gap between medians (as a ratio), those with fewer patients first. */
function divide(groups: Group[]): [Group[], Group[]] | undefined {
  const sorted = [...groups].sort((a, b) => a.median - b.median);
  if (sorted.length < 2) return undefined;
  let place = 1;
  for (let i = 2; i < sorted.length; i++)
    if (gapBefore(sorted, i) > gapBefore(sorted, place)) place = i;
  const [low, high] = [sorted.slice(0, place), sorted.slice(place)];
  const size = (side: Group[]) => side.reduce((sum, group) => sum + group.patients, 0);
  return size(low) <= size(high) ? [low, high] : [high, low];
}

const gapBefore = (sorted: Group[], i: number): number => sorted[i].median / sorted[i - 1].median;

const powersOfTen = [10, 100, 1000, 0.1, 0.01, 0.001].map((factor) => ({ factor, offset: 0 }));

/** The conversion of this measure, else the power of ten, that brings one median nearest to the other. */
function conversionThatFits(
  entry: DictionaryEntry,
  median: number,
  wanted: number,
): { factor: number; offset: number } | undefined {
  for (const [offered, near] of [
    [conversionsTo(entry), fits.known],
    [powersOfTen, fits.powerOfTen],
  ] as const) {
    const off = offered.map((one) =>
      Math.abs(Math.log(convert(median, { from: '', ...one }) / wanted)),
    );
    const best = off.indexOf(Math.min(...off.filter((value) => !Number.isNaN(value))));
    if (best >= 0 && off[best] <= Math.log(near)) {
      const { factor, offset } = offered[best];
      return { factor: Number(factor.toPrecision(6)), offset: Number(offset.toPrecision(6)) };
    }
  }
  return undefined;
}
