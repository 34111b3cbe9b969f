import { developmentCohort } from '../../demo/index.ts';
import { balanceOf, defaultDesign, divide } from '../src/design/index.ts';
import { familyOf, settingsSchema } from '../src/families/index.ts';
import {
  areaUnderCurve,
  calibrationOf,
  chooseCutoff,
  cutoffInterval,
  errorTable,
  rankRisks,
  ratesOf,
  riskDensity,
  rocBand,
} from '../src/measures/index.ts';
import { randomStream } from '../src/numeric/index.ts';
import { readOutcome, type Outcome } from '../src/outcome/index.ts';
import {
  applyPreparation,
  arrangedStepSchema,
  choosePredictors,
  fitPreparation,
  withUsual,
  type Inputs,
  type PredictorColumn,
} from '../src/preparation/index.ts';
import {
  associationMap,
  describeColumn,
  measured,
  relateAll,
  type Measured,
} from '../src/survey/index.ts';
import { tableFromText, type Table } from '../src/table/index.ts';
import { familyCases } from './family-cases.ts';
import { reasonCases } from './reason-cases.ts';
import { treeCases } from './tree-cases.ts';

/** One thing measured: `prepare` is not timed, `run` is. */
export interface BenchCase {
  name: string;
  prepare: () => () => unknown;
}

export const cases: BenchCase[] = [
  {
    name: 'logistic regression, 100,000 patients x 30 inputs',
    prepare() {
      const { inputs, events } = syntheticInputs(100_000, 30);
      return () => fitFamily('logistic', inputs, { kind: 'event', values: events });
    },
  },
  {
    name: 'multinomial logistic regression of 5 levels, 50,000 patients x 20 inputs',
    prepare() {
      const { inputs, outcome } = fiveLevels();
      return () => fitFamily('multinomial', inputs, outcome);
    },
  },
  {
    name: 'proportional odds of 5 levels, 50,000 patients x 20 inputs',
    prepare() {
      const { inputs, outcome } = fiveLevels();
      return () => fitFamily('proportional-odds', inputs, outcome);
    },
  },
  {
    name: 'linear regression, 100,000 patients x 30 inputs',
    prepare() {
      const { inputs, linear } = syntheticInputs(100_000, 30);
      return () => fitFamily('linear', inputs, { kind: 'number', values: linear });
    },
  },
  {
    name: 'preparation fitted and applied, 20,000 patients x 24 predictors',
    prepare() {
      const { table, predictors, rows } = demoTable(20_000);
      const columns = choosePredictors(table, predictors);
      const outcome = readOutcome(table, {
        kind: 'event',
        column: 'injury_7_days',
        event: 'yes',
      });
      return () => {
        const { preparation } = fitPreparation(columns, rows, outcome);
        return applyPreparation(preparation, columns, rows);
      };
    },
  },
  {
    name: 'ten steps learned and done, 100,000 patients x 40 predictors',
    prepare() {
      const { columns, outcome, rows } = columnsWithGaps(100_000, 40);
      const steps = withUsual(tenSteps.map((step) => arrangedStepSchema.parse(step)));
      return () => fitPreparation(columns, rows, outcome, steps);
    },
  },
  {
    name: 'chained regressions of 5 rounds, 20,000 patients x 20 numbers',
    prepare() {
      const { columns, outcome, rows } = columnsWithGaps(20_000, 27);
      const numbers = columns.filter(({ type }) => type === 'number').slice(0, 20);
      const step = { step: 'fill', columns: 'all', how: 'chained regressions' };
      return () =>
        fitPreparation(numbers, rows, outcome, withUsual([arrangedStepSchema.parse(step)]));
    },
  },
  {
    name: 'standardised differences of both sides, 100,000 patients x 40 columns',
    prepare() {
      const { columns, rows } = columnsWithGaps(100_000, 40);
      const table: Table = {
        rowCount: rows.length,
        dictionary: columns.map(({ name, type }) => ({
          name,
          label: '',
          unit: '',
          kind: type === 'number' ? 'number' : 'category',
          role: 'predictor',
          missingCodes: [],
        })),
        columns,
      };
      const names = columns.map(({ name }) => name);
      const sides = Uint8Array.from(rows, (row) => Number(row % 4 === 0));
      return () => balanceOf(table, names, sides);
    },
  },
  {
    name: 'split and folds, 100,000 patients with identifier',
    prepare() {
      const { table, predictors } = demoTable(100_000);
      const design = { ...defaultDesign, outcome: 'injury_7_days', event: 'yes', predictors };
      return () => divide(table, design);
    },
  },
  ...familyCases,
  ...treeCases,
  ...reasonCases,
  {
    name: 'risks ranked, 100,000 patients',
    prepare() {
      const { risks, events } = syntheticRisks(100_000);
      return () => rankRisks(risks, events);
    },
  },
  {
    name: 'cutoff moved (error table and rates), 100,000 patients',
    prepare() {
      const { risks, events } = syntheticRisks(100_000);
      const ranked = rankRisks(risks, events);
      return () => ratesOf(errorTable(ranked, 0.2));
    },
  },
  {
    name: 'cheapest cutoff, 100,000 patients',
    prepare() {
      const { risks, events } = syntheticRisks(100_000);
      const ranked = rankRisks(risks, events);
      return () => chooseCutoff({ rule: 'cheapest' }, ranked, { missedCost: 8, falseAlarmCost: 1 });
    },
  },
  {
    name: 'AUC with DeLong interval, 100,000 patients',
    prepare() {
      const { risks, events } = syntheticRisks(100_000);
      return () => areaUnderCurve(risks, events);
    },
  },
  {
    name: 'calibration with its smooth curve, 100,000 held-out patients',
    prepare() {
      const { risks, events } = syntheticRisks(100_000);
      const ranked = rankRisks(risks, events);
      return () => calibrationOf(ranked);
    },
  },
  {
    name: 'band of the ROC curve, 100,000 held-out patients',
    prepare() {
      const { risks, events } = syntheticRisks(100_000);
      return () => rocBand(risks, events);
    },
  },
  {
    name: 'how steady the cutoff is, 100,000 patients',
    prepare() {
      const { risks, events } = syntheticRisks(100_000);
      const ranked = rankRisks(risks, events);
      return () =>
        cutoffInterval({ rule: 'cheapest' }, ranked, { missedCost: 8, falseAlarmCost: 1 });
    },
  },
  {
    name: 'risk densities, 100,000 patients',
    prepare() {
      const { risks, events } = syntheticRisks(100_000);
      return () => riskDensity(risks, events);
    },
  },
  {
    name: 'columns graded and described, 225,000 patients x 20',
    prepare() {
      const columns = labs(225_000, 20);
      return () =>
        columns.map(({ name, kind, column }) => describeColumn(measured(name, kind, column)));
    },
  },
  {
    name: 'relation to an event, 225,000 patients x 20 graded columns',
    prepare() {
      const columns = labs(225_000, 20);
      const events = Int8Array.from({ length: 225_000 }, (_, i) => Number(i % 9 === 0));
      return () => relateAll(columns, { shape: 'event', events });
    },
  },
  {
    name: 'map of associations by rank, 225,000 patients x 20 graded columns',
    prepare() {
      const columns = labs(225_000, 20);
      return () => associationMap(columns, true);
    },
  },
];

/** Numbers of one decimal with a gap in every 23rd patient, graded. */
function labs(patients: number, count: number): Measured[] {
  return Array.from({ length: count }, (_, j) => {
    const values = Float64Array.from({ length: patients }, (_value, i) =>
      (i + j) % 23 === 0 ? NaN : ((i * 7919 + j * 104_729) % 1000) / 10,
    );
    return measured(`lab ${j + 1}`, 'number', { type: 'number', values });
  });
}

function fiveLevels() {
  const { inputs, linear } = syntheticInputs(50_000, 20);
  const outcome = {
    kind: 'levels' as const,
    values: Int32Array.from(linear, (value) => Math.min(4, Math.max(0, Math.floor(value + 4)))),
    levels: ['a', 'b', 'c', 'd', 'e'],
    ordered: true,
  };
  return { inputs, outcome };
}

function fitFamily(id: string, inputs: Inputs, outcome: Outcome) {
  const family = familyOf(id);
  const settings = settingsSchema(family.description.settings).parse({});
  return family.fit(inputs, outcome, settings, { seed: 1 });
}

function syntheticInputs(patients: number, count: number) {
  const draw = randomStream(11, 'bench inputs');
  const columns = Array.from({ length: count }, () =>
    Float64Array.from({ length: patients }, () => draw.normal()),
  );
  const signal = (i: number) =>
    -2 + columns.slice(0, 8).reduce((sum, column) => sum + 0.3 * column[i], 0);
  const events = Int8Array.from({ length: patients }, (_, i) =>
    Number(draw.uniform() < 1 / (1 + Math.exp(-signal(i)))),
  );
  /** With as much chance in it as there is signal. */
  const linear = Float64Array.from(events, (_, i) => signal(i) + draw.normal());
  const names = columns.map((_, j) => `x${j + 1}`);
  return { inputs: { rowCount: patients, names, columns }, events, linear };
}

function syntheticRisks(patients: number) {
  const draw = randomStream(12, 'bench risks');
  const risks = Float64Array.from({ length: patients }, () => draw.uniform() ** 3);
  const events = Uint8Array.from(risks, (risk) => Number(draw.uniform() < risk));
  return { risks, events };
}

function demoTable(patients: number) {
  const { header, rows } = developmentCohort(patients);
  const table = tableFromText(header, rows);
  const last = new Set([
    'renal_ward_transfer',
    'injury_7_days',
    'injury_grade',
    'highest_creatinine',
  ]);
  const predictors = table.dictionary
    .filter((entry) => entry.role === 'predictor' && !last.has(entry.name))
    .map((entry) => entry.name);
  return { table, predictors, rows: Int32Array.from({ length: table.rowCount }, (_, row) => row) };
}

/** Skewed numbers, and every fourth column of four levels, with a gap in one of twenty. */
function columnsWithGaps(patients: number, count: number) {
  const draw = randomStream(1, 'columns with gaps');
  const isGap = () => draw.uniform() < 0.05;
  const columns = Array.from({ length: count }, (_, j): PredictorColumn =>
    j % 4 === 3
      ? {
          name: `c${j}`,
          type: 'coded',
          levels: ['a', 'b', 'c', 'd'],
          codes: Int32Array.from({ length: patients }, () =>
            isGap() ? -1 : Math.floor(4 * draw.uniform()),
          ),
        }
      : {
          name: `c${j}`,
          type: 'number',
          values: Float64Array.from({ length: patients }, () =>
            isGap() ? NaN : Math.exp(draw.normal()),
          ),
        },
  );
  const values = Int8Array.from({ length: patients }, () => Number(draw.uniform() < 0.2));
  const outcome: Outcome = { kind: 'event', values };
  return { columns, outcome, rows: Int32Array.from(values.keys()) };
}

const tenSteps = [
  { step: 'not known', column: 'c0', above: 50 },
  { step: 'rare levels', columns: 'all', fewer: 100 },
  { step: 'leave out columns', columns: 'all', why: 'gaps' },
  { step: 'leave out columns', columns: 'all', why: 'no variation' },
  { step: 'fill', columns: 'all', how: 'median' },
  { step: 'clip', columns: 'all', to: 'quantiles' },
  { step: 'reshape', columns: ['c0', 'c1', 'c2'], how: 'log' },
  { step: 'rescale', columns: 'all', how: 'mean and SD' },
  { step: 'splines', columns: ['c4', 'c5'], knots: 4 },
  { step: 'products', pairs: [['c0', 'c1']] },
];
