import * as z from 'zod';
import { canPredict, display, type Dictionary } from '../table/index.ts';

/** Number of folds of every cross-validation. */
export const foldCount = 5;

/** What the analyst decides before anything is fitted. */
export const designSchema = z.object({
  /** Name of the outcome column; empty until chosen. */
  outcome: z.string(),
  /** The level to find; empty until chosen. */
  event: z.string(),
  /** Names of the predictors. */
  predictors: z.array(z.string()).max(10_000),
  /** Predictors without which nobody may be scored. */
  needed: z.array(z.string()).max(10_000).default([]),
  heldOutShare: z.number().min(0.05).max(0.6),
  seed: z.number().int().min(0).max(2_147_483_647),
  /** Cost of a missed case, in the study's own unit. */
  missedCost: z.number().positive().max(1e9),
  /** Cost of a false alarm, in the same unit. */
  falseAlarmCost: z.number().positive().max(1e9),
});
export type Design = z.infer<typeof designSchema>;

export const defaultDesign: Omit<Design, 'predictors'> = {
  outcome: '',
  event: '',
  needed: [],
  heldOutShare: 0.25,
  seed: 1,
  missedCost: 1,
  falseAlarmCost: 1,
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
  else if (!outcome.levels?.includes(design.event))
    questions.push(`Choose which level of ${display(outcome)} is the event.`);
  const names = new Set(dictionary.map((entry) => entry.name));
  const usable = design.predictors.filter((name) => names.has(name) && name !== design.outcome);
  if (usable.length === 0) questions.push('Choose at least one predictor.');
  return questions;
}

/**
 * The part of a design that decides what a fit gives, as text: two designs with the same text give
 * the same numbers. Costs only move the cutoff, and what must be known
 * only says who is scored, so they are not in it.
 */
export function fitKey(design: Design): string {
  const { outcome, event, predictors, heldOutShare, seed } = design;
  return JSON.stringify([outcome, event, [...predictors].sort(), heldOutShare, seed]);
}
