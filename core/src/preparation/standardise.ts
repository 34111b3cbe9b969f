import type { Step } from './working.ts';

/** Mean and standard deviation (divisor n) that a number column is standardised with. */
export interface StandardisedColumn {
  column: string;
  mean: number;
  sd: number;
}

/** (value - mean) / SD for number columns; indicators stay 0 and 1. A column without variation is left out. */
export const standardise: Step<StandardisedColumn[]> = {
  id: 'standardise',

  fit(columns) {
    return columns.flatMap((column) => {
      if (column.type !== 'number' || column.part !== 'value') return [];
      const n = column.values.length;
      let sum = 0;
      for (let i = 0; i < n; i++) sum += column.values[i];
      const mean = sum / n;
      let squares = 0;
      for (let i = 0; i < n; i++) squares += (column.values[i] - mean) ** 2;
      const variance = squares / n;
      // Rounding in the mean leaves a constant column a variance of about (1e-16 × mean)².
      const sd = Math.sqrt(variance);
      return [{ column: column.source, mean, sd: sd > 1e-12 * Math.abs(mean) ? sd : 0 }];
    });
  },

  apply(fitted, columns) {
    const scales = new Map(fitted.map((entry) => [entry.column, entry]));
    return columns.flatMap((column) => {
      if (column.type !== 'number' || column.part !== 'value') return [column];
      const scale = scales.get(column.source);
      if (!scale || scale.sd === 0) return [];
      const { mean, sd } = scale;
      const values = new Float64Array(column.values.length);
      for (let i = 0; i < values.length; i++) values[i] = (column.values[i] - mean) / sd;
      return [{ ...column, values }];
    });
  },
};
