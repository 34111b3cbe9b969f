import * as z from 'zod';
import {
  outcomeKinds,
  type CaseRule,
  type OutcomeChoice,
  type OutcomeKind,
} from '../outcome/index.ts';
import { columnsOfFolds, foldsSchema } from './folds/index.ts';
import { balancingSchema, type Balancing } from '../balancing/index.ts';
import { arrangedStepSchema, type ArrangedStep } from '../preparation/index.ts';
import { DesignError } from './design-error.ts';
import { levelCostsSchema } from './level-costs.ts';
import { ownCostsSchema } from './own-costs.ts';
import { columnsOfSplit, splitsByShare, splitSchema } from './split/index.ts';
import { canPredict, display, type Dictionary, type DictionaryEntry } from '../table/index.ts';

const keptName = z.string().trim().min(1, 'Give it a name.').max(60);

/** What the analyst decides before anything is fitted. */
export const designSchema = z.object({
  /** Name of the outcome column; empty until chosen. */
  outcome: z.string(),
  /** What it is predicted as. */
  kind: z.enum(outcomeKinds).default('event'),
  /** Kind 'event': the level to find; empty until chosen. */
  event: z.string(),
  /** Kind 'levels': the level that the others are compared with, and those that are called in. */
  reference: z.string().default(''),
  cases: z.array(z.string()).max(1000).default([]),
  /** Kind 'number': from which number on, or up to which, a patient is a case. */
  caseFrom: z.number().nullable().default(null),
  caseSide: z.enum(['from', 'up to']).default('from'),
  /** Kind 'levels': what giving a wrong level costs; null where every error costs the same. */
  levelCosts: levelCostsSchema.nullable().default(null),
  /** Names of the predictors. */
  predictors: z.array(z.string()).max(10_000),
  /** Predictors without which nobody may be scored. */
  needed: z.array(z.string()).max(10_000).default([]),
  /** Predictors that nothing can change, such as age: they stay where changes of a patient are looked for. */
  fixed: z.array(z.string()).max(10_000).default([]),
  /** Steps from columns to inputs, before those that every preparation ends with. */
  preparation: z.array(arrangedStepSchema).max(60).default([]),
  /** Predictors and preparations kept under a name, for candidates that are fitted on them. */
  predictorSets: z
    .array(z.object({ name: keptName, predictors: z.array(z.string()).max(10_000) }))
    .max(50)
    .default([]),
  preparations: z
    .array(z.object({ name: keptName, steps: z.array(arrangedStepSchema).max(60) }))
    .max(50)
    .default([]),
  /** How learning patients are balanced, where the outcome is yes or no. */
  balancing: balancingSchema.default({ way: 'none' }),
  /** How patients are set aside. */
  split: splitSchema.default({ way: 'by chance' }),
  /** Of the patients, to hold out, and besides to seal, where the split goes by shares. */
  heldOutShare: z.number().min(0.01).max(0.6),
  sealedShare: z.number().min(0).max(0.35).default(0),
  /** How the others are dealt into folds. */
  folds: foldsSchema.default({ way: 'by chance', count: 5 }),
  seed: z.number().int().min(0).max(2_147_483_647),
  /** Cost of a missed case, in the study's own unit. */
  missedCost: z.number().positive().max(1e9),
  /** Cost of a false alarm, in the same unit. */
  falseAlarmCost: z.number().positive().max(1e9),
  /** Columns that say what each patient's own errors cost, instead of the two. */
  ownCosts: ownCostsSchema.default({ missed: '', falseAlarm: '' }),
  /** What costs are counted in, such as euros or days; empty where only their ratio is meant. */
  costUnit: z.string().trim().max(20).default(''),
});
export type Design = z.infer<typeof designSchema>;

export const defaultDesign: Omit<Design, 'predictors'> = {
  outcome: '',
  kind: 'event',
  event: '',
  reference: '',
  cases: [],
  caseFrom: null,
  caseSide: 'from',
  levelCosts: null,
  needed: [],
  fixed: [],
  preparation: [],
  predictorSets: [],
  preparations: [],
  balancing: { way: 'none' },
  split: { way: 'by chance' },
  heldOutShare: 0.25,
  sealedShare: 0,
  folds: { way: 'by chance', count: 5 },
  seed: 1,
  missedCost: 1,
  falseAlarmCost: 1,
  ownCosts: { missed: '', falseAlarm: '' },
  costUnit: '',
};

/** The design a new dictionary starts with: its outcome if one is declared, and its predictors. */
export function startDesign(dictionary: Dictionary): Design {
  const outcome = dictionary.find((entry) => entry.role === 'outcome');
  return {
    ...defaultDesign,
    outcome: outcome?.name ?? '',
    predictors: dictionary
      .filter((entry) => entry.role === 'predictor' && canPredict(entry.kind))
      .map((entry) => entry.name),
  };
}

/** What is still to be settled before a candidate can be fitted; empty when the design is complete. */
export function openQuestions(design: Design, dictionary: Dictionary): string[] {
  const questions: string[] = [];
  const outcome = dictionary.find((entry) => entry.name === design.outcome);
  if (!outcome) questions.push('Choose the outcome.');
  else questions.push(...openOfKind[design.kind](design, outcome));
  const names = new Set(dictionary.map((entry) => entry.name));
  const usable = design.predictors.filter((name) => names.has(name) && name !== design.outcome);
  if (usable.length === 0) questions.push('Choose at least one predictor.');
  return questions;
}

const openOfKind: {
  [K in OutcomeKind]: (design: Design, outcome: DictionaryEntry) => string[];
} = {
  event: ({ event }, outcome) =>
    outcome.levels?.includes(event)
      ? []
      : [`Choose which level of ${display(outcome)} is the event.`],
  levels({ reference, cases }, outcome) {
    const levels = outcome.levels ?? [];
    const known = cases.filter((level) => levels.includes(level));
    return [
      ...(levels.includes(reference)
        ? []
        : [`Choose the level of ${display(outcome)} that the others are compared with.`]),
      ...(known.length > 0 && known.length < levels.length
        ? []
        : [`Choose which levels of ${display(outcome)} are cases: some, not all.`]),
    ];
  },
  number: ({ caseFrom }, outcome) =>
    caseFrom === null ? [`Say from which ${display(outcome)} on a patient is a case.`] : [],
};

/** Which column is predicted, and as what. @param dictionary says whether levels have an order */
export function outcomeChoice(design: Design, dictionary: Dictionary): OutcomeChoice {
  const { kind, outcome: column, event, reference } = design;
  const entry = dictionary.find(({ name }) => name === column);
  const choices: { [K in OutcomeKind]: OutcomeChoice } = {
    event: { kind: 'event', column, event },
    levels: { kind: 'levels', column, reference, ordered: entry?.kind === 'ordered category' },
    number: { kind: 'number', column },
  };
  return choices[kind];
}

/** What a case is under a design whose questions are answered. */
export function caseRule({ kind, cases, caseFrom, caseSide }: Design): CaseRule {
  const rules: { [K in OutcomeKind]: CaseRule } = {
    event: { kind: 'event' },
    levels: { kind: 'levels', levels: cases },
    number: { kind: 'number', value: caseFrom ?? 0, side: caseSide },
  };
  return rules[kind];
}

/** Columns that patients are divided by, besides outcome and identifier. */
export const dividingColumns = ({ split, folds }: Design): string[] => [
  ...columnsOfSplit(split),
  ...columnsOfFolds(folds),
];

/**
 * The part of a design that decides what a fit gives, as text: two designs with the same text give
 * the same numbers. Costs only move the cutoff, what a case is only says what is counted, and what
 * must be known only says who is scored, so they are not in it.
 */
export function fitKey(design: Design): string {
  const { outcome, kind, event, reference, predictors, seed } = design;
  // Yes/no outcomes have the text that they had before there were others.
  const what: { [K in OutcomeKind]: unknown[] } = {
    event: [outcome, event],
    levels: [outcome, { kind, reference }],
    number: [outcome, { kind }],
  };
  return JSON.stringify([
    ...what[kind],
    [...predictors].sort(),
    design.heldOutShare,
    seed,
    ...divisionPart(design),
    ...(design.preparation.length > 0 ? [{ preparation: inOrder(design.preparation) }] : []),
    ...(balancingOf(design).way === 'none' ? [] : [{ balancing: inOrder(design.balancing) }]),
  ]);
}

/** The part of `fitKey` that decides who is where: the same text gives the same division. */
export const divisionKey = (design: Design): string =>
  fitKey({ ...design, predictors: [], preparation: [], balancing: { way: 'none' } });

/** How learning patients are balanced: only where there are cases and others to balance. */
export const balancingOf = ({ kind, balancing }: Design): Balancing =>
  kind === 'event' ? balancing : { way: 'none' };

/** What a candidate is fitted on, by name, where it is not what the design has in force. */
export const basisSchema = z.object({
  predictors: z.string().max(60).optional(),
  preparation: z.string().max(60).optional(),
  /** Predictors of its own, instead of those kept under a name. */
  own: z.array(z.string().max(500)).min(1).max(2000).optional(),
  /** Steps of its own, instead of a preparation kept under a name. */
  steps: z.array(arrangedStepSchema).max(60).optional(),
});
export type Basis = z.infer<typeof basisSchema>;

/** What of a basis says how is prepared, whatever the predictors. */
export const preparedBy = ({ preparation, steps }: Basis): Basis => ({
  ...(preparation !== undefined && { preparation }),
  ...(steps && { steps }),
});

/**
 * The design as a candidate is fitted on it. Throws a DesignError where what it names is not kept any
 * more, or is no predictor any more.
 */
export function designFor(design: Design, basis: Basis): Design {
  return {
    ...design,
    predictors: predictorsFor(design, basis),
    preparation: stepsOn(design, basis),
  };
}

/** The steps that a candidate is fitted with. Throws a DesignError as `designFor` does. */
export function stepsOn(
  design: Pick<Design, 'preparation' | 'preparations'>,
  { preparation, steps }: Basis,
): ArrangedStep[] {
  if (steps) return steps;
  if (preparation === undefined) return design.preparation;
  const kept = design.preparations.find(({ name }) => name === preparation);
  if (kept) return kept.steps;
  throw new DesignError(`The preparation “${preparation}” is not kept any more.`);
}

/** The predictors that a candidate is fitted on. Throws a DesignError as `designFor` does. */
export function predictorsFor(
  design: Pick<Design, 'predictors' | 'predictorSets'>,
  { predictors, own }: Basis,
): string[] {
  const offered = predictorsOffered(design);
  const gone = own?.find((name) => !offered.has(name));
  if (gone !== undefined)
    throw new DesignError(`“${gone}” is not among the predictors of the design any more.`);
  if (own) return own;
  if (predictors === undefined) return design.predictors;
  const set = design.predictorSets.find(({ name }) => name === predictors);
  if (set) return set.predictors;
  throw new DesignError(`The predictors “${predictors}” are not kept any more.`);
}

/** Predictors that a candidate can have as its own: those in force, and those kept under a name. */
export const predictorsOffered = ({
  predictors,
  predictorSets,
}: Pick<Design, 'predictors' | 'predictorSets'>): Set<string> =>
  new Set([...predictors, ...predictorSets.flatMap((set) => set.predictors)]);

/** How patients are divided, where it is another way than the one that there was at first. */
function divisionPart(design: Design): unknown[] {
  const { split, sealedShare, folds } = design;
  const usual =
    same(split, defaultDesign.split) && same(folds, defaultDesign.folds) && sealedShare === 0;
  return usual ? [] : [inOrder({ split, folds, ...(splitsByShare(split) && { sealedShare }) })];
}

const same = (a: unknown, b: unknown) => JSON.stringify(inOrder(a)) === JSON.stringify(inOrder(b));

/** With the keys of every object in one order: the database keeps them in another than they came. */
function inOrder(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(inOrder);
  if (typeof value !== 'object' || value === null) return value;
  const entries = Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1));
  return Object.fromEntries(entries.map(([key, one]) => [key, inOrder(one)]));
}
