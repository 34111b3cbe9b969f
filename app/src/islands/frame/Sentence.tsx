import { lowerFirst, plural, showNumber } from '../../browser/format.ts';
import type { Overview } from '../../server/studies.ts';
import styles from './TopLine.module.css';

/** The study as one sentence, always true; its parts lead to where they are set. */
export function Sentence({ overview }: { overview: Overview }) {
  const { study, cohort, design, outcome } = overview;
  const to = (stage: string) => `/studies/${study.id}/${stage}`;
  const title = sentenceText(overview);
  if (!cohort || !design)
    return (
      <p className={styles.sentence} title={title}>
        Nothing to predict yet: <a href={to('records')}>bring in patients</a>.
      </p>
    );
  const { choices } = design;
  return (
    <p className={styles.sentence} title={title}>
      Predict{' '}
      <a href={to('design')}>
        {outcome ? lowerFirst(outcome.label) : 'an outcome'}
        {choices.event ? ` = ${choices.event}` : ' (event not chosen)'}
      </a>{' '}
      for <a href={to('records')}>{plural(cohort.rowCount, 'patient')}</a> from{' '}
      <a href={`${to('design')}#predictors`}>{plural(choices.predictors.length, 'predictor')}</a>;
      missing a case costs <a href={`${to('design')}#costs`}>{costRatio(overview)}</a> a false
      alarm.
    </p>
  );
}

function sentenceText(overview: Overview): string {
  const { cohort, design, outcome } = overview;
  if (!cohort || !design) return 'Nothing to predict yet.';
  const { event, predictors } = design.choices;
  return `Predict ${outcome ? lowerFirst(outcome.label) : 'an outcome'}${event ? ` = ${event}` : ''} for ${plural(cohort.rowCount, 'patient')} from ${plural(predictors.length, 'predictor')}; missing a case costs ${costRatio(overview)} a false alarm.`;
}

function costRatio({ design }: Overview): string {
  if (!design) return '';
  const { missedCost, falseAlarmCost } = design.choices;
  const ratio = missedCost / falseAlarmCost;
  return ratio === 1 ? 'as much as' : `${Number(showNumber(ratio, 3).replaceAll(',', ''))} ×`;
}
