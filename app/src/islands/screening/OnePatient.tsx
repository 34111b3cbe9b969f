import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useState, type ReactNode } from 'react';
import { isRule } from '@rook-scale/core/families';
import type { Model } from '@rook-scale/core/model';
import { modelInputs, type PatientValues } from '@rook-scale/core/screening';
import { isCoded } from '@rook-scale/core/table';
import {
  type CandidateLine,
  candidateRoutes,
  type Predictions,
} from '../../contract/candidates.ts';
import { cohortRoutes, type CohortInfo } from '../../contract/cohorts.ts';
import type { Overview } from '../../contract/studies.ts';
import { setAddress, useAddress } from '../../browser/address.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { type PatientAnswer, patientRoutes, type PatientSheet } from '../../contract/patients.ts';
import {
  caseWords,
  scoreHead,
  showCutoff,
  showInUnit,
  showRisk,
  showScore,
} from '../../browser/format.ts';
import { screeningRoutes } from '../../contract/screenings.ts';
import { Button, Loading, Notice } from '../../components/index.ts';
import { PageBody } from '../frame/index.ts';
import { CutoffOf, makePatients, RiskScale, useMarker } from '../risk-scale/index.ts';
import { NeighboursTable } from './NeighboursTable.tsx';
import { PatientForm } from './PatientForm.tsx';
import { valuesFromRow } from './patient-from-row.ts';
import { patientNotes } from './patient-notes.ts';
import { SeparationNotice } from '../separation/index.ts';
import { WhatIfTable } from './WhatIfTable.tsx';
import { WhyDialog } from './WhyDialog.tsx';
import { hasReasons } from '../why/index.ts';
import styles from './OnePatient.module.css';

interface Props {
  line: CandidateLine;
  overview: Overview;
  /** The list from which a patient may come. */
  cohort: CohortInfo | undefined;
  /** The scores of that list by this candidate. */
  screening: string | undefined;
  actions: ReactNode;
  picker: ReactNode;
}

/** One patient by hand or from a list: the risk at once, and what would change it. */
export function OnePatient(props: Props) {
  const [row] = useAddress('row');
  return <PatientOf key={`${props.cohort?.id ?? ''} ${row ?? ''}`} {...props} row={row} />;
}

function PatientOf(props: Props & { row: string | undefined }) {
  const { line, cohort, screening, actions, picker, row } = props;
  // What was typed stays when the candidate is fitted again, or another is asked.
  const [typed, setTyped] = useState<PatientValues>({});
  const fromList = row !== undefined && cohort ? { cohort, row: Number(row) } : undefined;
  const { data, error } = useQuery({
    queryKey: ['sheet of a patient', line.id, line.fittedAt, line.outcome?.cases, row, screening],
    queryFn: async () => {
      const [sheet, predictions, cells, scored] = await Promise.all([
        ask(patientRoutes.sheet, { candidate: line.id }),
        ask(candidateRoutes.predictions, { candidate: line.id }),
        fromList ? fetchRow(fromList) : undefined,
        fromList && screening ? ask(screeningRoutes.view, { screening }) : undefined,
      ]);
      return { sheet, predictions, cells, cutoff: scored?.calls.cutoff };
    },
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  if (!data)
    return (
      <PageBody title="Screening" fact="one patient" actions={actions}>
        {picker}
        {error ? <Notice>{messageOf(error)}</Notice> : <Loading what="the values of the patient" />}
      </PageBody>
    );
  const { sheet, predictions, cells, cutoff } = data;
  const start = cells ? valuesFromRow(sheet, fromList!.cohort, cells) : sheet.usual;
  return (
    <Patient
      {...props}
      sheet={sheet}
      predictions={predictions}
      values={{ ...start, ...stillAsked(typed, sheet) }}
      onType={setTyped}
      onStart={() => setTyped({})}
      changed={Object.keys(typed).length > 0}
      name={cells ? nameOf(fromList!, cells) : undefined}
      ofList={cutoff}
    />
  );
}

/** What was typed, of what the candidate asks and can read. */
function stillAsked(typed: PatientValues, sheet: PatientSheet): PatientValues {
  const asked = modelInputs(sheet).filter(({ name, kind, levels = [] }) => {
    const value = typed[name];
    if (value === undefined) return false;
    return value === null || (isCoded(kind) ? levels.includes(String(value)) : !isNaN(+value));
  });
  return Object.fromEntries(asked.map(({ name }) => [name, typed[name]]));
}

async function fetchRow({ cohort, row }: { cohort: CohortInfo; row: number }): Promise<string[]> {
  const { rows } = await ask(
    cohortRoutes.rows,
    { cohort: cohort.id },
    { query: { from: row, count: 1 } },
  );
  if (!rows[0]) throw new Error('This list has no such row. Choose a patient in the list.');
  return rows[0];
}

function nameOf({ cohort, row }: { cohort: CohortInfo; row: number }, cells: string[]): string {
  const place = cohort.dictionary.findIndex((entry) => entry.role === 'identifier');
  return `${cells[place] || `row ${row + 1}`} of ${cohort.name}`;
}

interface PatientProps extends Props {
  sheet: PatientSheet;
  predictions: Predictions;
  values: PatientValues;
  onType: (values: PatientValues) => void;
  /** Back to the values of the list. */
  onStart: () => void;
  /** Something was typed. */
  changed: boolean;
  /** Who it is, when the patient comes from a list. */
  name?: string;
  /** Cutoff of the list that the patient comes from, where it is scored. */
  ofList?: number;
}

function Patient(props: PatientProps) {
  const { line, overview, cohort, actions, picker, sheet, predictions, values, name } = props;
  const { onType, onStart, changed } = props;
  const { outcome } = sheet;
  const others = useMemo(() => makePatients(predictions, outcome), [predictions, outcome]);
  const chosen = props.ofList ?? line.results!.cutoff;
  const [cutoff, move] = useMarker(chosen);
  const {
    data: answer,
    error,
    isPlaceholderData,
  } = useQuery({
    queryKey: ['patient', line.id, sheet.fittedAt, outcome.cases, values],
    queryFn: ({ signal }) =>
      ask(patientRoutes.ask, { candidate: line.id }, { body: { values }, signal }),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const [isAsking, setAsking] = useState(false);
  const clear = Object.fromEntries(modelInputs(sheet).map((one) => [one.name, null]));
  const risk = answer?.score;
  const called = risk !== undefined && risk >= cutoff;
  return (
    <PageBody
      title="Screening"
      fact={name ?? 'one patient, by hand'}
      actions={
        <>
          {name && (
            <Button onClick={() => setAddress({ view: undefined, row: undefined })}>
              Back to the list
            </Button>
          )}
          {actions}
        </>
      }
      studyId={overview.study.id}
      notes={patientNotes(sheet, values, answer, isRule(line.family))}
      scale={
        <RiskScale
          patients={others}
          whose="out-of-fold"
          outcome={caseWords(outcome)}
          cutoff={cutoff}
          chosen={chosen}
          rules={{
            choice: (
              <CutoffOf
                whose={props.ofList === undefined ? line.name : cohort!.name}
                {...{ cutoff, chosen }}
                show={others.scale.show}
                onMove={move}
              />
            ),
          }}
          costs={overview.design!.choices}
          onMove={move}
          patient={risk}
        />
      }
    >
      {picker}
      {isAsking && (
        <WhyDialog
          {...{ line, values, name }}
          studyId={overview.study.id}
          onClose={() => setAsking(false)}
        />
      )}
      {error && <Notice>{messageOf(error)}</Notice>}
      <SeparationNotice name={line.name} warnings={line.warnings} />
      <div className={styles.page}>
        <section aria-labelledby="values">
          <div className={styles.head}>
            <h2 id="values">What is known</h2>
            <Button look="link" onClick={() => onType(sheet.usual)}>
              usual patient
            </Button>
            <Button look="link" onClick={() => onType(clear)}>
              nothing known
            </Button>
            {name && changed && (
              <Button look="link" onClick={onStart}>
                as in the list
              </Button>
            )}
          </div>
          <PatientForm sheet={sheet} values={values} onChange={onType} />
        </section>
        <section aria-labelledby="risk" aria-busy={isPlaceholderData}>
          <h2 id="risk">{isRule(line.family) ? `What ${line.name} says` : scoreHead(outcome)}</h2>
          {answer && answer.lacking.length > 0 && (
            <p role="status">Not scored: {answer.lacking.join(', ')} must be known.</p>
          )}
          {answer && risk !== undefined && (
            <>
              <p className={styles.risk} aria-live="polite" data-stale={isPlaceholderData}>
                <strong>{showScore(risk, outcome)}</strong>
                <span className={called ? styles.called : styles.alone}>
                  {called ? 'call in' : 'leave alone'}
                </span>
                <span className="quiet">
                  {called ? 'at or above' : 'below'} the cutoff {showCutoff(cutoff, outcome)}
                  {outcome.choice.kind !== 'number' &&
                    !isRule(line.family) &&
                    `; about ${outOf(risk)} such patients have ${caseWords(outcome)}`}
                </span>
              </p>
              <WholePatient outcome={outcome} answer={answer} />
              {hasReasons(line) && (
                <p>
                  <Button look="link" onClick={() => setAsking(true)}>
                    Why?
                  </Button>
                </p>
              )}
              {answer.neighbours && (
                <NeighboursTable sheet={sheet} neighbours={answer.neighbours} />
              )}
              <WhatIfTable
                sheet={sheet}
                changes={answer.changes}
                values={values}
                risk={risk}
                cutoff={cutoff}
                onTake={(predictor, value) => onType({ ...values, [predictor]: value })}
              />
            </>
          )}
        </section>
      </div>
    </PageBody>
  );
}

/** What is said besides the score: the share of every level, or the interval of the number. */
function WholePatient({
  outcome,
  answer: { shares, interval },
}: {
  outcome: Model['outcome'];
  answer: PatientAnswer;
}) {
  if (shares)
    return (
      <dl className={styles.shares}>
        {shares.map(({ level, share }) => (
          <div key={level}>
            <dt>{level}</dt>
            <dd>{showRisk(share)}</dd>
          </div>
        ))}
      </dl>
    );
  if (!interval) return null;
  const [from, to] = interval;
  return (
    <p className="quiet">
      Of 100 such patients 95 have between {showInUnit(from, '')} and {showInUnit(to, outcome.unit)}
      .
    </p>
  );
}

/** "1 in 14", or "37 of 100" where that reads better. */
function outOf(risk: number): string {
  if (risk <= 0.0005) return 'fewer than 1 in 2,000';
  // More than calibration can support.
  if (risk > 0.99) return 'over 99 of 100';
  return risk < 0.2 ? `1 in ${Math.round(1 / risk)}` : `${Math.round(100 * risk)} of 100`;
}
