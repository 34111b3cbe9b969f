import type { Support } from './support.ts';

/** What a preparation does to one column, in figures. */
export type Effect = { column: string } &
  /** Gaps become this; null where nothing was known, and the column ends here. */
  (
    | { what: 'filled'; gaps: number; number?: number | null; level?: string | null }
    /** An input says that it, or these together, are not known; `column` is the first of them. */
    | ({ what: 'gap marked'; columns: string[] } & Support)
    /** Too few patients lack it for an input of its own. */
    | ({ what: 'gap not marked' } & Support)
    /** Columns whose gaps come with its own, and in how many patients they did not. */
    | { what: 'gap companions'; others: { column: string; without: number }[] }
    /** A level that too few patients have is taken for another from here on. */
    | ({ what: 'level pooled'; level: string; into: string | undefined } & Support)
    | { what: 'indicators'; reference: string; levels: string[] }
    | { what: 'standardised'; mean: number; sd: number }
    | { what: 'left out'; why: 'no variation' }
    | ({ what: 'left out'; why: 'too few differ' } & Support)
  );

export type EffectKind = Effect['what'];
export type EffectOf<What extends EffectKind> = Extract<Effect, { what: What }>;
