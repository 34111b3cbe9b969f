import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Worth, WorthMeasure, Worths } from '@rook-scale/core/reasons';
import type { CandidateLine } from '../../contract/candidates.ts';
import { reasonRoutes, type WorthView } from '../../contract/reasons.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { plural, showCount } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import {
  Button,
  IntervalStrip,
  Notice,
  Progress,
  SavedTable,
  Select,
} from '../../components/index.ts';
import styles from './Reasons.module.css';

interface Props {
  studyId: string;
  line: CandidateLine;
  /** All candidates with reasons. */
  lines: CandidateLine[];
}

const worthKey = ({ id, fittedAt }: CandidateLine) => ['worth', id, fittedAt];

/** Rows that are shown before one asks for all. */
const firstRows = 12;

/** What each predictor is worth: how much worse it gets without what it knows. */
export function WhatMatters({ studyId, line, lines }: Props) {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const { data: view, error } = useQuery({
    queryKey: worthKey(line),
    queryFn: () => ask(reasonRoutes.worth, { candidate: line.id }),
  });
  const begin = async (together: string[][]) => {
    setProblem(undefined);
    try {
      await ask(reasonRoutes.askWorth, { candidate: line.id }, { body: { together } });
      await client.invalidateQueries({ queryKey: worthKey(line) });
    } catch (thrown) {
      setProblem(messageOf(thrown));
    }
  };
  if (error) return <Notice>{messageOf(error)}</Notice>;
  if (!view) return <p role="status">Looking whether it was worked out</p>;
  return (
    <>
      {problem && <Notice>{problem}</Notice>}
      {view.problem && <Notice>{view.problem}</Notice>}
      {(view.state === 'none' || view.state === 'failed') && (
        <>
          <p>
            In patients whom it did not learn from, the values of one predictor at a time are dealt
            anew: what the errors then cost more is what the predictor is worth. For that{' '}
            {line.name} is fitted again without each fold.
          </p>
          <p>
            <Button look="main" onClick={() => void begin(view.together)}>
              {view.state === 'failed' ? 'Try again' : 'Work it out'}
            </Button>
          </p>
        </>
      )}
      {view.state === 'waiting' && (
        <p className={styles.waiting} role="status">
          <Progress done={view.done} total={view.total || 5} label="Folds gone through" />
          {view.total === 0
            ? 'Waiting for a worker'
            : `${view.done} of ${plural(view.total, 'fold')} gone through`}
        </p>
      )}
      {view.worths && (
        <Shown
          {...{ studyId, line, lines, view }}
          worths={view.worths}
          onTogether={(together) => void begin(together)}
        />
      )}
    </>
  );
}

const names: Record<WorthMeasure, string> = {
  cost: 'cost per 1,000',
  area: 'AUC',
  'squared error': 'mean squared error',
};

const heads: Record<WorthMeasure, string> = {
  cost: 'Cost per 1,000 gained',
  area: 'AUC lost',
  'squared error': 'Squared error gained',
};

function Shown({
  studyId,
  line,
  lines,
  view,
  worths,
  onTogether,
}: Props & { view: WorthView; worths: Worths[]; onTogether: (together: string[][]) => void }) {
  const { labelOf } = useDictionary(studyId);
  const [asked, setAsked] = useState<WorthMeasure>();
  const [isAll, setAll] = useState(false);
  const found = worths.find(({ measure }) => measure === asked) ?? worths[0];
  const { measure, plain } = found;
  const nameOf = ({ columns }: Worth) => columns.map(labelOf).join(' + ');
  const rows = found.groups.toSorted((a, b) => b.value - a.value);
  const ends = rows.flatMap(({ value, interval }) => [value, ...(interval ?? [])]);
  const [from, to] = [Math.min(0, ...ends), Math.max(1e-12, ...ends)];
  const decimals = measure === 'cost' ? 0 : Math.max(3, 3 - Math.ceil(Math.log10(to - from)));
  const figure = (value: number) => {
    const text = showFixed(Math.abs(value), Math.min(decimals, 8));
    return value < 0 && /[1-9]/.test(text) ? `−${text}` : text;
  };
  const others = useRanks(
    lines.filter(({ id }) => id !== line.id),
    measure,
  );
  return (
    <>
      <p>{summaryOf(rows, nameOf)}</p>
      <div className={styles.asked}>
        <Select
          label="Measured by"
          value={measure}
          options={worths.map((one) => ({ value: one.measure, label: names[one.measure] }))}
          onChange={setAsked}
        />
      </div>
      <SavedTable
        fileName="what-matters"
        rows={() => [
          ['predictor', heads[measure], 'lower', 'upper'],
          ...rows.map((row) => [nameOf(row), row.value, ...(row.interval ?? ['', ''])]),
        ]}
      >
        <table className={styles.table} aria-label="What predictors are worth">
          <thead>
            <tr>
              <th scope="col">Predictor</th>
              <th scope="col">{heads[measure]}</th>
              <th scope="col">95% interval</th>
              <th scope="col" className={styles.strip} aria-hidden="true" />
              {others.map(({ line: { id, name } }) => (
                <th scope="col" key={id} title={`Place among the predictors of ${name}`}>
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, isAll ? undefined : firstRows).map((row) => (
              <tr key={row.name}>
                <th scope="row">{nameOf(row)}</th>
                <td>{figure(row.value)}</td>
                <td>{row.interval ? row.interval.map(figure).join(' to ') : '–'}</td>
                <td className={styles.strip} aria-hidden="true">
                  <IntervalStrip
                    {...{ value: row.value, interval: row.interval, from, to }}
                    beside={0}
                    ticks={[]}
                  />
                </td>
                {others.map(({ line: { id }, places }) => (
                  <td key={id}>{places.get(row.name) ?? '–'}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </SavedTable>
      {rows.length > firstRows && (
        <p>
          <Button look="link" onClick={() => setAll(!isAll)}>
            {isAll ? `Only the first ${firstRows}` : `All ${rows.length}`}
          </Button>
        </p>
      )}
      <p className="quiet">
        By {plural(view.patients!, 'development patient')}, each predicted without their fold, whose
        values were dealt anew {view.times} times; as they are, {names[measure]} is {figure(plain)}.
        Predictors that say the same stand in for each other, and each alone seems worth little:
        move them together to see what they are worth.
        {others.length > 0 && ' The last columns are places in other candidates.'}
      </p>
      <Together {...{ line, labelOf, view, onTogether }} />
    </>
  );
}

/** Of each candidate whose worths are there too: the place of every predictor. */
function useRanks(lines: CandidateLine[], measure: WorthMeasure) {
  const answers = useQueries({
    queries: lines.map((line) => ({
      queryKey: worthKey(line),
      queryFn: () => ask(reasonRoutes.worth, { candidate: line.id }),
    })),
  });
  return lines.flatMap((line, i) => {
    const groups = answers[i].data?.worths?.find((one) => one.measure === measure)?.groups;
    if (!groups) return [];
    const order = groups
      .filter(({ columns }) => columns.length === 1)
      .toSorted((a, b) => b.value - a.value);
    return [{ line, places: new Map(order.map(({ name }, place) => [name, place + 1])) }];
  });
}

function summaryOf(rows: Worth[], nameOf: (row: Worth) => string): string {
  const single = rows.filter(({ columns }) => columns.length === 1);
  const sure = single.filter(({ interval }) => interval && interval[0] > 0);
  if (sure.length === 0)
    return 'No predictor by itself is worth more than chance explains: others say the same, or patients are too few.';
  const rest = single.length - sure.length;
  return `${nameOf(sure[0])} is worth most.${rest > 0 ? ` ${plural(rest, 'predictor')} of ${showCount(single.length)} cannot be told from worth nothing by ${rest === 1 ? 'itself' : 'themselves'}.` : ''}`;
}

/** Predictors that are to be moved together. */
function Together({
  line,
  labelOf,
  view,
  onTogether,
}: {
  line: CandidateLine;
  labelOf: (name: string) => string;
  view: WorthView;
  onTogether: (together: string[][]) => void;
}) {
  const [chosen, setChosen] = useState<string[]>([]);
  return (
    <details>
      <summary>Move predictors together</summary>
      <fieldset className={styles.group}>
        <legend className="hidden">Predictors to be moved together</legend>
        {line.uses.map((name) => (
          <label key={name}>
            <input
              type="checkbox"
              checked={chosen.includes(name)}
              onChange={({ target }) =>
                setChosen(target.checked ? [...chosen, name] : chosen.filter((one) => one !== name))
              }
            />
            {labelOf(name)}
          </label>
        ))}
      </fieldset>
      <Button
        disabled={chosen.length < 2}
        onClick={() => {
          onTogether([...view.together, chosen]);
          setChosen([]);
        }}
      >
        {chosen.length < 2 ? 'Move together' : `Move these ${chosen.length} together`}
      </Button>{' '}
      {view.together.length > 0 && (
        <Button look="link" onClick={() => onTogether([])}>
          Without groups again
        </Button>
      )}
    </details>
  );
}
