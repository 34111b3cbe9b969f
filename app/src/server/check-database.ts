import { sql } from 'drizzle-orm';
import { designSchema, repeatsOf, rowsOn, side } from '@rook-scale/core/design';
import { cohortFingerprint, developmentCohort } from './cohorts/index.ts';
import { currentDesign } from './design-in-force.ts';
import { db, tables } from './ground/database/index.ts';
import { same } from './ground/same.ts';

/** Something in the database that no change may ever leave behind. */
export interface Inconsistency {
  what: string;
  /** Id of the study, where it is of one. */
  study: string | null;
}

/**
 * Everything that must hold whatever was interrupted: sizes that belong together, one revision in
 * force that says what is, no half a cohort, no fit on other patients than those of its division.
 * Reads sizes rather than bytes, so that a large database takes seconds.
 */
export async function checkDatabase(): Promise<Inconsistency[]> {
  const found: Inconsistency[] = [];
  for (const [what, query] of rules) {
    const { rows } = await db().execute<{ study: string | null }>(query);
    found.push(...rows.map(({ study }) => ({ what, study })));
  }
  const studies = await db().select({ id: tables.study.id }).from(tables.study);
  for (const { id } of studies)
    for (const what of await checkStudy(id)) found.push({ what, study: id });
  return found;
}

const rules: [string, ReturnType<typeof sql>][] = [
  [
    'the division in force is of other patients than the cohort has',
    sql`select study.id as study from study
      join design on design.id = study.design_id
      join division on division.id = design.division_id
      join cohort on cohort.id = design.cohort_id
      where octet_length(division.sides) <> cohort.row_count`,
  ],
  [
    'who is in is another number than the cohort says',
    sql`select study_id as study from cohort
      where (kept is null and row_count <> stored_rows)
        or (kept is not null and octet_length(kept) <> 4 * row_count)`,
  ],
  [
    'a cohort has not as many summaries as columns',
    sql`select study_id as study from cohort
      where jsonb_array_length(dictionary) <> jsonb_array_length(summaries)`,
  ],
  [
    'a column of a cohort is not whole',
    sql`select cohort.study_id as study from cohort
      cross join generate_series(0, jsonb_array_length(dictionary) - 1) as place
      left join lateral (
        select count(*) as chunks, count(distinct first_row) as starts, min(first_row) as first,
          count(*) filter (where chunk.version <> cohort.version) as stale,
          sum(octet_length(content)) as bytes
        from column_chunk chunk
        where chunk.cohort_id = cohort.id and chunk.column_position = place
      ) stored on true
      where stored.chunks = 0 or stored.chunks <> stored.starts or stored.first <> 0
        or stored.stale > 0
        or (dictionary -> place ->> 'kind' = 'number' and stored.bytes <> 8 * stored_rows)`,
  ],
  [
    'a cohort has chunks of columns that it does not have',
    sql`select distinct cohort.study_id as study from cohort
      join column_chunk chunk on chunk.cohort_id = cohort.id
      where chunk.column_position >= jsonb_array_length(dictionary)`,
  ],
  [
    'a file is shorter or longer than it was when it came',
    sql`select null as study from upload
      where sha256 <> '' and size <>
        (select coalesce(sum(octet_length(content)), 0) from upload_chunk where upload_id = upload.id)`,
  ],
  [
    'the revision that a study points to is not there',
    sql`select id as study from study
      where revision > 0 and not exists (
        select from revision where study_id = study.id and number = study.revision and not left_behind)`,
  ],
  [
    'a candidate has a number that was not given out',
    sql`select study_id as study from candidate join study on study.id = study_id
      where candidate.number >= study.candidates_made`,
  ],
  [
    'a fitted candidate lacks its model or its predictions',
    sql`select study_id as study from candidate
      where state = 'fitted' and (fitted_at is null or outcome is null
        or not exists (select from fit where candidate_id = candidate.id)
        or (select count(*) from prediction where candidate_id = candidate.id
          and whose in ('out of fold', 'held out')) <> 2)`,
  ],
  [
    'the predictions of a candidate are not one a patient',
    sql`select distinct study_id as study from candidate
      join prediction on prediction.candidate_id = candidate.id
      join fit on fit.candidate_id = candidate.id
      cross join lateral (select
        case header ->> 'kind' when 'event' then 1 when 'levels' then 4 else 8 end as bytes,
        coalesce(jsonb_array_length(header -> 'levels'), 1) as width) as size
      where octet_length(values) * size.bytes <> 8 * size.width * octet_length(prediction.outcome)
        or (whose = 'out of fold'
          and octet_length(folds) * size.bytes <> octet_length(prediction.outcome))`,
  ],
  [
    'a finished candidate has parts of a fit left',
    sql`select distinct study_id as study from candidate join fit_part on candidate_id = candidate.id
      where state = 'fitted'`,
  ],
  [
    'a finished search has fits that are not done',
    sql`select distinct study_id as study from search join search_piece on search_id = search.id
      where state = 'done' and done_at is null`,
  ],
  [
    'a fit of a search is of settings that are not there',
    sql`select distinct study_id as study from search join search_piece on search_id = search.id
      where exists (select from unnest(trials) as own (number) where not exists (
        select from trial where trial.search_id = search.id and trial.number = own.number))`,
  ],
  [
    'scores are not one a patient of the list',
    sql`select screening.study_id as study from screening join cohort on cohort.id = cohort_id
      where octet_length(values) <>
        2 * octet_length(ranking) * coalesce(jsonb_array_length(header -> 'levels'), 1)`,
  ],
];

/** What can only be told by working it out again. */
async function checkStudy(studyId: string): Promise<string[]> {
  const found: string[] = [];
  const cohort = await developmentCohort(studyId);
  if (!cohort) return [];
  const design = await currentDesign(studyId);
  if (!design) return ['the development cohort has no design'];
  const {
    rows: [state],
  } = await db().execute<{
    cohort_id: string;
    sides: Buffer | null;
    folds: Buffer | null;
    patients: string | null;
    dictionary: unknown;
    choices: unknown;
    selection: unknown;
  }>(sql`select design.cohort_id, sides, folds, patients, revision.dictionary, revision.choices,
      revision.selection
    from study join design on design.id = study.design_id
    left join division on division.id = design.division_id
    left join revision on revision.study_id = study.id and number = study.revision
      and not left_behind
    where study.id = ${studyId}`);
  if (state.cohort_id !== cohort.id) found.push('the design in force is of another cohort');
  if (state.sides && state.folds) {
    const development = rowsOn(state.sides, side.development).length;
    const times = repeatsOf(design.choices.folds);
    if (development * times !== state.folds.length)
      found.push('folds are not one a development patient');
    if (state.patients !== null && state.patients !== cohortFingerprint(cohort))
      found.push('the division was made for patients that were read in another way');
  }
  if (state.choices && !same(designSchema.parse(state.choices), design.choices))
    found.push('the revision in force is of another design');
  if (state.dictionary && !same(state.dictionary, cohort.dictionary))
    found.push('the revision in force is of another dictionary');
  if (state.selection && !same(state.selection, cohort.selection))
    found.push('the revision in force is of another selection');
  return found;
}
