import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { searchMeasures, type SearchMeasure } from '@rook-scale/core/search';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import {
  searchRoutes,
  type ChosenFrom,
  type SearchDetail,
  type SearchLine,
} from '../../contract/searches.ts';
import { useAddress } from '../../browser/address.ts';
import { ask } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { showCount } from '../../browser/format.ts';
import { Button, Notice, Select } from '../../components/index.ts';
import { TriedFigure, type DrawnAs } from './TriedFigure.tsx';
import { NestedCheck } from './NestedCheck.tsx';
import { MorePatients } from './MorePatients.tsx';
import { SelectionFigure } from './SelectionFigure.tsx';
import { TrialTable } from './TrialTable.tsx';
import { useSearchDetail } from './use-search.ts';
import {
  fieldsOfSearch,
  kindText,
  namesText,
  settingsText,
  showTried,
  stateText,
} from './words.ts';
import styles from './Search.module.css';

interface Props {
  studyId: string;
  line: SearchLine;
  kind: OutcomeKind;
  /** Does something and says what went wrong. */
  act: (work: Promise<unknown>) => void;
  /** A candidate was made, or is to be seen. */
  onCandidate: (id: string) => void;
}

/** A search opened: what was chosen, the measure by settings, and every one of them. */
export function SearchView({ studyId, line, kind, act, onCandidate }: Props) {
  const { labelOf: columnName } = useDictionary(studyId);
  const measures = searchMeasures[kind];
  const [asked, setMeasure] = useAddress('measure');
  const measure =
    measures.find(({ id }) => id === asked) ??
    measures.find(({ id }) => id === line.plan.measure) ??
    measures[0];
  const { detail, readAt } = useSearchDetail(line, measure.id);
  const [picked, setPicked] = useState<number>();
  const [drawnAs, setDrawnAs] = useState<DrawnAs>({});
  const isBusy = line.state === 'waiting' || line.state === 'running';
  const own = { search: line.id };
  const choose = (trial: number, how: ChosenFrom['how']) =>
    act(
      ask(searchRoutes.choose, own, { body: { trial, how, measure: measure.id } }).then(({ id }) =>
        onCandidate(id),
      ),
    );
  return (
    <section className={styles.open} aria-label={`${line.name}, ${kindText(line)}`}>
      <div className={styles.acts}>
        <Select
          label="Compared by"
          value={measure.id}
          options={measures.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id) => setMeasure(id, 'replace')}
        />
        <span role="status">{stateText(line)}.</span>
        {isBusy && (
          <Button look="link" onClick={() => act(ask(searchRoutes.stop, own))}>
            Stop, and keep what there is
          </Button>
        )}
        {(line.state === 'stopped' || line.state === 'failed') && !line.outOfDate && (
          <Button look="link" onClick={() => act(ask(searchRoutes.goOn, own))}>
            Go on
          </Button>
        )}
        {line.outOfDate && !isBusy && (
          <Button look="link" onClick={() => act(ask(searchRoutes.goOn, own))}>
            Search again on the design in force
          </Button>
        )}
        {line.otherCosts && !line.outOfDate && !isBusy && (
          <Button look="link" onClick={() => act(ask(searchRoutes.judge, own))}>
            Judge by the costs in force
          </Button>
        )}
      </div>
      {line.state === 'failed' && <Notice>{line.problem}</Notice>}
      {line.outOfDate && (
        <Notice kind="plain">
          The design was changed since this search. Its figures are those of the old design; a
          candidate made of them is fitted on the new one.
        </Notice>
      )}
      {!detail && <p role="status">Reading what was tried</p>}
      {detail && (
        <>
          {line.plan.growing ? (
            <MorePatients {...{ line, detail, measure }} />
          ) : (
            <Choices
              {...{ line, detail, measure, picked, columnName, onCandidate }}
              onChoose={choose}
              onCloser={
                line.state === 'done' && !line.outOfDate && !line.plan.fewer
                  ? (trial) => act(ask(searchRoutes.closer, own, { body: { trial } }))
                  : undefined
              }
            />
          )}
          {line.state === 'done' && detail.choice && detail.trials.length > 1 && (
            <Corrected line={line} measure={measure} />
          )}
          <NestedCheck {...{ line, detail, measure, act }} />
          <TriedFigure
            {...{ line, detail, measure, picked }}
            asked={drawnAs}
            onAsked={setDrawnAs}
            onPick={setPicked}
          />
          {detail.selection?.folds && (
            <SelectionFigure
              {...{ line, columnName, selection: detail.selection }}
              trials={detail.trials}
              number={picked ?? detail.choice?.simplest}
            />
          )}
          <TrialTable
            {...{ line, detail, measure, picked, readAt, columnName }}
            onPick={setPicked}
          />
        </>
      )}
    </section>
  );
}

interface ChoicesProps {
  line: SearchLine;
  detail: SearchDetail;
  measure: SearchMeasure;
  picked?: number;
  /** How a predictor is shown. */
  columnName: (name: string) => string;
  onChoose: (trial: number, how: ChosenFrom['how']) => void;
  /** Absent where there is nothing to be looked at more closely yet. */
  onCloser?: (trial: number) => void;
  onCandidate: (id: string) => void;
}

/** The best, the simplest that is as good, and the one that was pressed. */
function Choices(props: ChoicesProps) {
  const { line, detail, measure, picked, columnName, onChoose, onCloser, onCandidate } = props;
  const { choice, trials, varied, chosen, selection } = detail;
  const canChoose = !selection || selection.sets !== undefined;
  const fields = fieldsOfSearch(line);
  const hasLearned = trials.some(({ development }) => development !== undefined);
  const rows: { how: ChosenFrom['how']; head: string; number: number }[] = [
    ...(choice ? [{ how: 'best' as const, head: 'Best', number: choice.best }] : []),
    ...(choice && choice.simplest !== choice.best
      ? [
          {
            how: 'simplest' as const,
            head: 'Simplest within one standard error',
            number: choice.simplest,
          },
        ]
      : []),
    ...(picked !== undefined && trials[picked]?.value !== undefined
      ? [{ how: 'by hand' as const, head: 'Picked', number: picked }]
      : []),
  ];
  if (rows.length === 0)
    return (
      <p className="quiet">
        {line.plan.fewer
          ? 'Nothing can be chosen yet: not every fold has told of any.'
          : 'Nothing can be chosen yet: no combination is fitted on all patients.'}
      </p>
    );
  return (
    <table className={styles.choices}>
      <thead>
        <tr>
          <th scope="col">Choice</th>
          <th scope="col">{selection ? 'Predictors' : 'Settings'}</th>
          <th scope="col" className={styles.figure}>
            {measure.name}
          </th>
          {hasLearned && (
            <th scope="col" className={styles.figure}>
              in those learned from
            </th>
          )}
          <th scope="col">
            <span className="hidden">Acts</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ how, head, number }) => {
          const { values, value, error, development } = trials[number];
          const made = chosen.find((one) => one.number === number);
          return (
            <tr key={how}>
              <th scope="row">
                {head}
                {how === 'best' &&
                  choice?.simplest === choice?.best &&
                  ', and the simplest as good'}
              </th>
              <td>
                {settingsText(fields, varied, values)}
                {selection?.sets && `: ${namesText(selection, number, columnName)}`}
              </td>
              <td className={styles.figure}>
                {showTried(measure, value)}
                {error !== undefined && ` ± ${showTried(measure, error)}`}
              </td>
              {hasLearned && <td className={styles.figure}>{showTried(measure, development)}</td>}
              <td>
                {made ? (
                  <Button look="link" onClick={() => onCandidate(made.candidate)}>
                    It is {made.name}
                  </Button>
                ) : canChoose ? (
                  <Button look="link" onClick={() => onChoose(number, how)}>
                    Make it a candidate
                  </Button>
                ) : (
                  <span className="quiet">
                    {selection.problem ?? 'not ranked on all patients yet'}
                  </span>
                )}{' '}
                {onCloser && (
                  <Button look="link" onClick={() => onCloser(number)}>
                    Look closer
                  </Button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** What the best comes to when it is judged by others than those it was chosen by. */
function Corrected({ line, measure }: { line: SearchLine; measure: SearchMeasure }) {
  const { data, isFetching } = useQuery({
    queryKey: ['corrected', line.id, measure.id, line.settings, line.otherCosts],
    queryFn: () =>
      ask(searchRoutes.corrected, { search: line.id }, { query: { measure: measure.id } }),
    staleTime: 60_000,
  });
  if (data === undefined) return isFetching ? <p role="status">Correcting for the choice</p> : null;
  if (data === null)
    return (
      <p className="quiet">
        The best of many looks better than it is. How much cannot be told here: there are too many
        predictions, or too few patients, to draw them anew.
      </p>
    );
  const { value, interval, uncorrected, draws } = data;
  const show = (figure: number) => showTried(measure, figure);
  const isFlattered = measure.better === 'higher' ? value < uncorrected : value > uncorrected;
  return (
    <p>
      {isFlattered
        ? 'The best of many looks better than it is. '
        : 'Choosing among these hardly flatters the best. '}
      Chosen on patients drawn anew and judged on those left out, {measure.name} is{' '}
      <strong>{show(value)}</strong> ({show(interval[0])} to {show(interval[1])}); as found it is{' '}
      {show(uncorrected)}
      {line.rounds > 1 && '. Those left behind in earlier rounds are not in this'}.{' '}
      <span className="quiet">{showCount(draws)} draws, all folds together.</span>
    </p>
  );
}
