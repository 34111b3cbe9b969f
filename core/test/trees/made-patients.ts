import { randomStream } from '../../src/numeric/index.ts';
import type { Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';

const risk = (score: number) => 1 / (1 + Math.exp(-score));

/** Patients whose risk rises with one number, falls with another, and depends on a level and on gaps. */
export function madePatients(
  count: number,
  seed = 1,
): { inputs: Inputs; outcome: Outcome<'event'>; risks: number[] } {
  const draw = randomStream(seed, 'patients');
  const column = (of: () => number) => Float64Array.from({ length: count }, of);
  const columns = [
    column(() => draw.normal()),
    column(() => draw.normal()),
    column(() => (draw.uniform() < 0.2 ? NaN : draw.normal())),
    column(() => (draw.uniform() < 0.1 ? NaN : Math.floor(5 * draw.uniform()))),
  ];
  const risks = Array.from({ length: count }, (_, row) => {
    const [rising, falling, gappy, level] = columns.map((one) => one[row]);
    const wave = Math.sin(2 * rising) + rising - falling;
    return risk(wave + (Number.isNaN(gappy) ? 1 : 0) + (level === 3 ? 1 : 0) - 1);
  });
  const values = Int8Array.from(risks, (one) => Number(draw.uniform() < one));
  const levels = [undefined, undefined, undefined, ['a', 'b', 'c', 'd', 'e']];
  const names = ['rising', 'falling', 'gappy', 'level'];
  return {
    inputs: { rowCount: count, names, columns, levels },
    outcome: { kind: 'event', values },
    risks,
  };
}

export const takenInputs = ({ columns, ...rest }: Inputs, rows: number[]): Inputs => ({
  ...rest,
  rowCount: rows.length,
  columns: columns.map((column) => Float64Array.from(rows, (row) => column[row])),
});

export const takenEvents = ({ values }: Outcome<'event'>, rows: number[]): Outcome<'event'> => ({
  kind: 'event',
  values: Int8Array.from(rows, (row) => values[row]),
});
