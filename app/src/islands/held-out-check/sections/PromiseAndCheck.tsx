import { useQuery } from '@tanstack/react-query';
import { useCallback, useMemo } from 'react';
import {
  cutoffInterval,
  promiseAndCheck,
  type Promised,
  type PromisedMeasure,
} from '@rook-scale/core/measures';
import { ask, messageOf } from '../../../browser/api.ts';
import { showCost } from '../../../browser/format.ts';
import { roundDigits, showFixed } from '../../../browser/numbers.ts';
import { candidateRoutes } from '../../../contract/candidates.ts';
import { DifferenceStrip, Notice, SavedTable } from '../../../components/index.ts';
import { makePatients, type Patients } from '../../risk-scale/index.ts';
import { measureNames } from './measure-names.ts';
import type { SectionProps } from './section.ts';
import { useLater } from './use-later.ts';
import styles from './Sections.module.css';

/** What was promised out of fold against what the held-out patients say, and how steady the cutoff is. */
export function PromiseAndCheck(props: SectionProps) {
  const { line, fittedAt } = props;
  const { data, error } = useQuery({
    queryKey: ['predictions', line.id, line.fittedAt, line.outcome?.cases],
    queryFn: () => ask(candidateRoutes.predictions, { candidate: line.id }),
    staleTime: Infinity,
  });
  const development = useMemo(() => data && makePatients(data, line.outcome), [data, line.outcome]);
  if (line.fittedAt !== fittedAt)
    return (
      <p className="quiet">
        {line.name} was fitted again since this look: what it promises now is of another fit.
      </p>
    );
  if (error) return <Notice>{messageOf(error)}</Notice>;
  if (!development) return <p role="status">Reading what was promised</p>;
  return <Shown {...props} development={development} />;
}

function Shown({
  development,
  patients,
  cutoff,
  costs,
  line,
}: SectionProps & { development: Patients }) {
  const isRisk = patients.scale.what === 'risk';
  const rows = useMemo(
    () =>
      promiseAndCheck(
        { ...development, scores: development.risks },
        { ...patients, scores: patients.risks },
        cutoff,
        costs,
        isRisk,
      ),
    [development, patients, cutoff, costs, isRisk],
  );
  const steady = useLater(
    useCallback(
      () => costs && cutoffInterval(line.cutoffRule, development.ranked, costs),
      [line.cutoffRule, development, costs],
    ),
  );
  const off = rows.filter(({ interval }) => interval && (interval[0] > 0 || interval[1] < 0));
  return (
    <>
      <p>{verdict(off, rows.length)}</p>
      <SavedTable fileName="promise-and-check">
        <table className={`${styles.table} ${styles.rates}`} aria-label="Promise and check">
          <thead>
            <tr>
              <th scope="col">Figure at this cutoff</th>
              <th scope="col">Out of fold</th>
              <th scope="col">Held out</th>
              <th scope="col">Difference</th>
              <th scope="col">95% interval</th>
              <th scope="col" className={styles.strip} aria-hidden="true" />
            </tr>
          </thead>
          <tbody>
            {rows.map(({ measure, promised, checked, difference, interval }) => (
              <tr key={measure}>
                <th scope="row">{measureNames[measure]}</th>
                <td>{figure(measure, promised)}</td>
                <td className={styles.value}>{figure(measure, checked)}</td>
                <td>{figure(measure, difference)}</td>
                <td>{interval?.map((end) => figure(measure, end)).join(' to ') ?? '–'}</td>
                <td className={styles.strip}>
                  <DifferenceStrip
                    {...{ difference, interval }}
                    reach={Math.max(1e-9, ...[difference, ...(interval ?? [])].map(Math.abs))}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </SavedTable>
      {steady && (
        <p>
          The cutoff that its rule puts is {patients.scale.show(line.results!.cutoff)}; with other
          patients of the same kind it would lie between {showEnd(patients, steady[0])} and{' '}
          {showEnd(patients, steady[1])} in 95 of 100 cases.
        </p>
      )}
    </>
  );
}

/** @param of so many figures */
function verdict(off: Promised[], of: number): string {
  if (off.length === 0)
    return 'No figure differs from what was promised by more than chance between two samples.';
  const list = off.map(({ measure, difference }) => {
    const name = measureNames[measure];
    const said = name === 'AUC' ? name : name.charAt(0).toLowerCase() + name.slice(1);
    return `${said} ${difference > 0 ? 'higher' : 'lower'}`;
  });
  return `More than chance explains, the held-out patients differ from what was promised: ${list.join(', ')}. Each of ${of} figures does so by chance once in twenty times.`;
}

/** An end of an interval need not be told to its last digit. */
const showEnd = ({ scale, ranked }: Patients, end: number): string =>
  scale.show(end === ranked.nobody ? end : roundDigits(end, 3));

const figure = (measure: PromisedMeasure, value: number) =>
  (measure === 'cost'
    ? showCost(Math.round(value))
    : showFixed(value, measure === 'brier' ? 4 : measure === 'told' || measure === 'area' ? 3 : 2)
  )
    .replace(/^-(?!0\.?0*$)/, '−')
    .replace(/^-/, '');
