import { useQuery } from '@tanstack/react-query';
import type { Compared, ComparedMeasure } from '@rook-scale/core/comparing';
import { type CandidateLine, candidateRoutes } from '../../../contract/candidates.ts';
import { useDictionary } from '../../../browser/dictionary.ts';
import { setAddress, useAddress } from '../../../browser/address.ts';
import { ask, messageOf } from '../../../browser/api.ts';
import { showP } from '../../../browser/format.ts';
import { DifferenceStrip, Notice, Select } from '../../../components/index.ts';
import { figureOf, measureNames, signed } from '../../compared/index.ts';
import { captionOf, verdictOf } from './words.ts';
import styles from './Comparison.module.css';

interface Props {
  line: CandidateLine;
  lines: CandidateLine[];
}

/** With which other candidate one is compared; nothing where there is none. */
export function ComparedWith({ line, lines }: Props) {
  const { others, other } = useOther(line, lines);
  if (others.length === 0) return null;
  return (
    <Select
      label="Compared with"
      value={other?.id ?? ''}
      options={[
        { value: '', label: 'no other' },
        ...others.map(({ id, name }) => ({ value: id, label: name })),
      ]}
      onChange={(id) => setAddress({ with: id || undefined }, 'replace')}
    />
  );
}

/** A candidate beside another on the same patients, once one is chosen. */
export function Comparison({ studyId, line, lines }: Props & { studyId: string }) {
  const { other } = useOther(line, lines);
  if (!other) return null;
  return (
    <section className={styles.comparison} aria-label={`${line.name} compared`}>
      <Beside studyId={studyId} line={line} other={other} />
    </section>
  );
}

function useOther(line: CandidateLine, lines: CandidateLine[]) {
  const [asked] = useAddress('with');
  const others = canCompare(line)
    ? lines.filter((one) => one.id !== line.id && canCompare(one))
    : [];
  return { others, other: others.find(({ id }) => id === asked) };
}

/** Only what was fitted on the design in force has patients that are the same for both. */
const canCompare = ({ state, results, outOfDate }: CandidateLine): boolean =>
  state === 'fitted' && results !== undefined && !outOfDate;

interface Two {
  studyId: string;
  line: CandidateLine;
  other: CandidateLine;
}

function Beside({ studyId, line, other }: Two) {
  const { data, error } = useQuery({
    queryKey: ['comparison', ...[line, other].flatMap(figureKey)],
    queryFn: () =>
      ask(candidateRoutes.compare, { candidate: line.id }, { query: { with: other.id } }),
    staleTime: Infinity,
  });
  if (error) return <Notice>{messageOf(error)}</Notice>;
  if (!data) return <p role="status">Drawing patients anew</p>;
  return (
    <>
      <p>{verdictOf(data, line, other)}</p>
      <PredictorsApart studyId={studyId} line={line} other={other} />
      <Differences compared={data} line={line} other={other} />
    </>
  );
}

/** What the figures of a candidate follow from. */
export const figureKey = ({ id, fittedAt, results }: CandidateLine) => [
  id,
  fittedAt,
  results?.cutoff,
  results?.costPerThousand,
];

/** Which columns only the one or only the other looks at. */
function PredictorsApart({ studyId, line, other }: Two) {
  const { labelOf } = useDictionary(studyId);
  const only = [
    [line, other],
    [other, line],
  ].flatMap(([one, beside]) => {
    const own = one.uses.filter((name) => !beside.uses.includes(name));
    return own.length > 0 ? [`Only ${one.name}: ${own.map(labelOf).join(', ')}.`] : [];
  });
  return only.length > 0 ? <p className="quiet">{only.join(' ')}</p> : null;
}

function Differences({ compared, line, other }: { compared: Compared } & Omit<Two, 'studyId'>) {
  return (
    <table className={styles.table}>
      <caption>{captionOf(compared, line, other)}</caption>
      <thead>
        <tr>
          <th scope="col">Measure</th>
          <th scope="col">{line.name}</th>
          <th scope="col">{other.name}</th>
          <th scope="col" colSpan={2}>
            Difference
          </th>
          <th scope="col">p</th>
          <th scope="col">p corrected</th>
        </tr>
      </thead>
      <tbody>
        {compared.measures.map((measure) => (
          <Row key={measure.id} measure={measure} />
        ))}
      </tbody>
    </table>
  );
}

function Row({ measure }: { measure: ComparedMeasure }) {
  const { id, values, difference, interval, p, adjusted } = measure;
  const reach = Math.max(1e-9, ...[difference, ...(interval ?? [])].map(Math.abs));
  return (
    <tr>
      <th scope="row">{measureNames[id]}</th>
      <td>{figureOf(id, values[0])}</td>
      <td>{figureOf(id, values[1])}</td>
      <td>
        {signed(id, difference)}
        {interval && (
          <span className={styles.interval}>
            {' '}
            {signed(id, interval[0])} to {signed(id, interval[1])}
          </span>
        )}
      </td>
      <td className={styles.strip}>
        <DifferenceStrip {...{ difference, interval, reach }} />
      </td>
      <td>{p === undefined ? '–' : showP(p)}</td>
      <td>{adjusted === undefined ? '–' : showP(adjusted)}</td>
    </tr>
  );
}
