import type { OutcomeKind } from '../outcome/index.ts';
import type { TriedSize } from '../trees/index.ts';
import type { HowMoved } from './recalibrated/risk-map.ts';

/** One line of a coefficient table, on the scale of the model inputs. */
export interface Coefficient {
  term: string;
  /** Absent, with all that follows, where there is no finite one: the outcome is separated by it. */
  estimate?: number;
  /** Absent where it cannot be computed. */
  standardError?: number;
  /** Estimate over standard error, against the normal distribution. */
  z?: number;
  /** The same against Student's t, where the spread was estimated too. */
  t?: number;
  p?: number;
  /** 95% interval of the estimate itself, where it is in the outcome's unit. */
  interval?: [number, number];
  /** Absent where it is beyond what a number can hold. */
  oddsRatio?: number;
  /** 95% Wald interval of the odds ratio; absent likewise. */
  oddsRatioInterval?: [number, number];
  /** Variance inflation factor of the input; absent for intercepts and thresholds. */
  inflation?: number;
}

/** Coefficients that belong together: of one level against another, or all there are. */
export interface CoefficientGroup {
  /** Absent where there is one group only. */
  title?: string;
  lines: Coefficient[];
}

/** Figures of a likelihood fit. */
export interface LikelihoodSummary {
  patients: number;
  /** Of yes/no outcomes only. */
  events?: number;
  logLikelihood: number;
  /** With half of the logarithm of the information's determinant, which bias-reduced estimates make greatest. */
  penalised?: number;
  nullDeviance: number;
  nullDegrees: number;
  residualDeviance: number;
  residualDegrees: number;
  aic: number;
  /** Absent in fits from before it was kept. */
  bic?: number;
  iterations: number;
}

/** Figures of a least-squares fit. */
export interface VarianceSummary {
  patients: number;
  /** Coefficients estimated, the intercept among them. */
  parameters: number;
  residualDegrees: number;
  /** Square root of residual sum of squares over residual degrees of freedom. */
  residualStandardError: number;
  /** Share of the variance explained; absent where the outcome does not vary. */
  rSquared?: number;
  adjustedRSquared?: number;
  /** All slopes against none; absent without slopes or without residual. */
  f?: { value: number; degrees: [number, number]; p: number };
  /** Infinite where the residuals are zero, as the likelihood then has no maximum; AIC and BIC likewise. */
  logLikelihood: number;
  /** The residual SD counts as a parameter. */
  aic: number;
  bic: number;
}

/** Whether the slopes of proportional odds are the same at every threshold. */
export interface Proportionality {
  overall: ProportionalityTest;
  inputs: ({ input: string } & ProportionalityTest)[];
}

export interface ProportionalityTest {
  chiSquare: number;
  degrees: number;
  p: number;
}

/** A rule that is taken as the prediction. */
export interface RuleSummary {
  formula: string;
  /** Its answers where there are few, with how many patients got each; of yes/no outcomes, how many have the event. */
  answers: { answer: string; patients: number; events?: number }[];
}

/** A tree as it is drawn: nodes by place, the root first. */
export interface TreeShown {
  kind: OutcomeKind;
  /** Kind 'levels': those that counts are of. */
  levels?: string[];
  /** Patients of the usual mix that the shares of a leaf are drawn by. */
  drawn: number;
  nodes: ShownNode[];
  /** What a loss of the sizes is, of each patient. */
  loss: 'Brier score' | 'error cost' | 'squared error';
  /** The pruning sequence, from the largest tree to the root alone. */
  sizes: TriedSize[];
  /** Place among the sizes of the fitted tree; -1 where all that was grown stays. */
  chosen: number;
  /** Place of the largest that is among the nodes. */
  first: number;
  /** Places of the least estimate, and of the smallest within one standard error. */
  best: number;
  simplest: number;
}

/** A node, and where it goes on the question that parts its patients. */
export interface ShownNode {
  /** By weight, where patients have weights. */
  patients: number;
  /** Of each level; of yes and no, those without and with the event. */
  counts?: number[];
  mean?: number;
  left?: number;
  right?: number;
  input?: string;
  /** A number: whoever has less goes left; absent where only who lacks it goes right. */
  below?: number;
  /** The levels that go left. */
  levels?: string[];
  gapsLeft?: boolean;
  /** Place among the sizes from which on it is a leaf. */
  from?: number;
}

/** How good a model is along one of its settings, of which each value is a model of its own. */
export interface LossCurve {
  along: 'trees' | 'neighbours' | 'epochs';
  loss: LossName;
  /** Where the values of each line stand, ascending. */
  at: number[];
  lines: { whose: 'learned from' | 'inner fold' | 'out of bag'; values: number[] }[];
  /** Loss in the same patients if all are said to be what all are. */
  plain?: number;
  chosen: number;
}

export type LossName = 'log loss' | 'Brier score' | 'mean squared error';

/** How much a model needs each input. */
export interface ImportanceShown {
  /** What rises by an input's importance when its values are dealt anew among patients. */
  loss: LossName;
  /** Patients in whom it was tried, and whether they were learned from. */
  patients: number;
  whose: 'inner fold' | 'out of bag';
  /** Most important first. */
  inputs: {
    input: string;
    rise: number;
    /** 95%, by the spread among patients. */
    interval: [number, number];
    /** Share of what all splits gained. */
    gained: number;
  }[];
}

/** The path of a penalised regression, from strong to weak. */
export interface PathShown {
  /** Share of lasso. */
  mix: number;
  loss: LossName;
  strengths: number[];
  /** Of several levels, each of which has coefficients of its own. */
  levels?: string[];
  /** By level, or one: the constant at each strength. */
  constants: number[][];
  /** Inputs that come in first, in the order of the table: coefficients by level at each strength. */
  lines: { input: string; deviation: number; ways: number[][] }[];
  /** How many inputs there are, and how many have a coefficient at each strength. */
  inputs: number;
  counts: number[];
  /** Loss in inner folds, and its standard error; places of the least and of the strongest within one of it. */
  tried: { mean: number[]; error: number[]; best: number; simplest: number };
  /** Loss in the patients learned from without any input. */
  plain: number;
  /** Place of the strength of the model; -1 where nothing could be chosen. */
  chosen: number;
}

/** How inputs are spread in each level of the outcome. */
export interface DensitiesShown {
  outcome: 'event' | 'levels';
  /** Of the outcome. */
  levels: string[];
  /** Shares that a patient begins from. */
  priors: number[];
  /** The most telling first. */
  inputs: DensityShown[];
}

export interface DensityShown {
  input: string;
  /** Of a patient drawn from a level, how much of the way from what all have, 0 to 1. */
  apart: number;
  /** A number: ends of the ruler, and densities along it by level of the outcome. */
  at?: [number, number];
  densities?: number[][];
  /** Of normal curves. */
  means?: number[];
  deviations?: number[];
  /** Levels of the predictor, and by level of the outcome the shares of each. */
  levels?: string[];
  shares?: number[][];
}

/** The directions in which levels of the outcome lie apart. */
export interface DiscriminantsShown {
  outcome: 'event' | 'levels';
  levels: string[];
  priors: number[];
  inputs: string[];
  /** The one that parts them most first. */
  directions: {
    /** Of all that parts levels. */
    share: number;
    /** Where the mean of each level lies, in SDs within levels. */
    means: number[];
    /** By input, per SD within levels. */
    weights: number[];
    /** Ends of the ruler, and densities of patients along it by level. */
    at?: [number, number];
    densities?: number[][];
  }[];
  /** Along the first two, where there are as many. */
  map?: {
    /** Least and greatest score that is drawn. */
    across: [number, number];
    up: [number, number];
    /** Some of them, drawn by chance where they are many. */
    patients: { at: [number, number]; level: number }[];
    /** Pieces of the lines on which two levels are as likely: x and y of both ends. */
    borders: [number, number, number, number][];
  };
}

/** Borders, how many patients each rests on, and where patients of inner folds lie from it. */
export interface MarginShown {
  outcome: OutcomeKind;
  shape: 'linear' | 'radial' | 'polynomial';
  cost: number;
  /** How far apart patients are whose likeness is e to the power of -1/2, in SDs. */
  width?: number;
  /** Of a number, differences that cost nothing, in its unit. */
  tube?: number;
  machines: {
    /** Levels on both sides, that of higher decision values last. */
    pair?: [string, string];
    patients: number;
    supports: number;
    /** Of them, those inside the margin or beyond it. */
    atMost: number;
    steps: number;
    /** Risk at a decision value: 1 / (1 + e^(slope × value + constant)). */
    sigmoid?: { slope: number; constant: number };
    /** Ends of the ruler of decision values, and densities along it by side. */
    at?: [number, number];
    densities?: number[][];
  }[];
}

/** Whether a curve differs from none, or from a straight line. */
export interface TermTest {
  /** Chi-square, or F of a number. */
  statistic: number;
  /** Degrees of freedom of the curve that were looked at. */
  rank: number;
  p: number;
}

/** What an additive model adds up, in log-odds or in the outcome's unit. */
export interface TermsShown {
  outcome: 'event' | 'number';
  patients: number;
  /** Effective degrees of freedom together. */
  degrees: number;
  /** Share of deviance, or of variance, that it explains. */
  explained: number;
  /** Of a number: standard deviation of what is left. */
  deviation?: number;
  iterations: number;
  /** Patients or groups by which standard errors are robust; ratios are then judged by Student's t and F. */
  byCluster?: number;
  curves: {
    input: string;
    degrees: number;
    there: TermTest;
    /** Absent where the curve is as good as straight. */
    bent?: TermTest;
    /** Places, what is added there, and its standard error; on average of patients 0 is added. */
    at: number[];
    values: number[];
    error: number[];
    /** At both ends, the straight line that lies nearest to the curve in the patients. */
    line: [number, number];
    deciles: number[];
  }[];
  /** Added per unit; without standard error where an input repeats others. */
  lines: { input: string; estimate: number; standardError?: number; p?: number }[];
}

/** A network as it is drawn. */
export interface NetworkShown {
  outcome: OutcomeKind;
  levels?: string[];
  inputs: string[];
  /** Inputs, hidden units of each layer, outputs. */
  sizes: number[];
  /** Layer by layer, of each unit its constant, then a weight for each unit before; of inputs per SD. */
  parameters: number[];
  /** How long was learned, of how many epochs at most, and why no longer. */
  epochs: number;
  most: number;
  ended: 'in time' | 'at the last';
}

/** What a model of two predictors says anywhere in their plane. */
export interface RegionsShown {
  across: MapAxis;
  up: MapAxis;
  /** In the middle of each cell, row by row from below; of several levels the share of each in turn. */
  predicted: { kind: OutcomeKind; levels?: string[]; values: number[] };
  /**
   * Development patients: places among these, and where they stand, levels as places among those of the axis.
   */
  patients: { place: number[]; across: number[]; up: number[] };
  /** Patients who would be drawn, and stand beyond the ends or are not known. */
  outside: number;
  /** Development patients. */
  of: number;
}

/** A number in cells of equal width, or the levels that patients have. */
export type MapAxis =
  | { column: string; from: number; to: number; cells: number }
  | { column: string; levels: string[] };

/** How many cells an axis has. */
export const cellsOf = (axis: MapAxis): number =>
  'levels' in axis ? axis.levels.length : axis.cells;

/** The parts of a blend, and what they come to together. */
export interface BlendShown {
  weights: 'learned' | 'equal';
  loss: 'Brier score' | 'mean squared error';
  /** Patients by whom the weights were learned, whom the parts had not learned from; absent for equal ones. */
  patients?: number;
  /** Loss of the blend in them, with weights that were learned from these very patients. */
  together?: number;
  parts: {
    name: string;
    family: string;
    weight: number;
    /** Columns that it was given. */
    predictors: number;
    /** Its loss in the patients that weights were learned by. */
    alone?: number;
  }[];
}

/** How the risks of a candidate were moved, and what came of it in patients whom it had not learned from. */
export interface RecalibrationShown {
  how: HowMoved;
  /** The candidate that it was. */
  name: string;
  family: string;
  /** Those by whom it was learned. */
  patients: number;
  cases: number;
  /** As predicted by the candidate, and as moved by a map learned without the patient's inner fold. */
  before: RiskLosses;
  after: RiskLosses;
  /** Of the log-odds; absent for an isotonic map. */
  line?: { constant: number; slope: number };
  /** Risks nearer 0 or 1 than this are taken as this; how many of the patients have one. */
  clipped?: { least: number; patients: number };
  /** Risks and what they become, rising; none where nothing was learned. */
  points: [number, number][];
}

/** Mean risk and mean losses; the log loss is null where it has no bound. */
interface RiskLosses {
  told: number;
  brier: number;
  logLoss: number | null;
}

/** What a fitted model can show of itself, made when it is fitted and kept beside it. */
export interface FacetsOf {
  /** By profile: p and intervals come from the profile of the penalised likelihood, not from the standard error. */
  /** `byCluster`: patients or groups by which standard errors are robust; the ratios are then judged by Student's t. */
  coefficients: { groups: CoefficientGroup[]; byProfile?: boolean; byCluster?: number };
  likelihood: LikelihoodSummary;
  variance: VarianceSummary;
  proportionality: Proportionality;
  rule: RuleSummary;
  tree: TreeShown;
  curve: LossCurve;
  importance: ImportanceShown;
  regions: RegionsShown;
  path: PathShown;
  densities: DensitiesShown;
  discriminants: DiscriminantsShown;
  network: NetworkShown;
  margin: MarginShown;
  terms: TermsShown;
  blend: BlendShown;
  recalibration: RecalibrationShown;
}

export type FacetKind = keyof FacetsOf;
export type Facet = { [K in FacetKind]: { kind: K; value: FacetsOf[K] } }[FacetKind];

/** The facet of one kind; undefined where there is none. */
export function facetOf<K extends FacetKind>(facets: Facet[], kind: K): FacetsOf[K] | undefined {
  return facets.find((facet) => facet.kind === kind)?.value as FacetsOf[K] | undefined;
}
