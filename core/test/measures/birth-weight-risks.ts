import { familyOf, settingsSchema } from '../../src/families/index.ts';
import { predictionsOf } from '../../src/outcome/index.ts';
import { columnsOf } from '../reference/sets.ts';

/**
 * Hosmer & Lemeshow's mothers: risks of a low birth weight by a logistic regression of all columns.
 *
 * @param half learned from the first, third, fifth … and told of the others; else of the very same
 */
export function birthWeightRisks(half = false): { risks: Float64Array; events: Int8Array } {
  const names = ['age', 'lwt', 'race', 'smoke', 'ptl', 'ht', 'ui', 'ftv', 'low'];
  const { columns, rowCount } = columnsOf('birthwt', names);
  const is = (race: number) => columns[2].map((one) => Number(one === race));
  const all = [columns[0], columns[1], is(2), is(3), ...columns.slice(3, 8)];
  const places = Array.from({ length: rowCount }, (_, i) => i);
  const of = (rows: number[]) => ({
    inputs: {
      rowCount: rows.length,
      names: ['age', 'lwt', 'race2', 'race3', 'smoke', 'ptl', 'ht', 'ui', 'ftv'],
      columns: all.map((column) => Float64Array.from(rows, (row) => column[row])),
    },
    events: Int8Array.from(rows, (row) => columns[8][row]),
  });
  const learned = of(half ? places.filter((i) => i % 2 === 0) : places);
  const told = of(half ? places.filter((i) => i % 2 === 1) : places);
  const logistic = familyOf('logistic');
  const { fitted } = logistic.fit(
    learned.inputs,
    { kind: 'event', values: learned.events },
    settingsSchema(logistic.description.settings).parse({}),
    { seed: 1 },
  );
  const { risks } = predictionsOf(fitted.predict(told.inputs), 'event');
  return { risks, events: told.events };
}
