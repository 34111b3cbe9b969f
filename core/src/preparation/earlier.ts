import type { FittedPreparation } from './preparation.ts';

/** A gap indicator, or another part, in models from before preparations were a list of steps. */
interface Earlier {
  asTheyAre?: true;
  patients: number;
  filled: { column: string; gaps: number; number?: number | null; level?: string | null }[];
  /** Absent in models from before inputs had to be supported: each column with gaps has its own. */
  gaps?: unknown;
  pooled?: unknown;
  indicators: unknown;
  standardised: unknown;
  inputs: FittedPreparation['inputs'];
}

/** A preparation of fixed parts as the list of steps that does the same. */
export function raisePreparation(json: unknown): unknown {
  const { asTheyAre, patients, inputs, ...earlier } = json as Earlier;
  if (asTheyAre) return { patients, steps: [], inputs };
  const { filled, gaps, pooled, indicators, standardised } = earlier;
  return {
    patients,
    inputs,
    steps: [
      { step: 'mark gaps', learned: gaps ?? gapsOfEach(filled) },
      { step: 'fill gaps', learned: filled },
      { step: 'pool levels', learned: pooled ?? [] },
      { step: 'indicators', learned: indicators },
      { step: 'standardise', learned: standardised },
    ],
  };
}

function gapsOfEach(filled: Earlier['filled']) {
  return {
    inputs: filled
      .filter((entry) => entry.gaps > 0 && (entry.number ?? entry.level ?? null) !== null)
      .map(({ column, gaps }) => ({ columns: [column], patients: gaps })),
    tooFew: [],
    comesWith: {},
  };
}
