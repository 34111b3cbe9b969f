import type { DictionaryEntry } from './dictionary.ts';

/** A lab value or vital sign with the ends of what a living patient can have. */
export interface CommonMeasure {
  name: string;
  /** Found in the name or label of a column. */
  words: RegExp;
  /** By unit, in the spelling that is compared (lower case, µ as u, without spaces). */
  ranges: Record<string, [least: number, most: number]>;
}

/**
 * Wide physiological limits of common labs and vitals in their usual units: beyond them a value is
 * more likely a slip of the pen or another unit than a patient. Common practice; no one source.
 */
export const commonMeasures: CommonMeasure[] = [
  { name: 'age', words: /\bage\b/, ranges: { years: [0, 120], y: [0, 120] } },
  { name: 'weight', words: /\bweight\b/, ranges: { kg: [0.3, 400] } },
  { name: 'height', words: /\bheight\b/, ranges: { cm: [20, 250], m: [0.2, 2.5] } },
  { name: 'body mass index', words: /\bbmi\b|body mass/, ranges: { 'kg/m2': [8, 100] } },
  { name: 'creatinine', words: /creatinine/, ranges: { 'umol/l': [10, 3000], 'mg/dl': [0.1, 34] } },
  { name: 'urea', words: /\burea\b|\bbun\b/, ranges: { 'mmol/l': [0.3, 100], 'mg/dl': [1, 600] } },
  { name: 'eGFR', words: /\begfr\b|filtration/, ranges: { 'ml/min/1.73m2': [1, 250] } },
  {
    name: 'haemoglobin',
    words: /\bha?emoglobin\b|\bhb\b/,
    ranges: { 'g/l': [20, 260], 'g/dl': [2, 26] },
  },
  {
    name: 'glycated haemoglobin',
    words: /glycated|hba1c/,
    ranges: { 'mmol/mol': [9, 220], '%': [3, 22] },
  },
  { name: 'albumin', words: /albumin/, ranges: { 'g/l': [5, 70], 'g/dl': [0.5, 7] } },
  {
    name: 'C-reactive protein',
    words: /c.?reactive|\bcrp\b/,
    ranges: { 'mg/l': [0, 1000], 'mg/dl': [0, 100] },
  },
  { name: 'potassium', words: /potassium/, ranges: { 'mmol/l': [1, 12] } },
  { name: 'sodium', words: /sodium/, ranges: { 'mmol/l': [90, 210] } },
  { name: 'calcium', words: /calcium/, ranges: { 'mmol/l': [0.5, 6], 'mg/dl': [2, 24] } },
  { name: 'glucose', words: /glucose/, ranges: { 'mmol/l': [0.5, 100], 'mg/dl': [9, 1800] } },
  { name: 'bilirubin', words: /bilirubin/, ranges: { 'umol/l': [0, 1200], 'mg/dl': [0, 70] } },
  { name: 'lactate', words: /lactate/, ranges: { 'mmol/l': [0.1, 40] } },
  {
    name: 'white cells',
    words: /white (blood )?cells?|leucocytes|leukocytes|\bwbc\b/,
    ranges: { '10^9/l': [0, 800], '109/l': [0, 800] },
  },
  { name: 'platelets', words: /platelets/, ranges: { '10^9/l': [0, 3000], '109/l': [0, 3000] } },
  { name: 'INR', words: /\binr\b/, ranges: { '': [0.5, 20] } },
  {
    name: 'blood pH',
    words: /\b(blood|arterial|venous|capillary)\b.*\bph\b|\bph\b.*\b(blood|arterial|venous)\b/,
    ranges: { '': [6.5, 8] },
  },
  { name: 'systolic pressure', words: /systolic/, ranges: { mmhg: [40, 300] } },
  { name: 'diastolic pressure', words: /diastolic/, ranges: { mmhg: [15, 200] } },
  {
    name: 'heart rate',
    words: /heart rate|\bpulse\b/,
    ranges: { '/min': [15, 300], bpm: [15, 300], 'beats/min': [15, 300] },
  },
  {
    name: 'respiratory rate',
    words: /respiratory rate/,
    ranges: { '/min': [2, 90], 'breaths/min': [2, 90] },
  },
  { name: 'oxygen saturation', words: /saturation|\bspo2\b/, ranges: { '%': [30, 100] } },
  { name: 'temperature', words: /temperature/, ranges: { '°c': [20, 45], c: [20, 45] } },
];

const otherSpecimen = /\b(urine|urinary|csf|cerebrospinal|ascites|pleural|stool|sweat|saliva)\b/;

/** Measures that are told by their words, without limits of their own. */
const furtherMeasures: Pick<CommonMeasure, 'name' | 'words'>[] = [
  { name: 'cholesterol', words: /cholesterol|\bchol\b/ },
  { name: 'triglycerides', words: /triglycerides|\btrig\b/ },
  { name: 'uric acid', words: /uric acid|\burate\b/ },
  { name: 'phosphate', words: /\bphosphate\b|phosphorus/ },
  { name: 'magnesium', words: /magnesium/ },
  { name: 'copper', words: /\bcopper\b/ },
  { name: 'iron', words: /\biron\b/ },
];

/** The measure that a column's name or label speaks of, whatever its unit; undefined for others. */
export function measureOf({ name, label }: { name: string; label: string }): string | undefined {
  const text = `${name} ${label}`.replaceAll('_', ' ').toLowerCase();
  return mostParticular(
    [...commonMeasures, ...furtherMeasures].filter(({ words }) => words.test(text)),
  )?.name;
}

/** The built-in limits for a column, told by its words and its unit; undefined when neither is known. */
export function commonRange(
  entry: Pick<DictionaryEntry, 'name' | 'label' | 'unit' | 'kind'>,
): { measure: string; range: [number, number] } | undefined {
  if (entry.kind !== 'number') return undefined;
  const text = `${entry.name} ${entry.label}`.replaceAll('_', ' ').toLowerCase();
  // The limits are those of blood.
  if (otherSpecimen.test(text)) return undefined;
  const unit = plainUnit(entry.unit);
  const found = mostParticular(
    commonMeasures.filter(({ words, ranges }) => words.test(text) && Object.hasOwn(ranges, unit)),
  );
  return found && { measure: found.name, range: found.ranges[unit] };
}

/** The most particular words win: glycated haemoglobin is no haemoglobin. */
function mostParticular<T extends { name: string }>(found: T[]): T | undefined {
  return found.sort((a, b) => b.name.length - a.name.length)[0];
}

/** A unit in the spelling that is compared. */
export function plainUnit(unit: string): string {
  return unit
    .toLowerCase()
    .replace(/[µμ]/g, 'u')
    .replaceAll('²', '2')
    .replaceAll('⁹', '^9')
    .replace(/[×x]\s*(?=10)/, '')
    .replaceAll('^2', '2')
    .replace(/\s+/g, '');
}
