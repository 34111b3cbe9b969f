import { plural, showCount, showPercent } from '../../browser/format.ts';
import type { FacetProps } from './Facets.tsx';
import styles from './Facets.module.css';

/** A rule as it was written, and what it answers of the development patients. */
export function RuleAnswers({ value: { formula, answers } }: FacetProps<'rule'>) {
  const withEvents = answers.some(({ events }) => events !== undefined);
  return (
    <>
      <p>
        <code>{formula}</code>{' '}
        <span className="quiet">is taken as it is; nothing was learned.</span>
      </p>
      {answers.length > 0 && (
        <table className={styles.table}>
          <caption className="hidden">What the rule answers</caption>
          <thead>
            <tr>
              <th scope="col">Answer</th>
              <th scope="col" />
              <th scope="col">Development patients</th>
              {withEvents && <th scope="col">With the event</th>}
            </tr>
          </thead>
          <tbody>
            {answers.map(({ answer, patients, events }) => (
              <tr key={answer}>
                <th scope="row">{answer}</th>
                <td />
                <td>{showCount(patients)}</td>
                {events !== undefined && (
                  <td title={plural(events, 'patient')}>
                    {showCount(events)} ({showPercent(events / patients)})
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
