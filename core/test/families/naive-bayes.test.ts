import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import {
  addLogs,
  learnCounts,
  learnKernel,
  learnNormal,
  type Spread,
} from '../../src/families/shared/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, type Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { iris } from '../reference/sets.ts';

const family = familyOf('naive-bayes');
const fit = (inputs: Inputs, outcome: Outcome, said: Settings = {}, weights?: Float64Array) =>
  family.fit(inputs, outcome, settingsSchema(family.description.settings).parse(said), {
    seed: 1,
    weights,
  });

/** Logarithms of density times prior, of each level. */
function jointOf(spreads: (Spread | undefined)[], columns: Float64Array[], priors: number[]) {
  const width = priors.length;
  const logs = new Float64Array(columns[0].length * width);
  logs.forEach((_, at) => (logs[at] = Math.log(priors[at % width])));
  spreads.forEach((spread, j) => {
    for (let level = 0; level < width; level++) addLogs(spread!, level, columns[j], logs, width);
  });
  return (row: number) => [...logs.subarray(row * width, (row + 1) * width)];
}

const close = (actual: number, expected: number, tolerance: number) =>
  expect(Math.abs(actual - expected)).toBeLessThanOrEqual(tolerance * Math.abs(expected));

describe('naive Bayes against reference values', () => {
  const third = [1 / 3, 1 / 3, 1 / 3];

  it('naive_bayes_iris: normal curves, joint logarithms and shares', () => {
    const { inputs, outcome, codes } = iris();
    interface Variant {
      rows: number[];
      joint_log_density_plus_log_prior: number[][];
      posterior: number[][];
      class_means: number[][];
    }
    const { results } = loadValues<{ results: { sample_variance: Variant } }>('naive_bayes_iris');
    const {
      rows,
      joint_log_density_plus_log_prior: joint,
      posterior,
      class_means,
    } = results.sample_variance;
    const spreads = inputs.columns.map((column) => learnNormal(column, { codes, levels: 3 }));
    spreads.forEach((spread, j) =>
      spread!.means.forEach((mean, level) => expect(mean).toBeCloseTo(class_means[level][j], 12)),
    );
    const at = jointOf(spreads, inputs.columns, third);
    const { shares } = predictionsOf(fit(inputs, outcome).fitted.predict(inputs), 'levels');
    rows.forEach((row, i) => {
      at(row - 1).forEach((log, level) => close(log, joint[i][level], 1e-10));
      posterior[i].forEach((share, level) =>
        expect(shares[3 * (row - 1) + level]).toBeCloseTo(share, 10),
      );
    });
  });

  it('naive_bayes_kernel_iris: widths, joint logarithms however far away, shares', () => {
    const { inputs, outcome, codes, names } = iris();
    const { results } = loadValues<{
      results: {
        bandwidths: { bandwidths: Record<string, number> }[];
        rows: number[];
        joint_log: number[][];
        probabilities: number[][];
      };
    }>('naive_bayes_kernel_iris');
    const spreads = inputs.columns.map((column) => learnKernel(column, { codes, levels: 3 }));
    spreads.forEach((spread, j) =>
      spread!.widths.forEach((width, level) =>
        close(width, results.bandwidths[level].bandwidths[names[j]], 1e-10),
      ),
    );
    const at = jointOf(spreads, inputs.columns, third);
    const fitted = fit(inputs, outcome, { numbers: 'kernel' });
    const { shares } = predictionsOf(fitted.fitted.predict(inputs), 'levels');
    results.rows.forEach((row, i) => {
      at(row - 1).forEach((log, level) => close(log, results.joint_log[i][level], 1e-10));
      results.probabilities[i].forEach((share, level) =>
        expect(shares[3 * (row - 1) + level]).toBeCloseTo(share, 10),
      );
    });
  });

  // Hosmer & Lemeshow (1989), Applied Logistic Regression.
  it('naive_bayes_counts_birthwt: shares of levels with patients added, joint logarithms, risks', () => {
    const table = loadTable('birthwt');
    const names = ['race', 'smoke', 'ht', 'ui', 'ptl'];
    const low = numbers(table, 'low');
    const raw = names.map((name) => numbers(table, name));
    const levels = raw.map((column) => [...new Set(column)].sort((a, b) => a - b));
    const columns = raw.map((column, j) => column.map((value) => levels[j].indexOf(value)));
    const { results } = loadValues<{
      results: {
        alpha: number;
        tables: Record<string, { probabilities: number[][] }>;
        rows: number[];
        joint_log: number[][];
        probabilities: number[][];
      }[];
    }>('naive_bayes_counts_birthwt');
    const outcome: Outcome = { kind: 'event', values: Int8Array.from(low) };
    const inputs: Inputs = {
      rowCount: 189,
      names,
      columns,
      levels: levels.map((own) => own.map(String)),
    };
    const share = low.reduce((sum, one) => sum + one, 0) / 189;
    for (const { alpha, tables, rows, joint_log, probabilities } of results) {
      const learners = { codes: low, levels: 2 };
      const spreads = columns.map((column, j) =>
        learnCounts(column, inputs.levels![j]!, learners, alpha),
      );
      spreads.forEach((spread, j) =>
        spread!.shares.forEach((own, level) =>
          own.forEach((one, k) =>
            expect(one).toBeCloseTo(tables[names[j]].probabilities[level][k], 12),
          ),
        ),
      );
      const at = jointOf(spreads, columns, [1 - share, share]);
      rows.forEach((row, i) =>
        at(row - 1).forEach((log, level) => close(log, joint_log[i][level], 1e-10)),
      );
      if (alpha === 0) continue;
      const { risks } = predictionsOf(
        fit(inputs, outcome, { added: alpha }).fitted.predict(inputs),
        'event',
      );
      rows.forEach((row, i) => expect(risks[row - 1]).toBeCloseTo(probabilities[i][1], 10));
    }
  });
});

describe('the family of naive Bayes', () => {
  const draw = randomStream(2, 'naive Bayes');
  const event = Int8Array.from({ length: 600 }, () => Number(draw.uniform() < 0.2));
  const telling = Float64Array.from(event, (one) => 3 * one + draw.normal());
  const useless = Float64Array.from(event, () => draw.normal());
  const level = Float64Array.from(event, (one) => (draw.uniform() < 0.3 + 0.4 * one ? 1 : 0));
  const inputs: Inputs = {
    rowCount: 600,
    names: ['useless', 'telling', 'level'],
    columns: [useless, telling, level],
    levels: [undefined, undefined, ['a', 'b', 'never']],
  };
  const outcome: Outcome = { kind: 'event', values: event };
  const risksAt = (fitted: ReturnType<typeof fit>, columns: number[][]) => [
    ...predictionsOf(
      fitted.fitted.predict({
        ...inputs,
        rowCount: columns[0].length,
        columns: columns.map((column) => Float64Array.from(column)),
      }),
      'event',
    ).risks,
  ];

  it.each(['normal', 'kernel'])('with %s curves lets what is not known say nothing', (by) => {
    const fitted = fit(inputs, outcome, { numbers: by });
    const nothing = risksAt(fitted, [[NaN], [NaN], [NaN]]);
    expect(nothing[0]).toBeCloseTo(event.reduce((sum, one) => sum + one, 0) / 600, 12);
    // Evidence multiplies: log-odds of all are the sum of what each says alone.
    const odds = (columns: number[][]) => {
      const [risk] = risksAt(fitted, columns);
      return Math.log(risk / (1 - risk));
    };
    const before = odds([[NaN], [NaN], [NaN]]);
    const [a, b, c] = [
      odds([[0.3], [NaN], [NaN]]),
      odds([[NaN], [2], [NaN]]),
      odds([[NaN], [NaN], [1]]),
    ];
    expect(odds([[0.3], [2], [1]]) - before).toBeCloseTo(a + b + c - 3 * before, 9);
    // However far a value lies, the risk is a number.
    for (const risk of risksAt(fitted, [
      [1e6, -1e6],
      [1e9, -1e9],
      [2, 2],
    ]))
      expect(risk >= 0 && risk <= 1).toBe(true);
  });

  it('begins from a share of the analyst’s own', () => {
    const risk = (said: Settings) => risksAt(fit(inputs, outcome, said), [[NaN], [NaN], [NaN]])[0];
    expect(risk({ prior: 'equal' })).toBeCloseTo(0.5, 12);
    expect(risk({ prior: 'given', share: 3 })).toBeCloseTo(0.03, 12);
    const odds = (said: Settings) => {
      const [one] = risksAt(fit(inputs, outcome, said), [[0], [2], [1]]);
      return one / (1 - one);
    };
    const share = event.reduce((sum, one) => sum + one, 0) / 600;
    expect(odds({ prior: 'equal' }) / odds({})).toBeCloseTo((1 - share) / share, 9);
  });

  it('shows how levels are spread, the most telling first', () => {
    for (const by of ['normal', 'kernel']) {
      const shown = facetOf(fit(inputs, outcome, { numbers: by }).describe().facets, 'densities')!;
      expect(shown.inputs.map(({ input }) => input)).toEqual(['telling', 'level', 'useless']);
      const [{ at, densities, means }, { shares, levels }] = shown.inputs;
      const step = (at![1] - at![0]) / (densities![0].length - 1);
      for (const own of densities!)
        expect(own.reduce((sum, one) => sum + one * step, 0)).toBeCloseTo(1, 1);
      expect(means === undefined).toBe(by === 'kernel');
      expect(levels).toEqual(['a', 'b', 'never']);
      for (const own of shares!) expect(own.reduce((sum, one) => sum + one, 0)).toBeCloseTo(1, 12);
    }
  });

  it('leaves out what does not vary, and says so', () => {
    const still = {
      ...inputs,
      columns: [useless.map(() => 4), telling.map(() => NaN), level.map(() => 1)],
    };
    expect(fit(still, outcome).warnings.map(({ code }) => code)).toEqual(['no inputs']);
    const kept = fit({ ...still, columns: [still.columns[0], telling, level] }, outcome);
    expect(kept.warnings).toEqual([
      {
        code: 'left out',
        sentence: 'Left out because fewer than two different values are known: useless.',
        inputs: ['useless'],
      },
    ]);
    expect(family.reads!(kept.fitted.save(), [])).toEqual(['telling', 'level']);
  });

  it.each(['normal', 'kernel'])(
    'with %s curves borrows how a number varies for a level of one patient, and gives one of none no share',
    (by) => {
      const rare: Outcome = {
        kind: 'levels',
        levels: ['no', 'yes', 'one', 'nobody'],
        ordered: false,
        values: Int32Array.from(event, (one, i) => (i === 0 ? 2 : one)),
      };
      const fitted = fit(inputs, rare, { numbers: by });
      expect(fitted.warnings).toEqual([
        {
          code: 'too few in a level',
          sentence:
            'In some levels of the outcome fewer than two different values are known; how widely they vary there is taken from the other levels: useless (one, nobody); telling (one, nobody).',
        },
      ]);
      const { shares } = predictionsOf(fitted.fitted.predict(inputs), 'levels');
      expect(shares.every((share) => share >= 0 && share <= 1)).toBe(true);
      for (let row = 0; row < 600; row++) expect(shares[4 * row + 3]).toBe(0);
      // The two others are told apart as without the one.
      const cases = [...event.keys()].filter((i) => i > 0 && event[i] === 1);
      const mean = (level: number) =>
        cases.reduce((sum, row) => sum + shares[4 * row + level], 0) / cases.length;
      expect(mean(1)).toBeGreaterThan(mean(0));
    },
  );

  it('takes many different values together where there are very many, with hardly a change', () => {
    const codes = Int8Array.from({ length: 40_000 }, (_, i) => i % 2);
    const values = Float64Array.from(codes, (code) => (code === 1 ? 1 : 0) + draw.normal());
    const together = learnKernel(values, { codes, levels: 2 })!;
    expect(together.centres[0].length).toBeLessThanOrEqual(1024);
    const all = {
      ...together,
      centres: [0, 1].map((level) => values.filter((_, i) => codes[i] === level).sort()),
      masses: [0, 1].map(() => new Float64Array(20_000).fill(1 / 20_000)),
    };
    const at = Float64Array.of(-2.5, -1, 0, 0.7, 1.5, 3);
    for (const level of [0, 1]) {
      const [some, exact] = [together, all].map((spread) => {
        const to = new Float64Array(2 * at.length);
        addLogs(spread, level, at, to, 2);
        return to;
      });
      some.forEach((log, i) => expect(Math.abs(log - exact[i])).toBeLessThan(0.01));
    }
  });
});
