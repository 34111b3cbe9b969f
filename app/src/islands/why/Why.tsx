import { useState } from 'react';
import type { WhyView } from '../../contract/reasons.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { listWords, plural, showCount, showScore } from '../../browser/format.ts';
import { showDigits, showFixed } from '../../browser/numbers.ts';
import { Button, SavedTable } from '../../components/index.ts';
import { Added } from './Added.tsx';
import styles from './Why.module.css';

interface Props {
  studyId: string;
  found: WhyView;
  /** The patient, in words. */
  name: string;
  /** Of headings: where a page has it in a section, or a dialog of its own. */
  heading?: 'h2' | 'h3';
}

/** Why a candidate says of a patient what it says, what would turn the call, and who is like them. */
export function Why(props: Props) {
  return (
    <div className={styles.why}>
      <Contributions {...props} />
      <Turns {...props} />
      <SimilarPatients {...props} />
    </div>
  );
}

/** Predictors that are shown before one asks for all. */
const firstRows = 10;

function Contributions({ studyId, found, name: patient }: Props) {
  const [isAll, setAll] = useState(false);
  const { labelOf, wordOf } = useWords(studyId);
  const { contributions, base, values, scale } = found;
  const sorted = byStrength(found);
  const rest = sorted.slice(firstRows);
  const isDrawn = contributions.some(({ standardError }) => standardError !== undefined);
  const adds = scale === 'log-odds' ? 'Adds, log-odds' : 'Adds';
  return (
    <>
      <p>{beginningOf(found)}</p>
      <SavedTable
        fileName={`reasons-${patient}`}
        rows={() => [
          ['predictor', 'value', adds.toLowerCase(), 'standard error'],
          ...sorted.map(({ name, value, standardError }) => [
            labelOf(name),
            wordOf(values, name),
            value,
            standardError ?? '',
          ]),
        ]}
      >
        <table className={styles.table} aria-label="What each predictor adds">
          <thead>
            <tr>
              <th scope="col">Predictor</th>
              <th scope="col">Value</th>
              <th scope="col">{adds}</th>
              {isDrawn && <th scope="col">Standard error</th>}
              <th scope="col" className={styles.strip} aria-hidden="true" />
            </tr>
          </thead>
          <tbody>
            {sorted
              .slice(0, isAll ? undefined : firstRows)
              .map(({ name, value, standardError }, k) => (
                <tr key={name}>
                  <th scope="row">{labelOf(name)}</th>
                  <td>{wordOf(values, name)}</td>
                  <td>{signed(value)}</td>
                  {isDrawn && <td>{standardError !== undefined && showFixed(standardError, 4)}</td>}
                  <td className={styles.strip} aria-hidden="true">
                    <Added contributions={sorted} base={base} place={k} />
                  </td>
                </tr>
              ))}
            {!isAll && rest.length > 0 && (
              <tr>
                <th scope="row">{plural(rest.length, 'other')} together</th>
                <td />
                <td>{signed(rest.reduce((sum, { value }) => sum + value, 0))}</td>
                {isDrawn && <td />}
                <td aria-hidden="true" />
              </tr>
            )}
          </tbody>
        </table>
      </SavedTable>
      {rest.length > 0 && (
        <p>
          <Button look="link" onClick={() => setAll(!isAll)}>
            {isAll ? `Only the first ${firstRows}` : `All ${sorted.length}`}
          </Button>
        </p>
      )}
    </>
  );
}

/** Where contributions begin, and how they were worked out. */
function beginningOf({ scale, way, base, compared, outcome }: WhyView): string {
  const those = plural(compared, 'development patient');
  if (scale === 'log-odds')
    return `It begins with ${showScore(1 / (1 + Math.exp(-base)), outcome)}, where the mean log-odds of ${those} are, and each predictor adds or takes away. In log-odds, in which the candidate is a sum, they add up exactly.`;
  const begins = `It begins with ${showScore(base, outcome)}, the mean of ${those}, and each predictor adds or takes away`;
  const ways = {
    'own sum': 'exactly as the candidate adds them up.',
    'all sets': 'over all sets of predictors that could be known.',
    drawn: 'in orders that are drawn by chance: standard errors say how far that can be off.',
  };
  return `${begins}, ${ways[way]}`;
}

/** What could be different so that the call would be. */
function Turns({ studyId, found, heading: Heading = 'h3' }: Props) {
  const { labelOf, unitOf, wordOf } = useWords(studyId);
  const { turns, values, outcome, fixed } = found;
  return (
    <>
      <Heading>What would turn the call</Heading>
      {turns.length === 0 && (
        <p>
          No change of up to three predictors, to values that development patients have, turns it.
        </p>
      )}
      {turns.length > 0 && (
        <ol className={styles.turns} aria-label="Smallest changes that turn the call">
          {turns.map(({ changes, said }) => (
            <li key={changes.map(({ name }) => name).join(' ')}>
              {listWords(
                changes.map(({ name, to }) => {
                  const word = typeof to === 'number' ? showDigits(to, 6) : to;
                  return `${labelOf(name)} ${[word, unitOf(name)].filter(Boolean).join(' ')} instead of ${wordOf(values, name)}`;
                }),
                'and',
              )}
              : {showScore(said, outcome)}
            </li>
          ))}
        </ol>
      )}
      <p className="quiet">
        The smallest changes, all else as it is, by the share of patients who lie between.{' '}
        {fixed.length > 0
          ? `${listWords(fixed.map(labelOf), 'and')} ${fixed.length === 1 ? 'stays' : 'stay'}.`
          : 'Every predictor may change.'}{' '}
        <a href={`/studies/${studyId}/design#predictors`}>Mark in Design what cannot be changed.</a>{' '}
        They would change what the candidate says, not what happens to the patient.
      </p>
    </>
  );
}

function SimilarPatients({ studyId, found, name: patient, heading: Heading = 'h3' }: Props) {
  const { labelOf, wordOf } = useWords(studyId);
  const { similar, outcome } = found;
  const leading = byStrength(found).slice(0, 4);
  return (
    <>
      <Heading>Most like {patient}</Heading>
      <SavedTable fileName={`like-${patient}`}>
        <table className={styles.table} aria-label="Most similar patients">
          <thead>
            <tr>
              <th scope="col">Patient</th>
              <th scope="col">{outcome.label || outcome.choice.column}</th>
              <th
                scope="col"
                title="0 for the same in all that is known of both, 1 as unlike as can be"
              >
                Distance
              </th>
              {leading.map(({ name }) => (
                <th scope="col" key={name}>
                  {labelOf(name)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {similar.map(({ row, name, happened, distance, values }) => (
              <tr key={row}>
                <th scope="row">{name}</th>
                <td>{happened}</td>
                <td>{showFixed(distance, 3)}</td>
                {leading.map((one) => (
                  <td key={one.name}>{wordOf(values, one.name)}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </SavedTable>
      <p className="quiet">
        The {showCount(similar.length)} development patients whose predictors, all together, are
        nearest (Gower’s distance); the {leading.length} that add most here are shown.
      </p>
    </>
  );
}

const byStrength = ({ contributions }: WhyView) =>
  contributions.toSorted((a, b) => Math.abs(b.value) - Math.abs(a.value));

function useWords(studyId: string) {
  const { dictionary, labelOf } = useDictionary(studyId);
  const unitOf = (name: string) => dictionary.find((entry) => entry.name === name)?.unit ?? '';
  return {
    labelOf,
    unitOf,
    wordOf: (values: WhyView['values'], name: string): string =>
      values[name] === null ? 'missing' : [values[name], unitOf(name)].filter(Boolean).join(' '),
  };
}

const signed = (value: number): string => {
  const text =
    Math.abs(value) >= 10 ? showDigits(Math.abs(value), 4) : showFixed(Math.abs(value), 3);
  return !/[1-9]/.test(text) ? text : `${value < 0 ? '−' : '+'}${text}`;
};
