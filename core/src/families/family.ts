import type { Clusters } from '../measures/index.ts';
import type { Outcome, OutcomeKind, Predictions } from '../outcome/index.ts';
import type { Inputs } from '../preparation/index.ts';
import type { NamedArrays } from '../stored/index.ts';
import type { Facet, LossCurve } from './facets.ts';
import type { SettingField, Settings } from './settings.ts';

/** What a family is, without what it computes: all that the interface knows of it. */
export interface FamilyDescription {
  id: string;
  name: string;
  /** What it is and when it suits, in one sentence. */
  about: string;
  /** The kinds of outcome that it can predict. */
  outcomes: OutcomeKind[];
  /** Needs levels that have an order. */
  orderedOnly?: true;
  settings: SettingField[];
  /** The setting of which one fit gives other values too. */
  along?: Along;
  /** Draws patients by chance, so that a weight of two is not quite the patient twice. */
  drawsPatients?: true;
  /** Under any of these settings error costs enter the fit itself, not only the cutoff. */
  costsEnter?: Settings;
  /** Looks at no input: nothing need be prepared for it. */
  blind?: true;
  /** Takes gaps and levels: of the preparation, only the analyst's own steps are done for it. */
  takesGaps?: true;
  /** Wants its columns as they are, with gaps and levels: nothing is prepared for it. */
  asTheyAre?: true;
  /** Made of other candidates, each of which is fitted with settings, predictors and preparation of its own. */
  composed?: 'of several' | 'of one';
  /** Learns nothing: its prediction is the column or formula of its setting "formula". */
  fixed?: true;
}

/** A setting that lies along the way of a fit: one fit predicts as if it had had other values of it. */
export interface Along {
  setting: string;
  /** The value of those asked for that is fitted with: it has the others on its way. */
  fitted: 'greatest' | 'least';
  /** Only with these other settings. */
  under?: Settings;
}

/** What a fit may use besides its inputs. */
export interface FitContext {
  seed: number;
  /** One weight a patient; all 1 when left out. */
  weights?: Float64Array;
  /** What giving each level (in columns) costs by the true one (in rows); absent where nothing is said of it. */
  costs?: number[][];
  /** Several levels: the one that the others are compared with; the first when left out. */
  reference?: string;
  /** Where several rows are of one patient or group: standard errors are then by cluster, where the family can. */
  clusters?: Clusters;
  /** Values of the setting along its way that it will be asked to predict with; see `Along`. */
  alongValues?: number[];
  /** Called with the share done, 0 to 1. */
  progress?: (share: number) => void;
  /** Called after each step of learning, by families that can tell how the loss has fallen until then. */
  learning?: (soFar: () => LossCurve) => void;
}

/** Whether a fit with these settings depends on what errors cost. */
export const dependsOnCosts = ({ costsEnter }: FamilyDescription, settings: Settings): boolean =>
  Object.entries(costsEnter ?? {}).some(([name, value]) => settings[name] === value);

export const warningCodes = [
  'separation',
  'separation in folds',
  'not converged',
  'one outcome',
  'exact fit',
  'left out',
  'no inputs',
  'thresholds differ',
  'rule gives nothing',
  'balanced',
  'no split',
  'direction not kept',
  'too few in a level',
] as const;

/** A fit that cannot be made, said in a sentence that can be shown. */
export class FitObstacle extends Error {}

/** Something the analyst should know about a fit, with the figures that show it. */
export interface FitWarning {
  code: (typeof warningCodes)[number];
  sentence: string;
  /** The inputs it is about. */
  inputs?: string[];
}

/** A fitted model as it is kept: plain JSON, and arrays apart, which are stored as bytes. */
export interface Saved {
  version: number;
  json: unknown;
  arrays: NamedArrays;
}

/** Those by whom a patient is judged. */
export interface Neighbours {
  /** Names of inputs, and what of each is known of the patient: as it was prepared, null where it is not. */
  inputs: string[];
  own: (number | string | null)[];
  /** The nearest first. */
  patients: {
    /** In the measure of the fit: in SDs, or the share of all that could differ. */
    distance: number;
    /** What happened: 0 or 1, a level, or a number. */
    outcome: number | string;
    values: (number | string | null)[];
  }[];
}

/** What each input adds to what is said of a patient, in a sum. */
export interface Added {
  /** Whether the sum is what is said, or the log-odds of the risk that is said. */
  scale: 'said' | 'log-odds';
  /** Mean of the sum among those whom patients are compared with. */
  base: number;
  /** By input, then patient. */
  values: Float64Array[];
}

/** A fitted model: the one thing it can do. */
export interface Fitted {
  /** @param along as if it had been fitted with this value of the setting along its way; see `Along` */
  predict(inputs: Inputs, along?: number): Predictions;
  /**
   * 95% prediction interval of each patient's own number, lower and upper end in turn, where the
   * family can say one.
   */
  intervals?(inputs: Inputs): Float64Array;
  /** Those by whom the first patient is judged, where the family judges so. */
  neighbours?(inputs: Inputs): Neighbours;
  /**
   * What is predicted of the same patients with other values of some inputs, as `predict` says but for rounding, where
   * the family can tell it faster than by predicting each alternative.
   */
  predictAltered?(inputs: Inputs, alternatives: Inputs[]): Predictions[];
  /**
   * What each input adds, where the family is a sum over inputs or trees: exact Shapley values; undefined where
   * this outcome is no such sum.
   *
   * @param compared patients whom these are compared with, usually all that were learned from
   * @param counted several levels: places of those whose shares are summed
   */
  added?(inputs: Inputs, compared: Inputs, counted?: number[]): Added | undefined;
  /** From which `revive` makes an identical model. */
  save(): Saved;
}

/** How large a model is, as far as its family can tell. */
export interface ModelSize {
  /** Inputs that it looks at. */
  inputs: number;
  leaves?: number;
  trees?: number;
  /** Effective degrees of freedom, constants left out. */
  degrees?: number;
  /** Predictors that some input with a part in the prediction is made from; absent in fits from before it was counted. */
  predictors?: number;
}

export interface FitResult {
  fitted: Fitted;
  /** Absent where its family has nothing to tell of it. */
  size?: Partial<ModelSize>;
  warnings: FitWarning[];
  /** What the model can show, and what that warns of; worked out only when asked for. */
  describe: () => { facets: Facet[]; warnings: FitWarning[] };
}

/** A model family. Whoever uses one knows it only through this. */
export interface Family {
  description: FamilyDescription;
  /** @param outcome of a kind that the family can predict, known in every patient */
  fit(inputs: Inputs, outcome: Outcome, settings: Settings, context: FitContext): FitResult;
  /** Throws when it is not what `save` made. */
  revive(saved: Saved): Fitted;
  /** The inputs that it looks at at all; all where absent. */
  reads?(saved: Saved, names: string[]): string[];
  /** What a model shows that was kept before facets were kept beside it, as far as it can be told. */
  recall?(saved: Saved): Facet[];
}
