import * as z from 'zod';
import type { Effect } from '../effects.ts';
import type { WorkingColumn } from '../working.ts';
import { fillGaps } from './fill-gaps.ts';
import { indicators } from './indicators.ts';
import { markGaps } from './mark-gaps.ts';
import { poolLevels } from './pool-levels.ts';
import { standardise } from './standardise.ts';
import type { LearnContext, Step } from './step.ts';

/** Every step there is, under the name it is kept by. */
const steps = {
  'mark gaps': markGaps,
  'fill gaps': fillGaps,
  'pool levels': poolLevels,
  indicators,
  standardise,
};

export type StepId = keyof typeof steps;

/** The steps that every family gets which takes no gaps and levels, in their order. */
export const usualSteps: StepId[] = [
  'mark gaps',
  'fill gaps',
  'pool levels',
  'indicators',
  'standardise',
];

type LearnedBy<Id extends StepId> =
  (typeof steps)[Id] extends Step<infer Learned> ? Learned : never;

/** A step with what it has learned. */
export type LearnedStep = { [Id in StepId]: { step: Id; learned: LearnedBy<Id> } }[StepId];

export const learnedStepSchema = z.discriminatedUnion(
  'step',
  (Object.keys(steps) as StepId[]).map((step) =>
    z.object({ step: z.literal(step), learned: steps[step].learned }),
  ) as never,
) as unknown as z.ZodType<LearnedStep>;

export const stepOf = (step: StepId): Pick<Step<unknown>, 'name' | 'about'> => steps[step];

export function learnStep(
  step: StepId,
  columns: WorkingColumn[],
  context: LearnContext,
): LearnedStep {
  return { step, learned: any(step).learn(columns, context) } as LearnedStep;
}

export const applyStep = ({ step, learned }: LearnedStep, columns: WorkingColumn[]) =>
  any(step).apply(learned, columns);

export const effectsOfStep = ({ step, learned }: LearnedStep): Effect[] =>
  any(step).effects(learned);

/** A step whose learned part belongs to it: `LearnedStep` says so, this index type cannot. */
const any = (step: StepId) => steps[step] as Step<unknown>;
