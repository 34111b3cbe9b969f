import { quantile } from '../numeric/index.ts';
import {
  conversionsTo,
  convert,
  isCoded,
  measureOf,
  plainUnit,
  type Column,
  type Conversion,
  type DictionaryEntry,
  type Table,
} from '../table/index.ts';
import { displacedColumn, factorBack, isNear } from './displaced.ts';
import { modelInputs } from './inputs.ts';
import type { Model, ModelPredictor } from '../model/index.ts';

/** A column of the list that may be a predictor the model misses, or a predictor in another unit. */
export interface Suggestion {
  predictor: string;
  column: string;
  /** What speaks for it, in a few words each. */
  reasons: string[];
  conversion?: Conversion;
}

/** How alike two names must be to be suggested on their own, and with values that fit. */
const alike = { alone: 0.75, withValues: 0.45 };

/**
 * Which columns of a list may be meant where the model misses one, told by name, label, unit and
 * values; and which predictors seem to be in another unit. Each column is suggested once.
 *
 * @param table the list as it stands, after what has been matched already
 */
export function suggestMatches(model: Model, table: Table): Suggestion[] {
  const inputs = modelInputs(model);
  const wanted = new Set(inputs.map(({ name }) => name));
  const free = table.dictionary.flatMap((entry, i) =>
    wanted.has(entry.name) || entry.role === 'identifier'
      ? []
      : [{ entry, column: table.columns[i] }],
  );
  const pairs = inputs
    .filter(({ name }) => !table.dictionary.some((entry) => entry.name === name))
    .flatMap((input) =>
      free.flatMap(({ entry, column }) => {
        const weighed = weigh(input, entry, column);
        return weighed ? [{ ...weighed, predictor: input.name, column: entry.name }] : [];
      }),
    )
    .sort((a, b) => b.weight - a.weight);
  const taken = new Set<string>();
  const found: Suggestion[] = [];
  for (const { weight: _, ...one } of pairs) {
    if (taken.has(`to ${one.predictor}`) || taken.has(`from ${one.column}`)) continue;
    taken.add(`to ${one.predictor}`).add(`from ${one.column}`);
    found.push(one);
  }
  return [...found, ...inputs.flatMap((input) => otherUnit(input, table))];
}

function weigh(input: ModelPredictor, entry: DictionaryEntry, column: Column) {
  const name = nameLikeness(input, entry);
  if (name < alike.withValues) return undefined;
  const values = valuesFit(input, column);
  if (!values.possible || (name < alike.alone && !values.fit)) return undefined;
  const sameUnit = input.unit !== '' && plainUnit(input.unit) === plainUnit(entry.unit);
  const reasons = [
    name === 1 ? 'the same label' : 'a name that is alike',
    ...(sameUnit ? ['the same unit'] : []),
    ...(values.conversion
      ? [`values that fit when read as ${values.conversion.from}`]
      : values.fit
        ? [isCoded(input.kind) ? 'the same levels' : 'values in the same range']
        : []),
  ];
  return {
    weight: name + (values.fit ? 0.3 : 0) + (sameUnit ? 0.1 : 0),
    reasons,
    ...(values.conversion && { conversion: values.conversion }),
  };
}

/** 0 to 1: equal names or labels, one that begins the other, the same measure, few letters apart. */
function nameLikeness(a: ModelPredictor, b: DictionaryEntry): number {
  const [mine, theirs] = [a, b].map(({ name, label }) =>
    [name, label].map(plain).filter((text) => text.length > 0),
  );
  let best = 0;
  for (const one of mine)
    for (const other of theirs) {
      if (one === other) return 1;
      const [short, long] = one.length < other.length ? [one, other] : [other, one];
      if (short.length >= 3 && long.startsWith(short)) best = Math.max(best, 0.8);
      else if (short.length >= 4 && long.includes(short)) best = Math.max(best, 0.7);
      best = Math.max(best, 1 - distance(one, other) / long.length);
    }
  const measure = measureOf(a);
  return measure !== undefined && measure === measureOf(b) ? Math.max(best, 0.9) : best;
}

function plain(text: string): string {
  return text
    .normalize('NFD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '');
}

/** Levenshtein (1966): the fewest letters put in, taken out or exchanged. */
function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next.push(Math.min(row[j] + 1, next[j - 1] + 1, row[j - 1] + Number(a[i - 1] !== b[j - 1])));
    row = next;
  }
  return row[b.length];
}

interface Fit {
  /** The column can be read as the predictor's kind at all. */
  possible: boolean;
  fit: boolean;
  conversion?: Conversion;
}

function valuesFit(input: ModelPredictor, column: Column): Fit {
  if (isCoded(input.kind)) {
    if (column.type !== 'coded') return { possible: true, fit: false };
    const known = new Set(input.levels?.map(plain));
    const same = column.levels.filter((level) => known.has(plain(level))).length;
    return { possible: true, fit: column.levels.length > 0 && 2 * same >= column.levels.length };
  }
  if (column.type !== 'number') return { possible: column.type === 'text', fit: false };
  const median = quantile(column.values, 0.5);
  if (isNear(input, median)) return { possible: true, fit: true };
  const [conversion] = conversionsTo(input)
    .filter((one) => isNear(input, convert(median, one)))
    .sort(byNearness(input, median)) as (Conversion | undefined)[];
  return { possible: true, fit: conversion !== undefined, ...(conversion && { conversion }) };
}

/** A predictor of the list that is displaced as a whole, but fits in another common unit or times a power of ten. */
function otherUnit(input: ModelPredictor, table: Table): Suggestion[] {
  const column = table.columns[table.dictionary.findIndex(({ name }) => name === input.name)] as
    | Column
    | undefined;
  if (column?.type !== 'number' || !displacedColumn(input, column.values, 1)) return [];
  const conversion = conversionBack(input, column.values);
  if (!conversion) return [];
  const reasons = [
    conversion.from.includes(' ')
      ? `values that fit when ${conversion.from}`
      : `values that fit when read as ${conversion.from}`,
  ];
  return [{ predictor: input.name, column: input.name, reasons, conversion }];
}

/** How much nearer (as a logarithm of the ratio) a power of ten has to come than a conversion of the measure: about 1.2. */
const clearlyNearer = 0.2;

/** The conversion of this measure that comes nearest, unless a power of ten comes clearly nearer. */
function conversionBack(input: ModelPredictor, values: Float64Array): Conversion | undefined {
  const median = quantile(values, 0.5);
  const off = (one: Conversion) => offBy(input, convert(median, one));
  const [common] = conversionsTo(input)
    .filter(
      (one) =>
        isNear(input, convert(median, one)) &&
        !displacedColumn(
          input,
          values.map((value) => convert(value, one)),
        ),
    )
    .sort(byNearness(input, median)) as (Conversion | undefined)[];
  const power = powerOfTen(factorBack(input, values));
  if (!common || !power) return common ?? power;
  return off(power) + clearlyNearer < off(common) ? power : common;
}

/** How far a median lies from that of the development patients, as the logarithm of their ratio. */
function offBy({ quartiles }: ModelPredictor, median: number): number {
  const ratio = median / (quartiles?.[1] ?? NaN);
  return ratio > 0 ? Math.abs(Math.log(ratio)) : Infinity;
}

/** The conversion comes first that brings this median nearest to that of the development patients. */
const byNearness = (input: ModelPredictor, median: number) => (a: Conversion, b: Conversion) =>
  Math.sign(offBy(input, convert(median, a)) - offBy(input, convert(median, b))) || 0;

function powerOfTen(factor: number | undefined): Conversion | undefined {
  if (factor === undefined) return undefined;
  const from = factor > 1 ? `multiplied by ${factor}` : `divided by ${Math.round(1 / factor)}`;
  return { from, factor, offset: 0 };
}
