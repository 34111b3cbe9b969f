import * as z from 'zod';
import { isCodes } from '../working.ts';
import { byName } from './by-name.ts';
import { changeEach, choose, chosenColumns } from './chosen-columns.ts';
import { relevelled } from './rename-levels.ts';
import type { Step } from './step.ts';

const choice = z.object({
  columns: chosenColumns,
  /** Levels that fewer patients have than these are taken together. */
  fewer: z.number().int().min(2).max(1_000_000),
  /** What they are called. */
  name: z.string().min(1).max(60).default('other'),
});
type Choice = z.infer<typeof choice>;

const learned = z.array(
  z.object({ column: z.string(), into: byName<string>(), patients: byName<number>() }),
);
type Learned = z.infer<typeof learned>;

/** Levels that few patients have, as one. */
export const rareLevels: Step<Learned, Choice> = {
  name: 'Take rare levels together',
  about: 'Levels that few patients have become one level.',
  choice,
  learned,
  learn(columns, _, { columns: chosen, fewer, name }) {
    return choose(columns, chosen, isCodes).flatMap(({ source, codes, levels }) => {
      const counts = levels.map(() => 0);
      for (const code of codes) if (code >= 0) counts[code]++;
      const rare = levels.filter((_, code) => counts[code] > 0 && counts[code] < fewer);
      // One alone would only get another name.
      if (rare.length < 2) return [];
      const of = <T>(value: (level: string) => T) =>
        Object.fromEntries(rare.map((level) => [level, value(level)]));
      const patients = of((level) => counts[levels.indexOf(level)]);
      return [{ column: source, into: of(() => name), patients }];
    });
  },
  apply: (fitted, columns) =>
    changeEach(fitted, columns, isCodes, (column, { into }) => relevelled(column, into)),
  effects: (fitted) =>
    fitted.flatMap(({ column, into, patients }) =>
      Object.entries(into).map(([level, to]) => ({
        what: 'renamed' as const,
        column,
        level,
        into: to,
        patients: patients[level] ?? 0,
      })),
    ),
};
