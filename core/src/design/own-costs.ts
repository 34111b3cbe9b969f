import * as z from 'zod';
import type { PatientCosts } from '../measures/index.ts';
import type { Table } from '../table/index.ts';
import type { Design } from './design.ts';

/** Columns that say what each patient's own errors cost; empty where all cost the same. */
export const ownCostsSchema = z.object({
  missed: z.string().max(200),
  falseAlarm: z.string().max(200),
});

/** The columns that costs are read from. */
export const columnsOfCosts = ({ ownCosts: { missed, falseAlarm } }: Pick<Design, 'ownCosts'>) =>
  [...new Set([missed, falseAlarm])].filter((name) => name !== '');

/**
 * What an error costs each of these patients: as the column says, or as for all where it says
 * nothing, or nothing that can be a cost. Undefined where no column of numbers is named.
 *
 * @param rows of the table
 */
export function patientCosts(
  design: Pick<Design, 'missedCost' | 'falseAlarmCost' | 'ownCosts'>,
  table: Pick<Table, 'dictionary' | 'columns'>,
  rows: ArrayLike<number>,
): PatientCosts | undefined {
  const own = (name: string) => {
    const column = table.columns[table.dictionary.findIndex((entry) => entry.name === name)];
    return column?.type === 'number' ? column.values : undefined;
  };
  const { missed, falseAlarm } = design.ownCosts;
  const [missedBy, alarmBy] = [own(missed), own(falseAlarm)];
  if (!missedBy && !alarmBy) return undefined;
  const costs = (values: ArrayLike<number> | undefined, common: number) =>
    Float64Array.from(rows, (row) => {
      const value = values?.[row] ?? common;
      return Number.isFinite(value) && value >= 0 ? value : common;
    });
  return {
    missed: costs(missedBy, design.missedCost),
    falseAlarm: costs(alarmBy, design.falseAlarmCost),
  };
}
