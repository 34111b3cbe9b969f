import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { CandidateLine } from '../../contract/candidates.ts';
import { reasonRoutes, type ReasonsView } from '../../contract/reasons.ts';
import { useAddress } from '../../browser/address.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { plural, showScore } from '../../browser/format.ts';
import { Button, Notice, NumberField, SavedTable } from '../../components/index.ts';
import { Added } from './Added.tsx';
import styles from './Reasons.module.css';

interface Props {
  studyId: string;
  line: CandidateLine;
}

/** Why the candidate says of one patient what it says, and who is like them. */
export function OnePatient({ studyId, line }: Props) {
  const [asked, setAsked] = useAddress('row');
  const number = Number(asked);
  const row =
    asked !== undefined && Number.isInteger(number) && number >= 1 ? number - 1 : undefined;
  const { data: found, error } = useQuery({
    queryKey: ['reasons', line.id, line.fittedAt, row],
    queryFn: () => ask(reasonRoutes.patient, { candidate: line.id }, { query: { row: row! } }),
    enabled: row !== undefined,
    staleTime: Infinity,
  });
  const go = (to: number) => setAsked(String(to), 'replace');
  return (
    <>
      <div className={styles.asked}>
        <NumberField
          label="Row of the patient"
          value={row === undefined ? undefined : row + 1}
          least={1}
          most={1e9}
          whole
          onChange={go}
        />
        {row !== undefined && (
          <>
            <Button disabled={row < 1} onClick={() => go(row)}>
              Before
            </Button>
            <Button onClick={() => go(row + 2)}>Next</Button>
          </>
        )}
        {row === undefined && (
          <p className="quiet">
            Give the row of a patient in the file, or press “Why?” where a list opens one.
          </p>
        )}
      </div>
      {error && <Notice>{messageOf(error)}</Notice>}
      {row !== undefined && !found && !error && <p role="status">Asking the candidate</p>}
      {found && <Shown {...{ studyId, line, found }} />}
    </>
  );
}

/** Predictors that are shown before one asks for all. */
const firstRows = 10;

function Shown({ studyId, line, found }: Props & { found: ReasonsView }) {
  const [isAll, setAll] = useState(false);
  const { dictionary, labelOf } = useDictionary(studyId);
  const { outcome, contributions, base, said, cutoff } = found;
  const show = (value: number) => showScore(value, outcome);
  const unitOf = (name: string) => dictionary.find((entry) => entry.name === name)?.unit ?? '';
  const wordOf = (values: ReasonsView['values'], name: string) =>
    values[name] === null ? 'not known' : [values[name], unitOf(name)].filter(Boolean).join(' ');
  const sorted = contributions.toSorted((a, b) => Math.abs(b.value) - Math.abs(a.value));
  const rest = sorted.slice(firstRows);
  const isDrawn = contributions.some(({ standardError }) => standardError !== undefined);
  const { side: sign } = outcome.cases.kind === 'number' ? outcome.cases : { side: 'from' };
  const isCalled = sign === 'from' ? said >= cutoff : said <= cutoff;
  return (
    <>
      <p>
        Of {found.name} ({found.side === 'development' ? 'a development patient' : found.side}),{' '}
        {line.name} says <strong>{show(said)}</strong>: {isCalled ? 'called in' : 'not called in'}{' '}
        at {show(cutoff)}. It begins with {show(base)}, the mean of{' '}
        {plural(found.compared, 'patient')}, and each predictor adds or takes away.
        {found.side === 'development' &&
          ' The candidate has learned from this patient: out of fold it may say another thing.'}
      </p>
      <SavedTable
        fileName={`reasons-${found.name}`}
        rows={() => [
          ['predictor', 'value', 'adds', 'standard error'],
          ...sorted.map(({ name, value, standardError }) => [
            labelOf(name),
            wordOf(found.values, name) ?? '',
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
              <th scope="col">Adds</th>
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
                  <td>{wordOf(found.values, name)}</td>
                  <td>{signed(value)}</td>
                  {isDrawn && <td>{standardError?.toFixed(4)}</td>}
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
      <h3>Most like {found.name}</h3>
      <SavedTable fileName={`like-${found.name}`}>
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
              {sorted.slice(0, 4).map(({ name }) => (
                <th scope="col" key={name}>
                  {labelOf(name)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {found.similar.map(({ row, name, happened, distance, values }) => (
              <tr key={row}>
                <th scope="row">{name}</th>
                <td>{happened}</td>
                <td>{distance.toFixed(3)}</td>
                {sorted.slice(0, 4).map((one) => (
                  <td key={one.name}>{wordOf(values, one.name)}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </SavedTable>
      <p className="quiet">
        Development patients whose predictors, all together, are nearest (Gower’s distance); the
        four that add most here are shown.
      </p>
    </>
  );
}

const signed = (value: number): string => {
  const text = Math.abs(value) >= 10 ? Math.abs(value).toPrecision(4) : Math.abs(value).toFixed(3);
  return !/[1-9]/.test(text) ? text : `${value < 0 ? '−' : '+'}${text}`;
};
