import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, type Coefficient, type Settings } from '../../src/families/index.ts';
import { clustersOf } from '../../src/measures/index.ts';
import { logistic, randomStream, tQuantile } from '../../src/numeric/index.ts';
import type { Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { roundsOf, slack } from '../simulation.ts';

const levels = ['none', 'mild', 'severe'];

/** Patients with several rows: the first input and part of the outcome belong to the patient, the second input to the row. */
function drawn(patients: number, rows: number, seed: number) {
  const draw = randomStream(seed, 'rows of patients');
  const size = patients * rows;
  const [own, each, number] = [0, 1, 2].map(() => new Float64Array(size));
  const event = new Int8Array(size);
  const codes = new Int32Array(size);
  for (let row = 0, x = 0, shift = 0; row < size; row++) {
    if (row % rows === 0) [x, shift] = [draw.normal(), 1.6 * draw.normal()];
    own[row] = x;
    each[row] = draw.normal();
    const linear = 0.6 * own[row] + 0.4 * each[row] + shift;
    number[row] = 10 + linear + 0.7 * draw.normal();
    event[row] = Number(draw.uniform() < logistic(linear - 0.4));
    const graded = linear + Math.log(1 / draw.uniform() - 1);
    codes[row] = graded < -0.8 ? 0 : graded < 1 ? 1 : 2;
  }
  const inputs: Inputs = { rowCount: size, names: ['own', 'each'], columns: [own, each] };
  const outcomes: Record<string, Outcome> = {
    logistic: { kind: 'event', values: event },
    linear: { kind: 'number', values: number },
    'proportional-odds': { kind: 'levels', levels, ordered: true, values: codes },
    multinomial: { kind: 'levels', levels, ordered: false, values: codes },
    additive: { kind: 'event', values: event },
  };
  return { inputs, outcomes, patient: Int32Array.from(own, (_, i) => Math.floor(i / rows)) };
}

const free = { rising: [], falling: [] };
const settings: Record<string, Settings> = {
  logistic: { iterations: 50, estimates: 'likeliest' },
  linear: {},
  'proportional-odds': { iterations: 50 },
  multinomial: { iterations: 50 },
  additive: { knots: 8, smoothness: 'likelihood', straight: ['own', 'each'], ...free },
};

function coefficients(
  id: string,
  { inputs, outcomes, patient }: ReturnType<typeof drawn>,
  byCluster: boolean,
): { lines: Coefficient[]; clusters?: number } {
  const clusters = byCluster ? clustersOf(patient) : undefined;
  const { facets } = familyOf(id)
    .fit(inputs, outcomes[id], settings[id], { seed: 1, ...(clusters && { clusters }) })
    .describe();
  const terms = facetOf(facets, 'terms');
  if (terms)
    return {
      lines: terms.lines.map(({ input, ...rest }) => ({ term: input, ...rest })),
      clusters: terms.byCluster,
    };
  const { groups, byCluster: by } = facetOf(facets, 'coefficients')!;
  // Several levels: the last equation, of the level that is farthest from the reference.
  return { lines: groups[id === 'multinomial' ? groups.length - 1 : 0].lines, clusters: by };
}

const line = (lines: Coefficient[], term: string) => lines.find((one) => one.term === term)!;
const families = ['logistic', 'linear', 'proportional-odds', 'multinomial', 'additive'];

describe('standard errors where patients have several rows', () => {
  it.each(families)('of %s leave the estimates as they are, and say by how many patients', (id) => {
    const data = drawn(80, 4, 3);
    const [one, other] = [coefficients(id, data, true), coefficients(id, data, false)];
    expect(one.clusters).toBe(80);
    expect(other.clusters).toBeUndefined();
    one.lines.forEach((own, j) => expect(own.estimate).toBe(other.lines[j].estimate));
    // What belongs to the patient is told by 80 of them, not by 320 rows.
    const wider = line(one.lines, 'own').standardError! / line(other.lines, 'own').standardError!;
    expect(wider).toBeGreaterThan(1.15);
  });

  it.each(families)('of %s hold as often as they say, where those by row do not', (id) => {
    const truth = line(coefficients(id, drawn(15_000, 4, 1), false).lines, 'own').estimate!;
    const held = { true: 0, false: 0 };
    const rounds = roundsOf(300);
    for (let round = 0; round < rounds; round++) {
      const data = drawn(60, 4, 100 + round);
      for (const by of [true, false] as const) {
        const { estimate, standardError } = line(coefficients(id, data, by).lines, 'own');
        const reach = (by ? tQuantile(0.025, 59) : 1.96) * standardError!;
        held[`${by}`] += Number(Math.abs(estimate! - truth) <= reach) / rounds;
      }
    }
    expect(Math.abs(held.true - 0.95)).toBeLessThan(slack(0.95, rounds));
    expect(held.false).toBeLessThan(0.9);
  });

  it('of a line are those of the sums of residuals by patient, worked out by hand', () => {
    // Least squares on one input, four patients with two rows each.
    const x = Float64Array.from([1, 2, 2, 4, 5, 5, 7, 9]);
    const y = Float64Array.from([2, 1, 4, 4, 4, 7, 8, 6]);
    const patient = Int32Array.from([0, 0, 1, 1, 2, 2, 3, 3]);
    const data = {
      inputs: { rowCount: 8, names: ['x'], columns: [x] },
      outcomes: { linear: { kind: 'number' as const, values: y } },
      patient,
    };
    const { lines } = coefficients('linear', data, true);
    const n = 8;
    const [meanX, meanY] = [x, y].map((values) => values.reduce((sum, v) => sum + v, 0) / n);
    const across = x.reduce((sum, v) => sum + (v - meanX) ** 2, 0);
    const slope = x.reduce((sum, v, i) => sum + (v - meanX) * (y[i] - meanY), 0) / across;
    const residual = y.map((v, i) => v - meanY - slope * (x[i] - meanX));
    // The slope moves by Σ (x - mean) × residual / Σ (x - mean)² of each patient.
    const moved = [0, 1, 2, 3].map((one) =>
      x.reduce((sum, v, i) => sum + (patient[i] === one ? (v - meanX) * residual[i] : 0), 0),
    );
    const variance = moved.reduce((sum, v) => sum + (v / across) ** 2, 0) * (4 / 3) * (7 / 6);
    expect(line(lines, 'x').standardError).toBeCloseTo(Math.sqrt(variance), 12);
  });

  it.each(families)('of %s do not depend on the units of the inputs', (id) => {
    const data = drawn(70, 3, 8);
    const scaled = {
      ...data,
      inputs: {
        ...data.inputs,
        columns: data.inputs.columns.map((column, j) => column.map((v) => v * (j ? 1e-2 : 1e3))),
      },
    };
    const [one, other] = [coefficients(id, data, true), coefficients(id, scaled, true)];
    for (const [term, factor] of [
      ['own', 1e3],
      ['each', 1e-2],
    ] as const)
      expect(line(other.lines, term).standardError! * factor).toBeCloseTo(
        line(one.lines, term).standardError!,
        7,
      );
  });

  it('of a curve hold along it as often as they say, where those by row do not', () => {
    const curve = (data: ReturnType<typeof drawn>, byCluster: boolean) => {
      const own = { ...settings.additive, straight: ['each'] };
      const clusters = byCluster ? { clusters: clustersOf(data.patient) } : {};
      const fit = familyOf('additive').fit(data.inputs, data.outcomes.additive, own, {
        seed: 1,
        ...clusters,
      });
      return facetOf(fit.describe().facets, 'terms')!.curves[0];
    };
    const held = { true: 0, false: 0 };
    let places = 0;
    const rounds = roundsOf(150);
    // The latent intercept makes the marginal curve a little flatter than 0.6 per unit, and nearly straight.
    const slope = line(coefficients('additive', drawn(15_000, 4, 1), false).lines, 'own').estimate!;
    for (let round = 0; round < rounds; round++) {
      const data = drawn(60, 4, 500 + round);
      const mean = data.inputs.columns[0].reduce((sum, x) => sum + x, 0) / 240;
      for (const by of [true, false] as const) {
        const { at, values, error, deciles } = curve(data, by);
        at.forEach((x, k) => {
          if (x < deciles[0] || x > deciles[8]) return;
          if (by) places++;
          held[`${by}`] += Number(Math.abs(values[k] - slope * (x - mean)) <= 1.96 * error[k]);
        });
      }
    }
    expect(Math.abs(held.true / places - 0.95)).toBeLessThan(slack(0.95, rounds));
    expect(held.false / places).toBeLessThan(0.9);
  });

  it.each(['linear', 'proportional-odds'])(
    'of %s: the test of all inputs together rejects a true hypothesis one time in twenty',
    (id) => {
      const rejected = { true: 0, false: 0 };
      const rounds = roundsOf(400);
      for (let round = 0; round < rounds; round++) {
        const data = nothingThere(60, 4, round);
        for (const by of [true, false] as const) {
          const { facets } = familyOf(id)
            .fit(data.inputs, data.outcomes[id], settings[id], {
              seed: 1,
              ...(by && { clusters: clustersOf(data.patient) }),
            })
            .describe();
          const p =
            id === 'linear'
              ? facetOf(facets, 'variance')!.f!.p
              : facetOf(facets, 'proportionality')!.overall.p;
          rejected[`${by}`] += Number(p < 0.05) / rounds;
        }
      }
      expect(Math.abs(rejected.true - 0.05)).toBeLessThan(slack(0.05, rounds));
      if (id === 'linear') expect(rejected.false).toBeGreaterThan(0.12);
    },
  );
});

/** Patients whose first input, and part of whose outcome, is their own, but without any effect of it. */
function nothingThere(patients: number, rows: number, seed: number) {
  const data = drawn(patients, rows, 9000 + seed);
  const other = drawn(patients, rows, 19_000 + seed);
  return { ...data, inputs: { ...other.inputs } };
}
