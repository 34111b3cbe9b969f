import * as z from 'zod';
import type { Inputs } from '../preparation/index.ts';

/** One setting of a family: everything the interface needs to ask for it. */
export type SettingField = {
  name: string;
  label: string;
  /** What it does, in one sentence. */
  help: string;
} & (
  | { type: 'number'; least: number; most: number; step: number; whole: boolean; default: number }
  | { type: 'choice'; options: { value: string; label: string }[]; default: string }
  | { type: 'switch'; default: boolean }
);

export type Settings = Record<string, number | string | boolean>;

/** What a fit may use besides its inputs. */
export interface FitContext {
  seed: number;
  /** One weight a patient; all 1 when left out. */
  weights?: Float64Array;
  /** Called with the share done, 0 to 1. */
  progress?: (share: number) => void;
}

/** One line of a coefficient table, on the scale of the model inputs. */
export interface Coefficient {
  term: string;
  /** Absent, with all that follows, where there is no finite one: the outcome is separated by it. */
  estimate?: number;
  /** Absent where it cannot be computed. */
  standardError?: number;
  z?: number;
  p?: number;
  /** Absent where it is beyond what a number can hold. */
  oddsRatio?: number;
  /** 95% Wald interval of the odds ratio; absent likewise. */
  oddsRatioInterval?: [number, number];
}

/** Figures of a likelihood fit. */
export interface LikelihoodSummary {
  patients: number;
  events: number;
  logLikelihood: number;
  nullDeviance: number;
  nullDegrees: number;
  residualDeviance: number;
  residualDegrees: number;
  aic: number;
  iterations: number;
}

/** Something the analyst should know about a fit, with the figures that show it. */
export interface FitWarning {
  code: 'separation' | 'separation in folds' | 'not converged' | 'left out' | 'no inputs';
  sentence: string;
  /** The inputs it is about. */
  inputs?: string[];
}

/** A fitted family: plain data plus the one thing it can do. */
export interface Fitted {
  /** Probability of the event, one a patient. */
  predict(inputs: Inputs): Float64Array;
  /** Plain JSON from which `revive` makes an identical model. */
  toJSON(): unknown;
  coefficients?: Coefficient[];
  likelihood?: LikelihoodSummary;
  warnings: FitWarning[];
}

/** A model family. The interface knows families only through this. */
export interface Family {
  id: string;
  name: string;
  /** What it is and when it suits, in one sentence. */
  about: string;
  settings: SettingField[];
  /** Looks at no input: nothing need be prepared for it. */
  blind?: true;
  /** @param events 1 or 0 a patient */
  fit(inputs: Inputs, events: ArrayLike<number>, settings: Settings, context: FitContext): Fitted;
  /** Throws when the JSON is not one that `toJSON` made. */
  revive(json: unknown): Fitted;
}

/** Validates the settings of a family and fills in what is left out. */
export function settingsSchema(fields: SettingField[]) {
  return z.object(Object.fromEntries(fields.map((field) => [field.name, fieldSchema(field)])));
}

function fieldSchema(field: SettingField) {
  if (field.type === 'switch') return z.boolean().default(field.default);
  if (field.type === 'choice') {
    const values = field.options.map((option) => option.value);
    return z
      .string()
      .refine((value) => values.includes(value), `${field.label}: choose one of the options.`)
      .default(field.default);
  }
  const range = `${field.label}: from ${field.least} to ${field.most}.`;
  const number = z.number({ error: range }).min(field.least, range).max(field.most, range);
  const whole = field.whole ? number.int(`${field.label}: a whole number.`) : number;
  return whole.default(field.default);
}
