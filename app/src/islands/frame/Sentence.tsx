import type { Overview } from '../../contract/studies.ts';
import { designWords, lowerFirst, plural } from '../../browser/format.ts';
import { showDigits } from '../../browser/numbers.ts';
import styles from './TopLine.module.css';

/** The study as one sentence, always true; its parts lead to where they are set. */
export function Sentence({ overview }: { overview: Overview }) {
  const { study, cohort, design, outcome, chosen } = overview;
  const to = (stage: string) => `/studies/${study.id}/${stage}`;
  const title = sentenceText(overview);
  if (!cohort || !design)
    return (
      <p className={styles.sentence} title={title}>
        Nothing to predict yet: <a href={to('records')}>bring in patients</a>.
      </p>
    );
  const { choices } = design;
  const says = words(overview);
  const costs = costWords(overview);
  return (
    <p className={styles.sentence} title={title}>
      Predict{' '}
      <a href={to('design')}>
        {outcome ? lowerFirst(outcome.label) : 'an outcome'}
        {says.event}
      </a>{' '}
      for <a href={to('records')}>{plural(cohort.rowCount, 'patient')}</a> from{' '}
      <a href={`${to('design')}#predictors`}>{plural(choices.predictors.length, 'predictor')}</a>
      {chosen && (
        <>
          {' '}
          with <a href={`${to('candidates')}?candidate=${chosen.id}`}>{chosen.name}</a>
          {standing(chosen)}
        </>
      )}
      {says.cases}; missing a case costs <a href={`${to('design')}#costs`}>{costs.link}</a>
      {costs.rest}.
    </p>
  );
}

function sentenceText(overview: Overview): string {
  const { cohort, design, outcome, chosen } = overview;
  if (!cohort || !design) return 'Nothing to predict yet.';
  const { predictors } = design.choices;
  const { event, cases } = words(overview);
  const costs = costWords(overview);
  return `Predict ${outcome ? lowerFirst(outcome.label) : 'an outcome'}${event} for ${plural(cohort.rowCount, 'patient')} from ${plural(predictors.length, 'predictor')}${chosen ? ` with ${chosen.name}${standing(chosen)}` : ''}${cases}; missing a case costs ${costs.link}${costs.rest}.`;
}

/** What is to be known of the chosen candidate before anybody is called in by it. */
function standing({ seen, outOfDate }: NonNullable<Overview['chosen']>): string {
  if (outOfDate) return ' (out of date)';
  return seen ? '' : ' (not checked)';
}

/** What of the outcome is to be found: said with it where it is an event, else as a part of its own. */
function words({ design, outcome }: Overview): { event: string; cases: string } {
  const { kind } = design!.choices;
  const said = designWords(design!.choices, outcome?.unit ?? '');
  if (kind === 'event') return { event: said || ' (event not chosen)', cases: '' };
  return { event: said ? '' : ' (cases not chosen)', cases: said };
}

/** What missing a case costs beside a false alarm: the part that leads to where it is set, and the rest. */
function costWords({ design }: Overview): { link: string; rest: string } {
  const { missedCost, falseAlarmCost, ownCosts } = design!.choices;
  if (ownCosts.missed || ownCosts.falseAlarm) return { link: 'each patient’s own', rest: '' };
  const ratio = missedCost / falseAlarmCost;
  return {
    link: ratio === 1 ? 'as much as' : `${showDigits(ratio, 3)} ×`,
    rest: ' a false alarm',
  };
}
