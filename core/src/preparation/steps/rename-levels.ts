import * as z from 'zod';
import { isCodes, type CodedWorking } from '../working.ts';
import { byName } from './by-name.ts';
import { changeEach } from './chosen-columns.ts';
import type { Step } from './step.ts';

const choice = z.object({
  column: z.string(),
  /** Level by level, what it is called from here on; two with one name are merged. */
  into: byName<string>(),
});
type Choice = z.infer<typeof choice>;

const learned = choice.extend({ patients: byName<number>() });
type Learned = z.infer<typeof learned>;

/** Levels under other names, or several as one. */
export const renameLevels: Step<Learned, Choice> = {
  name: 'Rename or merge levels',
  about: 'Levels get other names; those with the same name become one.',
  choice,
  learned,
  learn(columns, _, { column: name, into }) {
    const column = columns.filter(isCodes).find(({ source }) => source === name);
    const patients = Object.keys(into).map((level) => [level, column ? count(column, level) : 0]);
    return { column: name, into, patients: Object.fromEntries(patients) as Record<string, number> };
  },
  apply: (asked, columns) =>
    changeEach([asked], columns, isCodes, (column) => relevelled(column, asked.into)),
  effects: ({ column, into, patients }) =>
    Object.entries(into).map(([level, to]) => ({
      what: 'renamed',
      column,
      level,
      into: to,
      patients: patients[level] ?? 0,
    })),
};

/** A coded column whose levels have the names that `into` gives them. */
export function relevelled(column: CodedWorking, into: Record<string, string>): CodedWorking {
  const names = new Map(Object.entries(into));
  const levels: string[] = [];
  const codeOf = column.levels.map((level) => {
    const name = names.get(level) ?? level;
    if (!levels.includes(name)) levels.push(name);
    return levels.indexOf(name);
  });
  const codes = new Int32Array(column.codes.length);
  for (let i = 0; i < codes.length; i++)
    codes[i] = column.codes[i] < 0 ? -1 : codeOf[column.codes[i]];
  return { ...column, codes, levels };
}

function count({ codes, levels }: CodedWorking, level: string): number {
  const code = levels.indexOf(level);
  return codes.reduce((sum, one) => sum + Number(one === code), 0);
}
