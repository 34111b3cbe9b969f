import { isCoded, type Column, type DictionaryEntry, type Table } from '../table/index.ts';
import { FormulaError } from './error.ts';
import { evaluateFormula } from './evaluate.ts';

/** A derived column that cannot be worked out, with its name. */
export class DerivedColumnError extends Error {
  constructor(
    readonly column: string,
    readonly fault: string,
  ) {
    super(`${column}: ${fault}`);
  }
}

/**
 * The column of a derived entry on a table that has what it reads, and the entry with the kind and
 * levels that came of it. Throws a DerivedColumnError when it cannot be worked out.
 */
export function deriveColumn(
  entry: DictionaryEntry,
  table: Table,
): { entry: DictionaryEntry; column: Column } {
  try {
    const { column, kind } = evaluateFormula(entry.formula!, table);
    const { levels: _, ...rest } = entry;
    return {
      column,
      entry: {
        ...rest,
        kind,
        ...(isCoded(kind) && column.type === 'coded' && { levels: column.levels }),
      },
    };
  } catch (error) {
    if (error instanceof FormulaError) throw new DerivedColumnError(entry.name, error.message);
    throw error;
  }
}
