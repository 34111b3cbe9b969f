/** What can be predicted: whether an event comes, which of several levels, or a number. */
export const outcomeKinds = ['event', 'levels', 'number'] as const;
export type OutcomeKind = (typeof outcomeKinds)[number];

/** What happened, one entry a patient. */
export interface Outcomes {
  /** 1 with the event, 0 without, -1 where not known. */
  event: { values: Int8Array };
  /** Codes of `levels`; -1 where not known. */
  levels: { values: Int32Array; levels: string[]; ordered: boolean };
  /** NaN where not known. */
  number: { values: Float64Array };
}

/** What a model says, one entry a patient. */
export interface PredictionsOf {
  /** Probability of the event. */
  event: { risks: Float64Array };
  /** Probability of each level, row-major, patients x levels. */
  levels: { levels: string[]; shares: Float64Array };
  number: { values: Float64Array };
}

type Tagged<M> = { [K in keyof M]: { kind: K } & M[K] };

export type Outcome<K extends OutcomeKind = OutcomeKind> = Tagged<Outcomes>[K];
export type Predictions<K extends OutcomeKind = OutcomeKind> = Tagged<PredictionsOf>[K];

/** An outcome that must be of one kind. Throws where it is of another: the caller chose wrongly. */
export function ofKind<K extends OutcomeKind>(outcome: Outcome, kind: K): Outcome<K> {
  if (outcome.kind !== kind)
    throw new Error(`The outcome is of kind ${outcome.kind}, not ${kind}.`);
  return outcome as Outcome<K>;
}

/** Predictions that must be of one kind. Throws where they are of another. */
export function predictionsOf<K extends OutcomeKind>(
  predictions: Predictions,
  kind: K,
): Predictions<K> {
  if (predictions.kind !== kind)
    throw new Error(`The predictions are of kind ${predictions.kind}, not ${kind}.`);
  return predictions as Predictions<K>;
}
