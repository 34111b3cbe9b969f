import { describe, expect, it } from 'vitest';
import { facetOf, familyOf, settingsSchema, type Settings } from '../../src/families/index.ts';
import { searchAmong } from '../../src/families/nearest-patients/search.ts';
import { placesOf, pointsOf, spaceOf } from '../../src/families/nearest-patients/space.ts';
import { tally, type Voters } from '../../src/families/nearest-patients/votes.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { predictionsOf, takeOutcome, type Outcome } from '../../src/outcome/index.ts';
import { takeInputs, type Inputs } from '../../src/preparation/index.ts';
import { loadTable, loadValues, numbers } from '../reference/load.ts';
import { columnsOf, iris } from '../reference/sets.ts';

const family = familyOf('nearest-patients');
const fit = (inputs: Inputs, outcome: Outcome, said: Settings = {}, weights?: Float64Array) =>
  family.fit(inputs, outcome, settingsSchema(family.description.settings).parse(said), {
    seed: 1,
    weights,
  });
/** So many are asked, and nobody is added. */
const asking = (neighbours: number, said: Settings = {}): Settings => ({
  neighboursBy: 'given',
  neighbours,
  added: 0,
  ...said,
});

/** Every fifth row is held out, as in the reference values. */
function parted(rowCount: number) {
  const rows = Array.from({ length: rowCount }, (_, row) => row);
  return {
    learn: rows.filter((row) => row % 5 !== 4),
    out: rows.filter((row) => row % 5 === 4),
  };
}

describe('nearest patients against reference values', () => {
  interface Votes {
    results: { k: number; votes: Record<string, number>[]; predicted: (string | number)[] }[];
  }

  // Fisher (1936), Anderson (1935); Forina et al., Aeberhard et al. (1992), UCI.
  it.each(['knn_iris', 'knn_wine'])('%s: votes of every level, for each number asked', (file) => {
    const wine = () => {
      const names = loadTable('wine').dictionary.map(({ name }) => name);
      const inputs = columnsOf(
        'wine',
        names.filter((name) => name !== 'class'),
      );
      const codes = numbers(loadTable('wine'), 'class');
      const levels = ['1', '2', '3'];
      const least = Math.min(...codes);
      const values = Int32Array.from(codes, (code) => code - least);
      return {
        inputs,
        levels,
        outcome: { kind: 'levels', levels, ordered: false, values } as Outcome,
      };
    };
    const { inputs, outcome, levels } = file === 'knn_iris' ? iris() : wine();
    const { learn, out } = parted(inputs.rowCount);
    const { results } = loadValues<Votes>(file);
    const most = Math.max(...results.map(({ k }) => k));
    const { fitted } = fit(takeInputs(inputs, learn), takeOutcome(outcome, learn), asking(most));
    for (const { k, votes } of results) {
      // Fewer asked come from the same search.
      const { shares } = predictionsOf(fitted.predict(takeInputs(inputs, out), k), 'levels');
      votes.forEach((own, i) =>
        levels.forEach((level, at) =>
          expect(shares[3 * i + at], `${k} ${i}`).toBeCloseTo((own[level] ?? 0) / k, 12),
        ),
      );
    }
  });

  // Hosmer & Lemeshow (1989), Applied Logistic Regression.
  it('knn_numbers_birthwt: means, plain and by distance, and who the neighbours are', () => {
    const inputs = columnsOf('birthwt', ['age', 'lwt', 'smoke', 'ui', 'ftv']);
    const outcome: Outcome = { kind: 'number', values: numbers(loadTable('birthwt'), 'bwt') };
    const { learn, out } = parted(189);
    const { results, neighbours_examples, held_out_rows } = loadValues<{
      held_out_rows: number[];
      neighbours_examples: { row: number; neighbours: number[]; distances: number[] }[];
      results: {
        k: number;
        plain: number[];
        distance_weighted: number[];
        rows_with_tie_at_kth_neighbour: number[];
      }[];
    }>('knn_numbers_birthwt');
    for (const result of results)
      for (const votes of ['plain', 'distance'] as const) {
        const { fitted } = fit(
          takeInputs(inputs, learn),
          takeOutcome(outcome, learn),
          asking(result.k, { votes }),
        );
        const { values } = predictionsOf(fitted.predict(takeInputs(inputs, out)), 'number');
        const expected = votes === 'plain' ? result.plain : result.distance_weighted;
        held_out_rows.forEach((row, i) => {
          if (result.rows_with_tie_at_kth_neighbour.includes(row)) return;
          expect(values[i] / expected[i], `${votes} ${row}`).toBeCloseTo(1, 9);
        });
      }
    const { fitted } = fit(takeInputs(inputs, learn), takeOutcome(outcome, learn), asking(5));
    for (const { row, neighbours, distances } of neighbours_examples) {
      const found = fitted.neighbours!(takeInputs(inputs, [row - 1]));
      expect(found.inputs).toEqual(inputs.names);
      found.own.forEach((value, j) => expect(value).toBeCloseTo(inputs.columns[j][row - 1], 9));
      found.patients.forEach(({ distance, outcome: weight, values }, i) => {
        expect(distance).toBeCloseTo(distances[i], 10);
        expect(weight).toBe(outcome.values[neighbours[i] - 1]);
        values.forEach((value, j) =>
          expect(value).toBeCloseTo(inputs.columns[j][neighbours[i] - 1], 9),
        );
      });
    }
  });

  // Fleming & Harrington (1991), Counting Processes and Survival Analysis.
  it('gower_pbc: distances over what both know, and what most of the nearest had', () => {
    const values = loadValues<{
      columns: Record<string, { kind: string; values: (number | string | null)[] }>;
      target: number[];
      results: {
        distances_first10: number[][];
        nearest_of_first10: { row: number; nearest: number[] }[];
        predictions: {
          k: number;
          leave_one_out_prediction: number[];
          rows_with_tie_at_kth_neighbour: number[];
        }[];
      };
      rows: number[];
    }>('gower_pbc');
    const { results, rows } = values;
    const entries = Object.entries(values.columns);
    const levels = entries.map(([, { kind, values }]) =>
      kind === 'category'
        ? [...new Set(values.filter((one) => typeof one === 'string'))].sort()
        : undefined,
    );
    const inputs: Inputs = {
      rowCount: rows.length,
      names: entries.map(([name]) => name),
      levels,
      columns: entries.map(([, { values }], j) =>
        Float64Array.from(values, (one) =>
          one === null ? NaN : levels[j] ? levels[j].indexOf(String(one)) : Number(one),
        ),
      ),
    };
    const space = spaceOf(inputs, 'gower');
    const places = placesOf(space, inputs);
    const columns = places.length / rows.length;
    const { nearest } = searchAmong(pointsOf(space, places));
    const at = (row: number) => places.subarray(row * columns, (row + 1) * columns);
    results.distances_first10.forEach((own, row) => {
      const found = nearest(at(row), rows.length);
      own.forEach((distance, other) => {
        const place = found.rows.indexOf(other);
        expect(found.sums[place] / 8).toBeCloseTo(distance, 10);
      });
    });
    for (const { row, nearest: expected } of results.nearest_of_first10) {
      const found = nearest(at(rows.indexOf(row)), expected.length + 1);
      expect([...found.rows].slice(1).map((other) => rows[other])).toEqual(expected);
    }
    const kinds = [...new Set(values.target)].sort((a, b) => a - b).map(String);
    const outcome: Outcome = {
      kind: 'levels',
      levels: kinds,
      ordered: false,
      values: Int32Array.from(values.target, (one) => kinds.indexOf(String(one))),
    };
    for (const { k, leave_one_out_prediction: said } of results.predictions) {
      const got = rows.map((_, row) => {
        const others = [...rows.keys()].filter((other) => other !== row);
        const rest = takeInputs(inputs, others);
        const own = [...nearest(at(row), rows.length).rows]
          .filter((one) => one !== row)
          .slice(0, k);
        expect(rest.rowCount).toBe(rows.length - 1);
        const counts = kinds.map(
          (_, level) => own.filter((i) => outcome.values[i] === level).length,
        );
        return Number(kinds[counts.indexOf(Math.max(...counts))]);
      });
      expect(got).toEqual(said);
    }
  });
});

describe('the search', () => {
  const draw = randomStream(2, 'search');
  const cases = [
    { patients: 3000, columns: 3, gaps: 0 },
    { patients: 3000, columns: 9, gaps: 0 },
    { patients: 1200, columns: 20, gaps: 0 },
    { patients: 1200, columns: 20, gaps: 0.3 },
    // Whole numbers, so that many are equally far.
    { patients: 2000, columns: 2, gaps: 0, whole: true },
    { patients: 31, columns: 2, gaps: 0.5, whole: true },
    // Beyond what single precision holds.
    { patients: 300, columns: 4, gaps: 0, times: 1e9 },
  ];

  it.each(
    cases.flatMap((one) => (['squares', 'absolutes'] as const).map((by) => ({ ...one, by }))),
  )(
    '$patients patients x $columns, gaps $gaps, by $by: exactly those that a walk over all finds',
    ({ patients, columns, gaps, whole, times = 1, by }) => {
      const value = () => {
        if (draw.uniform() < gaps) return NaN;
        return times * (whole ? Math.floor(6 * draw.uniform()) : draw.normal());
      };
      const values = Float64Array.from({ length: patients * columns }, value);
      const search = searchAmong({
        rowCount: patients,
        values,
        shares: new Float64Array(columns).fill(1),
        by,
      });
      for (let i = 0; i < 40; i++) {
        const point = Float64Array.from({ length: columns }, value);
        if (i === 0) point[0] = 1e7 * times;
        const count = [1, 7, 60, patients][i % 4];
        const { rows, sums } = search.nearest(point, count);
        const expected = walked(point, values, by, count);
        expect([...rows]).toEqual(expected.map(({ row }) => row));
        expected.forEach(({ sum }, k) => expect(sums[k] / (sum || 1)).toBeCloseTo(sum ? 1 : 0, 12));
      }
    },
  );

  function walked(point: Float64Array, values: Float64Array, by: string, count: number) {
    const columns = point.length;
    const known = point.filter((one) => !isNaN(one)).length;
    const found: { row: number; sum: number }[] = [];
    for (let row = 0; row * columns < values.length && known > 0; row++) {
      const away = [...point].map((one, j) => one - values[row * columns + j]);
      const both = away.filter((one) => !isNaN(one));
      if (both.length < known / 3 - 1e-9) continue;
      const sum = both.reduce(
        (sum, one) => sum + (by === 'squares' ? one * one : Math.abs(one)),
        0,
      );
      found.push({ row, sum: both.length < columns ? (sum * columns) / both.length : sum });
    }
    return found.sort((a, b) => a.sum - b.sum || a.row - b.row).slice(0, count);
  }
});

describe('nearest patients', () => {
  const draw = randomStream(5, 'nearest patients');
  const patients = 400;
  const columns = Array.from({ length: 3 }, () =>
    Float64Array.from({ length: patients }, () => draw.normal()),
  );
  const inputs: Inputs = { rowCount: patients, names: ['a', 'b', 'c'], columns };
  const outcome: Outcome<'event'> = {
    kind: 'event',
    values: Int8Array.from(columns[0], (value) => Number(value + draw.normal() > 1)),
  };
  const risksOf = (one: ReturnType<typeof fit>, on: Inputs = inputs, along?: number) =>
    predictionsOf(one.fitted.predict(on, along), 'event').risks;

  it('asks as many as the root of the number of patients, or as many as do best, which the curve shows', () => {
    const byRoot = facetOf(fit(inputs, outcome).describe().facets, 'curve')!;
    expect(byRoot.chosen).toBe(20);
    const best = fit(inputs, outcome, { neighboursBy: 'best' });
    const { at, lines, chosen, plain } = facetOf(best.describe().facets, 'curve')!;
    const [{ whose, values }] = lines;
    expect(whose).toBe('inner fold');
    expect(values[at.indexOf(chosen)]).toBe(Math.min(...values));
    expect(values[0]).toBeGreaterThan(Math.min(...values));
    expect(Math.min(...values)).toBeLessThan(plain!);
    expect(risksOf(best)).toEqual(risksOf(fit(inputs, outcome, asking(chosen, { added: 1 }))));
  });

  it('gives fewer asked as a fit with fewer does, whoever counts how much', () => {
    for (const votes of ['plain', 'distance', 'kernel']) {
      const many = fit(inputs, outcome, asking(40, { votes }));
      const few = fit(inputs, outcome, asking(6, { votes }));
      expect(risksOf(many, inputs, 6)).toEqual(risksOf(few));
    }
  });

  it('weighs by kernel as the formula says', () => {
    const model = fit(inputs, outcome, asking(5, { votes: 'kernel' }));
    const point: Inputs = {
      ...inputs,
      rowCount: 1,
      columns: [[0.3], [-1], [0.2]].map((one) => Float64Array.from(one)),
    };
    const six = fit(inputs, outcome, asking(6)).fitted.neighbours!(point).patients;
    const width = six[5].distance;
    const weights = six.slice(0, 5).map(({ distance }) => 1 - (distance / width) ** 2);
    const total = weights.reduce((sum, one) => sum + one, 0);
    const cases = weights.reduce((sum, one, i) => sum + one * Number(six[i].outcome), 0);
    expect(risksOf(model, point)[0]).toBeCloseTo(cases / total, 12);
  });

  it('never says 0 of a patient whose few neighbours had no case, unless nobody is added', () => {
    const few = { neighboursBy: 'given', neighbours: 3 };
    const cautious = risksOf(fit(inputs, outcome, few));
    const bold = risksOf(fit(inputs, outcome, asking(3)));
    const share = outcome.values.reduce((sum, one) => sum + one, 0) / patients;
    bold.forEach((risk, i) => expect(cautious[i]).toBeCloseTo((3 * risk + share) / 4, 12));
    expect(Math.min(...cautious)).toBeGreaterThan(0);
  });

  it('says what all have of a patient about whom nothing is known, or who brings a level nobody had', () => {
    const group = Float64Array.from(columns[1], (value) => (value > 0.5 ? 1 : 0));
    const with_: Inputs = {
      rowCount: patients,
      names: ['a', 'group'],
      columns: [columns[0], group],
      levels: [undefined, ['north', 'south']],
    };
    const model = fit(with_, outcome, asking(30));
    const some = (a: number, level: number): Inputs => ({
      ...with_,
      rowCount: 1,
      columns: [Float64Array.of(a), Float64Array.of(level)],
    });
    const share = outcome.values.reduce((sum, one) => sum + one, 0) / patients;
    expect(risksOf(model, some(NaN, NaN))[0]).toBeCloseTo(share, 12);
    // By the number alone.
    const alone = fit(
      { ...with_, names: ['a'], columns: [columns[0]], levels: [undefined] },
      outcome,
      asking(30),
    );
    const byNumber = risksOf(alone, {
      ...with_,
      names: ['a'],
      rowCount: 1,
      columns: [Float64Array.of(0.7)],
      levels: [undefined],
    });
    expect(risksOf(model, some(0.7, NaN))[0]).toBeCloseTo(byNumber[0], 12);
    // Of the own level come first: the other is as far as two SDs in squares.
    const { patients: near, inputs: names } = model.fitted.neighbours!(some(0, 1));
    expect(near.every(({ values }) => values[1] === 'south')).toBe(true);
    expect(names).toEqual(['a', 'group']);
  });

  it('leaves out what does not vary, and says so', () => {
    const flat = {
      ...inputs,
      names: ['a', 'b', 'flat'],
      columns: [columns[0], columns[1], new Float64Array(patients).fill(4)],
    };
    const model = fit(flat, outcome);
    expect(model.warnings.map(({ sentence }) => sentence)).toEqual([
      'Left out because fewer than two different values are known: flat.',
    ]);
    expect(family.reads!(model.fitted.save(), [])).toEqual(['a', 'b']);
  });
});

describe('votes', () => {
  const draw = randomStream(11, 'votes');
  const rows = Array.from({ length: 30 }, (_, i) => i);
  const said = rows.map(() => Math.floor(3 * draw.uniform()));
  const distances = rows.map(() => draw.uniform()).sort((a, b) => a - b);
  const weights = Float64Array.from(rows, () => 0.5 + draw.uniform());
  const voters = (votes: 'plain' | 'distance' | 'kernel', weighted: boolean): Voters => ({
    votes,
    width: 3,
    add: (sums, row, weight) => (sums[said[row]] += weight),
    ...(weighted && { weights }),
  });

  it.each(
    (['plain', 'distance', 'kernel'] as const).flatMap((votes) => [
      { votes, weighted: false },
      { votes, weighted: true },
    ]),
  )(
    'of every number asked in one pass are those of each by itself: $votes, weighted $weighted',
    (one) => {
      const counts = [1, 2, 3, 7, 12.5, 20];
      const told = new Map<number, { mean: number[]; patients: number }>();
      tally({ rows, distances }, voters(one.votes, one.weighted), counts, (place, mean, patients) =>
        told.set(counts[place], { mean: [...mean], patients }),
      );
      for (const count of counts) {
        // Patient by patient, until as many are asked; the last for what is left of it.
        const parts: { row: number; part: number }[] = [];
        let taken = 0;
        let next = 0;
        for (; next < rows.length && taken < count - 1e-12; next++) {
          const part = Math.min(one.weighted ? weights[next] : 1, count - taken);
          parts.push({ row: next, part });
          taken += part;
          if (part < (one.weighted ? weights[next] : 1)) break;
        }
        const width = distances[next];
        const by = ({ row, part }: (typeof parts)[number]) =>
          one.votes === 'plain'
            ? part
            : one.votes === 'distance'
              ? part / distances[row]
              : part * (1 - (distances[row] / width) ** 2);
        const total = parts.reduce((sum, part) => sum + by(part), 0);
        const shares = [0, 1, 2].map(
          (level) =>
            parts
              .filter(({ row }) => said[row] === level)
              .reduce((sum, part) => sum + by(part), 0) / total,
        );
        const found = told.get(count)!;
        expect(found.patients).toBeCloseTo(count, 12);
        // One alone by kernel has no weight: it counts as it is.
        if (total > 1e-9) shares.forEach((share, k) => expect(found.mean[k]).toBeCloseTo(share, 9));
        else expect(found.mean[said[0]]).toBe(1);
      }
    },
  );

  it('are those of twins alone where some are the same in everything', () => {
    const near = [0, 0, ...distances.slice(2)];
    tally({ rows, distances: near }, voters('distance', false), [9], (_, mean) => {
      const expected = [0, 0, 0];
      for (const row of [0, 1]) expected[said[row]] += 0.5;
      expect([...mean]).toEqual(expected);
    });
  });

  it('are none where nobody can be asked', () => {
    tally({ rows: [], distances: [] }, voters('kernel', false), [4], (_, mean, patients) => {
      expect([[...mean], patients]).toEqual([[0, 0, 0], 0]);
    });
  });
});
