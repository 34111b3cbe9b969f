import { measureOf, plainUnit } from './common-measures.ts';

/** How a value in one unit becomes one in another: factor × value + offset. */
export interface Conversion {
  /** The unit it comes in; empty when the analyst named none. */
  from: string;
  factor: number;
  offset: number;
}

/** By measure: each unit with what makes it the first unit of its list, factor × value + offset. */
type UnitTable = Record<string, [unit: string, factor: number, offset?: number][]>;

/**
 * Common labs and vitals in the units that extracts have them in. Factors between mass and amount
 * are 10 / molar mass (g/mol), with the molar mass from memory, rounded to what a lab reports:
 * creatinine 113.12, urea 60.06, urea nitrogen 28.01, glucose 180.16, calcium 40.08, bilirubin
 * 584.66, lactate 89.07 (as lactate), cholesterol 386.65, triglycerides 885 (mean), uric acid
 * 168.11, phosphorus 30.97, magnesium 24.31, copper 63.55, iron 55.85. HbA1c: IFCC and NGSP units
 * by the master equation (Hoelzel et al. 2004, Clin Chem 50:166-174), mmol/mol = 10.93 % - 23.5.
 */
const units: UnitTable = {
  creatinine: [
    ['µmol/L', 1],
    ['mg/dL', 88.4],
    ['mmol/L', 1000],
  ],
  urea: [
    ['mmol/L', 1],
    ['mg/dL', 0.1665],
    ['mg/dL (as nitrogen)', 0.357],
  ],
  haemoglobin: [
    ['g/L', 1],
    ['g/dL', 10],
    ['mmol/L', 16.11],
  ],
  'glycated haemoglobin': [
    ['mmol/mol', 1],
    ['%', 10.93, -23.5],
  ],
  albumin: [
    ['g/L', 1],
    ['g/dL', 10],
    ['mg/dL', 0.01],
  ],
  'C-reactive protein': [
    ['mg/L', 1],
    ['mg/dL', 10],
  ],
  calcium: [
    ['mmol/L', 1],
    ['mg/dL', 0.2495],
  ],
  glucose: [
    ['mmol/L', 1],
    ['mg/dL', 0.0555],
  ],
  bilirubin: [
    ['µmol/L', 1],
    ['mg/dL', 17.1],
  ],
  lactate: [
    ['mmol/L', 1],
    ['mg/dL', 0.1123],
  ],
  cholesterol: [
    ['mmol/L', 1],
    ['mg/dL', 0.02586],
  ],
  triglycerides: [
    ['mmol/L', 1],
    ['mg/dL', 0.0113],
  ],
  'uric acid': [
    ['µmol/L', 1],
    ['mg/dL', 59.48],
    ['mmol/L', 1000],
  ],
  phosphate: [
    ['mmol/L', 1],
    ['mg/dL', 0.3229],
  ],
  magnesium: [
    ['mmol/L', 1],
    ['mg/dL', 0.4114],
  ],
  copper: [
    ['µmol/L', 1],
    ['µg/dL', 0.1574],
  ],
  iron: [
    ['µmol/L', 1],
    ['µg/dL', 0.1791],
  ],
  'white cells': [
    ['10^9/L', 1],
    ['/µL', 0.001],
    ['10^3/µL', 1],
  ],
  platelets: [
    ['10^9/L', 1],
    ['/µL', 0.001],
    ['10^3/µL', 1],
  ],
  weight: [
    ['kg', 1],
    ['lb', 0.45359237],
    ['g', 0.001],
  ],
  height: [
    ['cm', 1],
    ['m', 100],
    ['in', 2.54],
  ],
  temperature: [
    ['°C', 1],
    ['°F', 5 / 9, -160 / 9],
  ],
  age: [
    ['years', 1],
    ['months', 1 / 12],
    ['days', 1 / 365.25],
  ],
};

/**
 * The conversions to a column's own unit from the other units that its measure is known in; none
 * where the measure or its unit is not among the common ones.
 *
 * @example conversionsTo({ name: 'creatinine', label: '', unit: 'µmol/L' })[0]
 * // { from: 'mg/dL', factor: 88.4, offset: 0 }
 */
export function conversionsTo(entry: { name: string; label: string; unit: string }): Conversion[] {
  const known = units[measureOf(entry) ?? ''] as UnitTable[string] | undefined;
  if (!known) return [];
  // Without a unit in the dictionary the values tell: each pair is offered.
  const targets = known.filter(
    ([unit]) => entry.unit === '' || plainUnit(unit) === plainUnit(entry.unit),
  );
  const seen = new Set<string>();
  return targets.flatMap(([to, toFactor, toOffset = 0]) =>
    known.flatMap(([from, factor, offset = 0]): Conversion[] => {
      if (from === to) return [];
      const conversion = {
        from,
        factor: factor / toFactor,
        offset: (offset - toOffset) / toFactor,
      };
      const key = `${conversion.factor} ${conversion.offset}`;
      if (seen.has(key) || (conversion.factor === 1 && conversion.offset === 0)) return [];
      seen.add(key);
      return [conversion];
    }),
  );
}

/** The value in the other unit. */
export function convert(value: number, { factor, offset }: Conversion): number {
  return factor * value + offset;
}
