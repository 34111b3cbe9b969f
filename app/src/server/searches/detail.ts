import { and, asc, eq, isNull } from 'drizzle-orm';
import { familyOf, type Settings } from '@rook-scale/core/families';
import {
  chooseTried,
  fieldsTried,
  growthOf,
  type Growth,
  type SearchMeasure,
} from '@rook-scale/core/search';
import type { SearchDetail, TrialShown } from '../../contract/searches.ts';
import { candidateName } from '../candidates/index.ts';
import { db, tables } from '../ground/database/index.ts';
import {
  designOf,
  measureFor,
  searchRow,
  trialsOf,
  type SearchRow,
  type TrialRow,
} from './store.ts';
import { nestingOf } from './nesting.ts';
import { selectionOf } from './selection.ts';

/** A search opened, by one of its measures. */
export async function searchDetail(id: string, measureId: string): Promise<SearchDetail> {
  const row = await searchRow(id);
  const [design, trials, chosen] = await Promise.all([designOf(row), trialsOf(id), madeOf(id)]);
  const measure = measureFor(design.kind, measureId);
  const fields = fieldsTried(familyOf(row.family).description, row.plan);
  const selection = row.plan.fewer && (await selectionOf(row));
  const nesting = await nestingOf(row, design);
  const varied =
    row.plan.fewer?.way === 'sets'
      ? ['set']
      : fields
          .map(({ name }) => name)
          .filter((name) =>
            trials.some(({ settings }) => differ(settings[name], trials[0].settings[name])),
          );
  const keys = new Map(
    selection
      ? selection.sets?.map((own, number) => [JSON.stringify(own), number])
      : trials.map(({ settings, number }) => [JSON.stringify(settings), number]),
  );
  const keyOf = ({ settings, basis }: (typeof chosen)[number]) =>
    JSON.stringify(selection ? (basis.own ?? selection.predictors) : settings);
  return {
    id,
    measure: measureId,
    varied,
    trials: trials.map((one) => shown(one, varied, measureId)),
    // More patients are no choice.
    ...(row.plan.growing
      ? { growth: growthFrom(trials, measureId, design.seed) }
      : { choice: choiceOf(row, trials, measure) }),
    chosen: chosen.flatMap((one) => {
      const number = keys.get(keyOf(one));
      return number === undefined ? [] : [{ number, candidate: one.id, name: candidateName(one) }];
    }),
    ...(nesting && { nesting }),
    ...(selection && { selection }),
  };
}

/** What more patients would bring, once every number of them is judged. */
const growthFrom = (trials: TrialRow[], measure: string, seed: number): Growth | undefined =>
  trials.every(({ figures, problem }) => figures ?? problem)
    ? growthOf(
        trials.flatMap(({ settings, figures }) => {
          const figure = figures?.[measure];
          return figure?.error === undefined
            ? []
            : [{ patients: Number(settings.patients), value: figure.value, error: figure.error }];
        }),
        seed,
      )
    : undefined;

/** Best and simplest of those that were judged on all patients, by their numbers. */
export function choiceOf(
  { family, shares, plan }: Pick<SearchRow, 'family' | 'shares' | 'plan'>,
  trials: TrialRow[],
  measure: SearchMeasure,
): SearchDetail['choice'] {
  const last = (shares?.length ?? 1) - 1;
  return chooseTried(
    trials.map(({ settings, figures, judgedRound }) => ({
      settings,
      figure: judgedRound === last ? figures?.[measure.id] : undefined,
    })),
    measure,
    fieldsTried(familyOf(family).description, plan),
  );
}

function shown(
  { number, settings, figures, development, judgedRound, problem }: TrialRow,
  varied: string[],
  measure: string,
): TrialShown {
  const figure = figures?.[measure];
  const learned = development?.[measure];
  return {
    number,
    values: varied.map((name) => settings[name]),
    ...(figure && { value: short(figure.value) }),
    ...(figure?.error !== undefined && { error: short(figure.error) }),
    ...(learned !== undefined && { development: short(learned) }),
    round: judgedRound,
    ...(problem && { problem }),
  };
}

/** As many digits as can be read: thousands of settings are sent at once. */
const short = (value: number) => Number(value.toPrecision(6));

const madeOf = (searchId: string) =>
  db()
    .select()
    .from(tables.candidate)
    .where(and(eq(tables.candidate.searchId, searchId), isNull(tables.candidate.deletedAt)))
    .orderBy(asc(tables.candidate.number));

const differ = (one: Settings[string], other: Settings[string]) =>
  JSON.stringify(one) !== JSON.stringify(other);
