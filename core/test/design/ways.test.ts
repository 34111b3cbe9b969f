import { describe, expect, it } from 'vitest';
import {
  defaultDesign,
  DesignError,
  designSchema,
  divide,
  fitKey,
  side,
  type Design,
  type DivideBy,
} from '../../src/design/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { tableFromText, type Table } from '../../src/table/index.ts';

const hospitals = ['Ashdown', 'Birch', 'Corrow', 'Dale', 'Elm', 'Fenn', 'Garth', 'Holm'];

/** Visits of made-up patients: some come twice, some have no date, hospital or outcome. */
function visits(seed: number, count = 400): Table {
  const draw = randomStream(seed, 'visits');
  const rows = Array.from({ length: count }, (_, i) => {
    const patient = draw.uniform() < 0.15 && i > 20 ? i - 20 : i;
    const own = randomStream(seed, `patient ${patient}`);
    const place = Math.floor(8 * own.uniform() ** 1.6);
    const sex = own.uniform() < 0.5 ? 'f' : 'm';
    // Some of those who come twice are sent on from Garth to Holm.
    const hospital = hospitals[place === 6 && patient < i ? 7 : place];
    const day = new Date(Date.UTC(2024, 0, 1 + Math.floor(600 * draw.uniform())));
    return [
      `P${patient}`,
      draw.uniform() < 0.03 ? '' : hospital,
      draw.uniform() < 0.03 ? '' : day.toISOString().slice(0, 10),
      sex,
      String(Math.round(40 + 30 * draw.uniform())),
      ['old', 'new', 'vault'][Math.floor(3 * draw.uniform())],
      draw.uniform() < 0.02 ? '' : draw.uniform() < 0.3 ? 'yes' : 'no',
    ];
  });
  const names = ['id', 'hospital', 'seen on', 'sex', 'age', 'part', 'stroke'];
  const { dictionary } = tableFromText(names, rows);
  dictionary[0] = { ...dictionary[0], role: 'identifier', kind: 'text' };
  dictionary[2] = { ...dictionary[2], kind: 'date' };
  return tableFromText(names, rows, dictionary);
}

const base: Design = designSchema.parse({
  ...defaultDesign,
  outcome: 'stroke',
  event: 'yes',
  predictors: ['age', 'sex'],
});

const run = (table: Table, part: Partial<Design>, by?: DivideBy) =>
  divide(table, { ...base, ...part }, by);

/** Texts of a column. */
function texts(table: Table, name: string): string[] {
  const column = table.columns[table.dictionary.findIndex((entry) => entry.name === name)];
  if (column.type === 'coded') return Array.from(column.codes, (code) => column.levels[code] ?? '');
  if (column.type === 'text') return column.values.map((value) => value ?? '');
  return Array.from(column.values, (value) => (Number.isNaN(value) ? '' : String(value)));
}

/** On which sides the rows of each value are. */
function sidesBy(values: string[], sides: Uint8Array): Map<string, Set<number>> {
  const found = new Map<string, Set<number>>();
  values.forEach((value, row) => {
    if (sides[row] === side.unused) return;
    found.set(value, (found.get(value) ?? new Set()).add(sides[row]));
  });
  return found;
}

/** The rows of a table in another order. */
function reordered(table: Table, order: number[]): Table {
  return {
    ...table,
    columns: table.columns.map((column) =>
      column.type === 'coded'
        ? { ...column, codes: Int32Array.from(order, (row) => column.codes[row]) }
        : column.type === 'number'
          ? { ...column, values: Float64Array.from(order, (row) => column.values[row]) }
          : { ...column, values: order.map((row) => column.values[row]) },
    ),
  };
}

function shuffle(count: number, seed: number): number[] {
  const draw = randomStream(seed, 'order');
  const keys = Array.from({ length: count }, () => draw.uniform());
  return [...keys.keys()].sort((a, b) => keys[a] - keys[b]);
}

const share = (rows: ArrayLike<number>, table: Table) => rows.length / table.rowCount;

const ways: [string, Partial<Design>][] = [
  ['by chance', {}],
  [
    'by chance within sex and fifths of age',
    { split: { way: 'by chance', within: ['sex', 'age'] } },
  ],
  ['by hospital', { split: { way: 'by group', column: 'hospital' } }],
  ['by date', { split: { way: 'by date', column: 'seen on', from: null } }],
  ['folds by hospital', { folds: { way: 'by group', column: 'hospital', count: 4 } }],
  ['each hospital in turn', { folds: { way: 'each group', column: 'hospital' } }],
];

describe('whichever way patients are divided', () => {
  it.each(ways)('%s: a patient is never on two sides or in two folds', (_, part) => {
    for (let seed = 1; seed <= 5; seed++) {
      const table = visits(seed);
      const { sides, folds, developmentRows } = run(table, { ...part, seed, sealedShare: 0.1 });
      for (const [, found] of sidesBy(texts(table, 'id'), sides)) expect(found.size).toBe(1);
      const foldOf = new Map<string, number>();
      const ids = texts(table, 'id');
      developmentRows.forEach((row, i) => {
        expect(foldOf.get(ids[row]) ?? folds[i]).toBe(folds[i]);
        foldOf.set(ids[row], folds[i]);
      });
    }
  });

  it.each(ways)('%s: the order of rows plays no part', (_, part) => {
    const table = visits(3);
    const order = shuffle(table.rowCount, 9);
    const [here, there] = [table, reordered(table, order)].map((one) => run(one, part));
    order.forEach((row, place) => expect(there.sides[place]).toBe(here.sides[row]));
    const foldOfRow = new Map(Array.from(here.developmentRows, (row, i) => [row, here.folds[i]]));
    there.developmentRows.forEach((place, i) =>
      expect(there.folds[i]).toBe(foldOfRow.get(order[place])),
    );
  });

  it.each(ways)('%s: the share is held out, and the sealed one is apart', (_, part) => {
    const table = visits(4, 1200);
    const { counts, heldOutRows, sealedRows } = run(table, { ...part, sealedShare: 0.15 });
    const slack = JSON.stringify(part).includes('group') ? 0.08 : 0.02;
    expect(Math.abs(share(heldOutRows, table) - 0.25)).toBeLessThan(slack);
    expect(Math.abs(share(sealedRows, table) - 0.15)).toBeLessThan(slack);
    const { development, heldOut, sealed, unused, unplaced = 0 } = counts;
    const parts = [development, heldOut, sealed!].reduce((sum, one) => sum + one.patients, 0);
    expect(parts + unused + unplaced).toBe(1200);
    expect(counts.folds!.reduce((sum, fold) => sum + fold.patients, 0)).toBe(development.patients);
  });

  it.each(ways)('%s: a fit on it is out of date under any other', (_, part) => {
    const keys = ways.map(([, other]) => fitKey({ ...base, ...other }));
    expect(keys.filter((key) => key === fitKey({ ...base, ...part }))).toHaveLength(1);
  });
});

describe('dealt several times', () => {
  const table = visits(12, 600);
  const folds = { way: 'by chance', count: 4, repeats: 3 } as const;

  it('each time is a deal of its own, in balance, and the first is that of dealing once', () => {
    const once = run(table, { folds: { way: 'by chance', count: 4 } });
    const often = run(table, { folds });
    const { length } = once.developmentRows;
    expect(often.folds).toHaveLength(3 * length);
    expect(often.folds.slice(0, length)).toEqual(once.folds);
    expect(often.counts).toEqual(once.counts);
    const ids = texts(table, 'id');
    const deals = [0, 1, 2].map((time) =>
      often.folds.slice(time * length, (time + 1) * length).map((fold) => fold - 4 * time),
    );
    for (const deal of deals) {
      const foldOf = new Map<string, number>();
      const cases = [0, 0, 0, 0];
      once.developmentRows.forEach((row, i) => {
        expect(foldOf.get(ids[row]) ?? deal[i]).toBe(deal[i]);
        foldOf.set(ids[row], deal[i]);
        cases[deal[i]] += once.events[row];
      });
      // Some come twice, so that a fold of as many patients has some rows more.
      expect(Math.max(...cases) - Math.min(...cases)).toBeLessThan(12);
    }
    // By chance a patient is in the same fold twice as often as one in four.
    const again = deals[0].filter((fold, i) => fold === deals[1][i]).length / length;
    expect(Math.abs(again - 0.25)).toBeLessThan(0.08);
  });

  it('is another design than dealing once, and no other than it was', () => {
    const keyOf = (one: Design['folds']) => fitKey(designSchema.parse({ ...base, folds: one }));
    expect(keyOf(folds)).not.toBe(keyOf({ way: 'by chance', count: 4 }));
    expect(keyOf({ way: 'by chance', count: 5 })).toBe(fitKey(base));
    expect(
      designSchema.safeParse({ ...base, folds: { ...folds, count: 50, repeats: 6 } }).error!
        .issues[0].message,
    ).toBe('Folds times repeats are 250 at most.');
  });

  it('the order of rows plays no part', () => {
    const order = shuffle(table.rowCount, 4);
    const [here, there] = [table, reordered(table, order)].map((one) => run(one, { folds }));
    const { length } = here.developmentRows;
    const placeOf = new Map(Array.from(here.developmentRows, (row, i) => [row, i]));
    there.developmentRows.forEach((place, i) => {
      for (const time of [0, 1, 2])
        expect(there.folds[time * length + i]).toBe(
          here.folds[time * length + placeOf.get(order[place])!],
        );
    });
  });
});

it('keeps the key of a design that divides as designs did at first', () => {
  expect(fitKey(base)).toBe('["stroke","yes",["age","sex"],0.25,1]');
});

describe('by chance within columns', () => {
  it('holds out the share of every cell, to one patient', () => {
    const table = visits(5, 2000);
    const { sides } = run(table, { split: { way: 'by chance', within: ['sex'] } });
    const [ids, sex, stroke] = ['id', 'sex', 'stroke'].map((name) => texts(table, name));
    for (const s of ['f', 'm'])
      for (const outcome of ['yes', 'no']) {
        // Of patients with one row, so that rows are patients.
        const cell = ids.flatMap((id, row) =>
          sex[row] === s && stroke[row] === outcome && ids.indexOf(id) === ids.lastIndexOf(id)
            ? [row]
            : [],
        );
        const held = cell.filter((row) => sides[row] === side.heldOut).length;
        expect(Math.abs(held / cell.length - 0.25)).toBeLessThan(0.04);
      }
  });
});

describe('by group', () => {
  it('keeps every hospital on one side, and hospitals that share a patient', () => {
    for (let seed = 1; seed <= 10; seed++) {
      const table = visits(6);
      const { sides } = run(table, { split: { way: 'by group', column: 'hospital' }, seed });
      const found = sidesBy(texts(table, 'hospital'), sides);
      for (const hospital of hospitals) expect(found.get(hospital)!.size).toBe(1);
      expect(found.get('Garth')).toEqual(found.get('Holm'));
    }
  });

  it('takes the draw whose case shares are alike, where hospitals differ', () => {
    // Ten hospitals of 40 patients, of whom 4, 8, … 36 and 20 are cases.
    const rows = Array.from({ length: 400 }, (_, i) => {
      const hospital = Math.floor(i / 40);
      const cases = hospital === 9 ? 20 : 4 * (hospital + 1);
      return [`P${i}`, `H${hospital}`, i % 40 < cases ? 'yes' : 'no', String(i % 7)];
    });
    const table = tableFromText(['id', 'hospital', 'stroke', 'age'], rows);
    table.dictionary[0].role = 'identifier';
    for (let seed = 1; seed <= 10; seed++) {
      const { counts } = run(table, {
        split: { way: 'by group', column: 'hospital' },
        heldOutShare: 0.3,
        seed,
      });
      expect(counts.heldOut.patients).toBe(120);
      expect(Math.abs(counts.heldOut.events - 60)).toBeLessThanOrEqual(12);
    }
  });

  it('says that one group cannot be divided, and where patients have made them one', () => {
    const table = visits(6);
    const rows = texts(table, 'stroke').map((outcome, i) => [
      `P${i % 300}`,
      i % 2 === Number(i >= 301) ? 'A' : 'B',
      outcome,
    ]);
    const tied = tableFromText(['id', 'ward', 'stroke'], rows);
    tied.dictionary[0].role = 'identifier';
    expect(() => run(tied, { split: { way: 'by group', column: 'ward' } })).toThrow(
      '99 patients have rows in several groups, which ties 2 groups to one',
    );
  });

  it.each(['most frequent', 'first', 'development'] as const)(
    'settles patients of several groups: %s',
    (moving) => {
      const table = visits(6);
      // Three rows a patient; every third patient moves to another ward after the first.
      const outcomes = texts(table, 'stroke')
        .filter((outcome) => outcome !== '')
        .slice(0, 198);
      const wards = ['A', 'B', 'C', 'D', 'E'];
      const rows = outcomes.flatMap((outcome, i) =>
        [0, 1, 2].map((visit) => [
          `P${i}`,
          wards[(i + (i % 3 === 0 && visit > 0 ? 1 : 0)) % 5],
          outcome,
        ]),
      );
      const visited = tableFromText(['id', 'ward', 'stroke'], rows);
      visited.dictionary[0].role = 'identifier';
      const tied = { way: 'by group', column: 'ward' } as const;
      expect(() => run(visited, { split: tied })).toThrow(/^66 patients have rows in several/);
      const { sides } = run(visited, { split: { ...tied, moving } });
      const wardOf = (i: number) => (moving === 'first' ? rows[3 * i][1] : rows[3 * i + 2][1]);
      const sideOfWard = new Map<string, number>();
      outcomes.forEach((_, i) => {
        const own = sides.slice(3 * i, 3 * i + 3);
        expect(new Set(own).size).toBe(1);
        if (i % 3 === 0 && moving === 'development') {
          expect(own[0]).toBe(side.development);
          return;
        }
        const before = sideOfWard.get(wardOf(i));
        if (before !== undefined) expect(own[0]).toBe(before);
        sideOfWard.set(wardOf(i), own[0]);
      });
      expect(new Set(sideOfWard.values())).toEqual(new Set([side.development, side.heldOut]));
      // Folds settle them likewise.
      if (moving === 'development') return;
      const folds = { way: 'each group', column: 'ward', moving } as const;
      expect(run(visited, { folds }).counts.folds).toHaveLength(5);
      const { column: _, ...untold } = folds;
      expect(() => run(visited, { folds: { way: untold.way, column: 'ward' } })).toThrow(
        /patients have rows in several groups of Ward, which ties all groups to one/,
      );
    },
  );

  it('says that one group cannot be divided', () => {
    const table = visits(7, 60);
    const one = tableFromText(
      ['ward', 'stroke'],
      texts(table, 'stroke').map((outcome) => ['A', outcome]),
    );
    expect(() => run(one, { split: { way: 'by group', column: 'ward' } })).toThrow(
      'There is one group only: each side needs one of its own',
    );
  });
});

describe('by date', () => {
  const split = { way: 'by date', column: 'seen on', from: null } as const;

  it('holds out the last who came: nobody of them before any development patient', () => {
    const table = visits(8);
    const days = texts(table, 'seen on').map((day) => (day ? Number(day) : NaN));
    const ids = texts(table, 'id');
    const firstDay = new Map<string, number>();
    ids.forEach((id, row) => {
      if (!Number.isNaN(days[row]))
        firstDay.set(id, Math.min(firstDay.get(id) ?? Infinity, days[row]));
    });
    const { developmentRows, heldOutRows, sealedRows, sides } = run(table, {
      split,
      sealedShare: 0.2,
    });
    const daysOf = (rows: Int32Array) => Array.from(rows, (row) => firstDay.get(ids[row])!);
    expect(Math.max(...daysOf(developmentRows))).toBeLessThan(Math.min(...daysOf(heldOutRows)));
    expect(Math.max(...daysOf(heldOutRows))).toBeLessThan(Math.min(...daysOf(sealedRows)));
    ids.forEach((id, row) => {
      if (!firstDay.has(id)) expect(sides[row]).toBe(side.unused);
    });
  });

  it('or from a day on', () => {
    const table = visits(8);
    const from = Math.round(Date.UTC(2025, 0, 1) / 86_400_000);
    const { heldOutRows, counts } = run(table, { split: { ...split, from } });
    const days = texts(table, 'seen on');
    for (const row of heldOutRows) expect(days[row] === '' || Number(days[row]) >= from).toBe(true);
    expect(counts.unplaced).toBeGreaterThan(0);
  });

  it('says so where all came on one day', () => {
    const rows = Array.from({ length: 40 }, (_, i) => ['2024-05-01', i % 3 ? 'no' : 'yes']);
    const { dictionary } = tableFromText(['seen on', 'stroke'], rows);
    dictionary[0] = { ...dictionary[0], kind: 'date' };
    const table = tableFromText(['seen on', 'stroke'], rows, dictionary);
    expect(() => run(table, { split })).toThrow('All patients have the same Seen on');
  });
});

describe('as said by the file', () => {
  /** Each patient once. */
  const once = (count = 300): Table => {
    const draw = randomStream(11, 'once');
    const rows = Array.from({ length: count }, (_, i) => [
      `P${i}`,
      ['old', 'new', 'vault'][i % 3],
      draw.uniform() < 0.3 ? 'yes' : 'no',
      String(i % 50),
    ]);
    const table = tableFromText(['id', 'part', 'stroke', 'age'], rows);
    table.dictionary[0].role = 'identifier';
    return table;
  };

  it('a column marks them', () => {
    const table = once();
    const { sides, counts } = run(table, {
      split: { way: 'by column', column: 'part', heldOut: ['new'], sealed: ['vault'] },
    });
    texts(table, 'part').forEach((part, row) =>
      expect(sides[row]).toBe({ old: 0, new: side.heldOut, vault: side.sealed }[part]),
    );
    expect(counts.sealed!.patients).toBe(100);
  });

  it('rows of the file, counted as they stand there', () => {
    const table = once();
    const split = { way: 'by rows', from: 201, to: 300 } as const;
    expect([...run(table, { split }).heldOutRows]).toEqual(
      [...Array(100).keys()].map((i) => i + 200),
    );
    // Where every second row of the file was excluded, row 201 of the file is the hundredth patient.
    const fileRows = Int32Array.from({ length: 300 }, (_, row) => 2 * row + 1);
    expect(run(table, { split }, { fileRows }).heldOutRows[0]).toBe(100);
  });

  it('all patients of a second file, whose rows stand below the first', () => {
    const table = once();
    const split = { way: 'second file', name: 'other.csv', from: 241 } as const;
    const { developmentRows, heldOutRows, folds } = run(table, { split });
    expect([...heldOutRows]).toEqual([...Array(60).keys()].map((i) => i + 240));
    expect(developmentRows).toHaveLength(240);
    expect(folds).toHaveLength(240);
    // Where nobody of it is in any more, and where somebody stands in both.
    const fileRows = Int32Array.from({ length: 300 }, (_, row) => (row % 240) + 1);
    expect(() => run(table, { split }, { fileRows })).toThrow('No patient of other.csv is in.');
    const twice = once();
    const ids = twice.columns[0];
    if (ids.type === 'text') ids.values[250] = 'P7';
    expect(() => run(twice, { split })).toThrow('One patient stands in other.csv and in the first');
    if (ids.type === 'text') for (let i = 251; i < 256; i++) ids.values[i] = `P${i - 240}`;
    expect(() => run(twice, { split })).toThrow(
      '6 patients stand in other.csv and in the first file (P7, P11, P12, …)',
    );
  });

  it('a second file names sides and folds', () => {
    const table = once();
    const patients = Array.from({ length: 290 }, (_, i) =>
      i % 4 === 0
        ? { identifier: `P${i}`, side: 'heldOut' as const }
        : { identifier: `P${i}`, side: 'development' as const, fold: 1 + (i % 3) },
    );
    const split = {
      way: 'as brought in' as const,
      allocation: '6f8b1a52-7a3f-4a43-9a51-0d7a1f3c2b10',
      name: 'sides.csv',
    };
    const { sides, folds, developmentRows, counts } = run(
      table,
      { split, folds: { way: 'as brought in' } },
      { broughtIn: { patients } },
    );
    for (let i = 0; i < 290; i++) expect(sides[i]).toBe(i % 4 === 0 ? side.heldOut : 0);
    expect(counts.unplaced).toBe(10);
    developmentRows.forEach((row, i) => expect(folds[i]).toBe(row % 3));
    expect(() => run(table, { split }, {})).toThrow('is not there any more');
    const others = patients.map((one) => ({ ...one, identifier: `Q${one.identifier}` }));
    expect(() => run(table, { split }, { broughtIn: { patients: others } })).toThrow(
      'names none of these patients',
    );
    const half = patients.map(({ fold: _, ...one }) => one);
    expect(() =>
      run(table, { split, folds: { way: 'as brought in' } }, { broughtIn: { patients: half } }),
    ).toThrow('says no fold for');
  });

  it.each([
    [{ way: 'by column', column: 'part', heldOut: ['new'], sealed: [] }, 'Part puts rows of'],
    [{ way: 'by rows', from: 1, to: 150 }, 'The range of rows 1 to 150 puts rows of'],
  ] as const)('refuses to tear a patient apart: %j', (split, sentence) => {
    const table = visits(12);
    expect(() => run(table, { split: split as Design['split'] })).toThrow(sentence);
    expect(() => run(table, { split: split as Design['split'] })).toThrow(DesignError);
  });

  it('says which column is not there any more', () => {
    expect(() =>
      run(once(), { split: { way: 'by column', column: 'arm', heldOut: ['b'], sealed: [] } }),
    ).toThrow('divided by “arm”, and these patients have no such column');
  });
});

describe('folds by group', () => {
  it('keeps hospitals whole and deals patients and cases about evenly', () => {
    const rows = Array.from({ length: 900 }, (_, i) => [
      `P${i}`,
      `H${Math.floor(Math.sqrt(i))}`,
      i % 5 === 0 ? 'yes' : 'no',
    ]);
    const table = tableFromText(['id', 'hospital', 'stroke'], rows);
    table.dictionary[0].role = 'identifier';
    const { folds, developmentRows, counts } = run(table, {
      folds: { way: 'by group', column: 'hospital', count: 5 },
    });
    const hospital = texts(table, 'hospital');
    const foldOf = new Map<string, number>();
    developmentRows.forEach((row, i) => {
      expect(foldOf.get(hospital[row]) ?? folds[i]).toBe(folds[i]);
      foldOf.set(hospital[row], folds[i]);
    });
    const sizes = counts.folds!.map(({ patients }) => patients);
    expect(Math.max(...sizes) / Math.min(...sizes)).toBeLessThan(1.15);
    const shares = counts.folds!.map(({ patients, events }) => events / patients);
    expect(Math.max(...shares) - Math.min(...shares)).toBeLessThan(0.06);
  });

  it('names each hospital that is left out in turn', () => {
    const table = visits(13);
    const { counts } = run(table, { folds: { way: 'each group', column: 'sex' } });
    expect(counts.folds!.map(({ name }) => name)).toEqual(['f', 'm']);
  });

  it('says what is too many, too few, or leaves nothing to learn from', () => {
    const table = visits(14);
    expect(() => run(table, { folds: { way: 'each group', column: 'id' } })).toThrow(
      'At most 50 are left out one by one',
    );
    expect(() => run(table, { folds: { way: 'by group', column: 'sex', count: 5 } })).toThrow(
      'of 2 groups: that is not enough for 5 folds',
    );
    const rows = Array.from({ length: 90 }, (_, i) => [
      i < 50 ? 'A' : 'B',
      i < 40 && i % 2 ? 'yes' : 'no',
    ]);
    const lopsided = tableFromText(['ward', 'stroke'], rows);
    expect(() => run(lopsided, { folds: { way: 'each group', column: 'ward' } })).toThrow(
      'Without A nobody is left to learn from who have the event',
    );
  });
});
