import { useQuery } from '@tanstack/react-query';
import type { CandidateLine } from '../../contract/candidates.ts';
import { reasonRoutes, type OverTwoView, type PairsView } from '../../contract/reasons.ts';
import { setAddress, useAddress } from '../../browser/address.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { plural, showPercent } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import { Button, Notice, SavedTable, Select } from '../../components/index.ts';
import { RegionFigure } from '../facets/index.ts';
import styles from './Reasons.module.css';

interface Props {
  studyId: string;
  line: CandidateLine;
}

/** In the address, instead of a predictor. */
const components = 'components';

/** What is said over any two predictors, or over the directions in which patients differ most. */
export function TwoAtOnce({ studyId, line }: Props) {
  const { dictionary, labelOf } = useDictionary(studyId);
  const [across] = useAddress('across');
  const [up] = useAddress('up');
  const { data: strong, error: noPairs } = useQuery({
    queryKey: ['pairs', line.id, line.fittedAt],
    queryFn: () => ask(reasonRoutes.pairs, { candidate: line.id }),
    staleTime: Infinity,
  });
  const isOver = across === components;
  const known = (name: string | undefined) =>
    name !== undefined && line.uses.includes(name) ? name : undefined;
  const first = strong?.pairs[0]?.names;
  const x = known(across) ?? first?.[0] ?? line.uses[0];
  const y = [known(up), first?.[1], first?.[0], ...line.uses].find(
    (name) => name !== undefined && name !== x,
  );
  // What acts together most is looked for first.
  const isReady = isOver || known(across) !== undefined || strong !== undefined || noPairs !== null;
  const { data: found, error } = useQuery({
    queryKey: ['over two', line.id, line.fittedAt, isOver ? components : [x, y]],
    queryFn: () =>
      ask(
        reasonRoutes.overTwo,
        { candidate: line.id },
        { query: isOver ? {} : { across: x, up: y } },
      ),
    enabled: isReady && (isOver || y !== undefined),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  if (line.uses.length < 2) return <p>The candidate looks at one predictor only.</p>;
  const go = (names: { across?: string; up?: string }) => setAddress(names, 'replace');
  const options = line.uses.map((name) => ({ value: name, label: labelOf(name) }));
  const labels = Object.fromEntries(
    dictionary.map(({ name, label, unit }) => [name, { label, unit }]),
  );
  const shown = found?.map;
  return (
    <>
      <div className={styles.asked}>
        <Select
          label="Across"
          value={isOver ? components : x}
          options={[{ value: components, label: 'principal components' }, ...options]}
          onChange={(name) => go({ across: name, ...(!isOver && { up: y === name ? x : y }) })}
        />
        {!isOver && y !== undefined && (
          <Select
            label="Up"
            value={y}
            options={options.filter(({ value }) => value !== x)}
            onChange={(name) => go({ across: x, up: name })}
          />
        )}
      </div>
      {(error ?? noPairs) && <Notice>{messageOf(error ?? noPairs)}</Notice>}
      {!found && !error && <p role="status">Asking the candidate</p>}
      {found && !shown && (
        <p>
          {isOver
            ? 'Fewer than two of its predictors are numbers that vary: there are no two components.'
            : 'One of the two does not vary among development patients.'}
        </p>
      )}
      <div className={styles.two}>
        {shown && (
          <RegionFigure
            title={
              isOver
                ? 'Principal components'
                : `${labelOf(shown.across.column)} and ${labelOf(shown.up.column)}`
            }
            {...{ labels, line }}
            map={shown}
          />
        )}
        <div className={styles.words}>
          <p className="quiet">
            {isOver
              ? 'To each cell the patients nearest to it are moved, along both components alone; all else is as they have it, and the mean of what is then said is shaded.'
              : 'Shaded is the mean of what is said of 40 patients, were they there and all else as they have it.'}
          </p>
          {isOver && found?.directions && (
            <Directions {...{ labelOf }} directions={found.directions} />
          )}
          {strong && (
            <Pairs
              {...{ strong, labelOf }}
              onPair={([one, other]) => go({ across: one, up: other })}
            />
          )}
        </div>
      </div>
    </>
  );
}

/** Pairs and parts that are shown. */
const few = { pairs: 8, parts: 5 };

function Pairs({
  strong: { pairs, patients },
  labelOf,
  onPair,
}: {
  strong: PairsView;
  labelOf: (name: string) => string;
  onPair: (names: [string, string]) => void;
}) {
  if (pairs.length === 0) return <p>No two predictors move what is said.</p>;
  return (
    <>
      <SavedTable
        fileName="acting-together"
        rows={() => [
          ['one', 'other', 'H'],
          ...pairs.map(({ names, h }) => [...names.map(labelOf), h]),
        ]}
      >
        <table className={styles.table} aria-label="Predictors that act together">
          <thead>
            <tr>
              <th scope="col">Together</th>
              <th
                scope="col"
                title="0 where the two only add up, 1 where neither does anything alone"
              >
                H
              </th>
            </tr>
          </thead>
          <tbody>
            {pairs.slice(0, few.pairs).map(({ names, h }) => (
              <tr key={names.join(' ')}>
                <th scope="row">
                  <Button look="link" onClick={() => onPair(names)}>
                    {names.map(labelOf).join(' and ')}
                  </Button>
                </th>
                <td>{showFixed(h, 2)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </SavedTable>
      <p className="quiet">
        Friedman’s H: 0 where two only add up, 1 where neither does anything without the other. By{' '}
        {plural(patients, 'development patient')}, among the predictors along which most is said to
        change.
      </p>
    </>
  );
}

function Directions({
  directions,
  labelOf,
}: {
  directions: NonNullable<OverTwoView['directions']>;
  labelOf: (name: string) => string;
}) {
  return (
    <ol className={styles.directions}>
      {directions.map(({ share, parts }, k) => (
        <li key={k}>
          {k === 0 ? 'First' : 'Second'} component, {showPercent(share)} of all that numbers vary:{' '}
          {parts
            .slice(0, few.parts)
            .map(({ name, weight }) => `${weight > 0 ? 'more' : 'less'} ${labelOf(name)}`)
            .join(', ')}
          {parts.length > few.parts && ` and ${parts.length - few.parts} with a smaller part`}.
        </li>
      ))}
    </ol>
  );
}
