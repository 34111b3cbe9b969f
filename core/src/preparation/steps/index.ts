import * as z from 'zod';
import type { Effect } from '../effects.ts';
import type { WorkingColumn } from '../working.ts';
import { clip } from './clip.ts';
import { codeLevels } from './code-levels.ts';
import { components } from './components.ts';
import { fill } from './fill/fill.ts';
import { fillGaps } from './fill-gaps.ts';
import { indicators } from './indicators.ts';
import { keepGaps } from './keep-gaps.ts';
import { leaveOutColumns } from './leave-out-columns.ts';
import { leaveOutPatients } from './leave-out-patients.ts';
import { markGaps } from './mark-gaps.ts';
import { notKnown } from './not-known.ts';
import { poolLevels } from './pool-levels.ts';
import { products } from './products.ts';
import { rareLevels } from './rare-levels.ts';
import { renameLevels } from './rename-levels.ts';
import { rescale } from './rescale.ts';
import { reshape } from './reshape.ts';
import { splines } from './splines.ts';
import { standardise } from './standardise.ts';
import type { LearnContext, Step } from './step.ts';
import { unusualness } from './unusualness.ts';

/** Every step that the analyst arranges, under the name it is kept by. */
const arranged = {
  'not known': notKnown,
  'rename levels': renameLevels,
  'rare levels': rareLevels,
  'leave out columns': leaveOutColumns,
  'leave out patients': leaveOutPatients,
  fill,
  clip,
  reshape,
  rescale,
  'code levels': codeLevels,
  splines,
  products,
  components,
  unusualness,
};

/** Every step that there is. */
const steps = {
  ...arranged,
  'keep gaps': keepGaps,
  'mark gaps': markGaps,
  'fill gaps': fillGaps,
  'pool levels': poolLevels,
  indicators,
  standardise,
};

export type StepId = keyof typeof steps;
export type ArrangedId = keyof typeof arranged;

/** The steps that every family gets in the end which takes no gaps and levels, in their order. */
export const usualSteps: Exclude<StepId, ArrangedId>[] = [
  'mark gaps',
  'fill gaps',
  'pool levels',
  'indicators',
  'standardise',
];

export const arrangedSteps = Object.keys(arranged) as ArrangedId[];

/** A step as the analyst arranges it. */
export type ArrangedStep = {
  [Id in ArrangedId]: { step: Id } & z.infer<NonNullable<(typeof arranged)[Id]['choice']>>;
}[ArrangedId];
export type ArrangedStepOf<Id extends ArrangedId> = Extract<ArrangedStep, { step: Id }>;

export const arrangedStepSchema = z.discriminatedUnion(
  'step',
  arrangedSteps.map((step) =>
    (arranged[step].choice as unknown as z.ZodObject).extend({ step: z.literal(step) }),
  ) as never,
) as unknown as z.ZodType<ArrangedStep>;

type LearnedBy<Id extends StepId> = z.infer<(typeof steps)[Id]['learned']>;

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
  asked: { step: StepId },
  columns: WorkingColumn[],
  context: LearnContext,
): LearnedStep {
  const { step, ...choice } = asked;
  return { step, learned: any(step).learn(columns, context, choice) } as LearnedStep;
}

export const applyStep = ({ step, learned }: LearnedStep, columns: WorkingColumn[]) =>
  any(step).apply(learned, columns);

/** Of patients who are learned from, 1 for those that stay; undefined where all do. */
export const keptBy = ({ step, learned }: LearnedStep, columns: WorkingColumn[]) =>
  any(step).keeps?.(learned, columns);

export const effectsOfStep = ({ step, learned }: LearnedStep): Effect[] =>
  any(step).effects(learned);

/** A step whose learned part belongs to it: `LearnedStep` says so, this index type cannot. */
const any = (step: StepId) => steps[step] as unknown as Step<unknown, unknown>;
