import type { Support } from './support.ts';

/** What a preparation does to one column, in figures. */
export type Effect = { column: string } &
  /** Gaps become this; null where nothing was known, and the column ends here. */
  (
    | {
        what: 'filled';
        gaps: number;
        number?: number | null;
        level?: string | null;
        /** How, where it is not one value for all or another than the median or commonest level. */
        how?: FillHow;
      }
    /** It goes into the model as it is. */
    | { what: 'gap kept'; gaps: number }
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
    | { what: 'left out'; why: 'gaps'; share: number }
    | { what: 'left out'; why: 'alike'; other: string; correlation: number }
    /** Values that are taken as not known. */
    | { what: 'made unknown'; patients: number }
    | { what: 'renamed'; level: string; into: string; patients: number }
    /** Patients with too many gaps, who are not learned from; `column` is empty. */
    | { what: 'patients left out'; patients: number; of: number }
    | { what: 'clipped'; low: number | null; high: number | null; patients: number }
    | { what: 'reshaped'; how: string; lambda?: number }
    | { what: 'rescaled'; how: string; centre: number; width: number }
    /** Levels become these numbers. */
    | { what: 'numbered'; how: 'order' | 'case share'; values: Record<string, number> }
    /** A column of the step's own. */
    | {
        what: 'made';
        of: string[];
        how: 'spline' | 'product' | 'component' | 'unusualness';
        share?: number;
      }
    /** What the step was to do cannot be done to it. */
    | { what: 'left as it is'; why: string }
  );

export type FillHow =
  | 'mean'
  | 'median'
  | 'most common'
  | 'constant'
  | 'own level'
  | 'nearest patients'
  | 'chained regressions';

export type EffectKind = Effect['what'];
export type EffectOf<What extends EffectKind> = Extract<Effect, { what: What }>;
