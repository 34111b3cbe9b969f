import { useQuery } from '@tanstack/react-query';
import { useMemo, useState, type ReactNode } from 'react';
import { caseScores } from '@rook-scale/core/outcome';
import {
  modelInputs,
  scorePatient,
  typicalPatient,
  whatIfOne,
  type Model,
  type PatientValues,
  type Scored,
} from '@rook-scale/core/screening';
import { setAddress, useAddress } from '../../browser/address.ts';
import { get, messageOf, request } from '../../browser/api.ts';
import {
  caseWords,
  lowerFirst,
  showCutoff,
  showInUnit,
  showRisk,
  showScore,
} from '../../browser/format.ts';
import { toastError } from '../../browser/toast.ts';
import { Button, Notice } from '../../components/index.ts';
import type { CandidateLine, Predictions } from '../../server/candidates/index.ts';
import type { CohortInfo } from '../../server/cohorts/index.ts';
import type { Overview } from '../../server/studies.ts';
import { PageBody } from '../frame/index.ts';
import { makePatients, RiskScale, useMarker } from '../risk-scale/index.ts';
import { PatientForm } from './PatientForm.tsx';
import { valuesFromRow } from './patient-from-row.ts';
import { patientNotes } from './patient-notes.ts';
import { SeparationNotice } from '../separation/index.ts';
import { WhatIfTable } from './WhatIfTable.tsx';
import styles from './OnePatient.module.css';

interface Props {
  line: CandidateLine;
  overview: Overview;
  /** The list from which a patient may come. */
  cohort: CohortInfo | undefined;
  actions: ReactNode;
  picker: ReactNode;
}

/** One patient by hand or from a list: the risk at once, and what would change it. */
export function OnePatient(props: Props) {
  const { line, cohort, actions, picker } = props;
  const [row] = useAddress('row');
  const fromList = row !== undefined && cohort ? { cohort, row: Number(row) } : undefined;
  const { data, error } = useQuery({
    queryKey: ['patient', line.id, line.fittedAt, fromList?.cohort.id, fromList?.row],
    queryFn: async () => {
      const [model, predictions, values] = await Promise.all([
        get<Model>(`/api/candidates/${line.id}/model`),
        get<Predictions>(`/api/candidates/${line.id}/predictions`),
        fromList ? fetchRow(fromList) : undefined,
      ]);
      return { model, predictions, cells: values };
    },
    staleTime: Infinity,
  });
  if (!data)
    return (
      <PageBody title="Screening" fact="one patient" actions={actions}>
        {picker}
        {error && <Notice>{messageOf(error)}</Notice>}
      </PageBody>
    );
  const start = data.cells
    ? valuesFromRow(data.model, fromList!.cohort.dictionary, data.cells)
    : typicalPatient(data.model);
  return (
    <Patient
      key={`${line.id} ${String(line.fittedAt)} ${row ?? ''}`}
      {...props}
      model={data.model}
      predictions={data.predictions}
      start={start}
      name={data.cells ? nameOf(fromList!, data.cells) : undefined}
    />
  );
}

async function fetchRow({ cohort, row }: { cohort: CohortInfo; row: number }): Promise<string[]> {
  const { rows } = await get<{ rows: string[][] }>(
    `/api/cohorts/${cohort.id}/rows?from=${row}&count=1`,
  );
  if (!rows[0]) throw new Error('This list has no such row. Choose a patient in the list.');
  return rows[0];
}

function nameOf({ cohort, row }: { cohort: CohortInfo; row: number }, cells: string[]): string {
  const place = cohort.dictionary.findIndex((entry) => entry.role === 'identifier');
  return `${cells[place] || `row ${row + 1}`} of ${cohort.name}`;
}

interface PatientProps extends Props {
  model: Model;
  predictions: Predictions;
  start: PatientValues;
  /** Who it is, when the patient comes from a list. */
  name?: string;
}

function Patient(props: PatientProps) {
  const { line, overview, actions, picker, model, predictions, start, name } = props;
  const [values, setValues] = useState(start);
  const { outcome } = model;
  const others = useMemo(() => makePatients(predictions, outcome), [predictions, outcome]);
  const chosen = line.results!.cutoff;
  const [cutoff, move] = useMarker(chosen);
  const scored = useMemo(() => scorePatient(model, values), [model, values]);
  const risk = caseScores(scored.predictions, outcome.cases)[0];
  const changes = useMemo(() => whatIfOne(model, values), [model, values]);
  const clear = Object.fromEntries(modelInputs(model).map((one) => [one.name, null]));
  const called = risk >= cutoff;
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
      notes={patientNotes(model, values)}
      scale={
        <RiskScale
          patients={others}
          whose="out-of-fold"
          outcome={caseWords(outcome)}
          cutoff={cutoff}
          chosen={chosen}
          rule={line.cutoffRule}
          costs={overview.design!.choices}
          onMove={move}
          onRule={(rule) =>
            void request('PUT', `/api/candidates/${line.id}/cutoff`, rule).catch(toastError)
          }
          patient={risk}
        />
      }
    >
      {picker}
      <SeparationNotice name={line.name} warnings={line.warnings} />
      <div className={styles.page}>
        <section aria-labelledby="values">
          <div className={styles.head}>
            <h2 id="values">What is known</h2>
            <Button look="link" onClick={() => setValues(typicalPatient(model))}>
              usual patient
            </Button>
            <Button look="link" onClick={() => setValues(clear)}>
              nothing known
            </Button>
            {name && values !== start && (
              <Button look="link" onClick={() => setValues(start)}>
                as in the list
              </Button>
            )}
          </div>
          <PatientForm model={model} values={values} onChange={setValues} />
        </section>
        <section aria-labelledby="risk">
          <h2 id="risk">{headOf(outcome)}</h2>
          <p className={styles.risk} aria-live="polite">
            <strong>{showScore(risk, outcome)}</strong>
            <span className={called ? styles.called : styles.alone}>
              {called ? 'call in' : 'leave alone'}
            </span>
            <span className="quiet">
              {called ? 'at or above' : 'below'} the cutoff {showCutoff(cutoff, outcome)}
              {outcome.choice.kind !== 'number' &&
                `; about ${outOf(risk)} such patients have ${caseWords(outcome)}`}
            </span>
          </p>
          <WholePatient outcome={outcome} scored={scored} />
          <WhatIfTable
            model={model}
            changes={changes}
            values={values}
            risk={risk}
            cutoff={cutoff}
            onTake={(predictor, value) => setValues({ ...values, [predictor]: value })}
          />
        </section>
      </div>
    </PageBody>
  );
}

/** What the score is of. */
function headOf({ choice, label, cases, unit }: Model['outcome']): string {
  const name = lowerFirst(label || choice.column);
  if (choice.kind === 'event') return `Risk of ${name}`;
  if (choice.kind === 'number') return `Predicted ${name}`;
  return `Share of ${caseWords({ cases, unit })} in ${name}`;
}

/** What is said besides the score: the share of every level, or the interval of the number. */
function WholePatient({ outcome, scored }: { outcome: Model['outcome']; scored: Scored }) {
  const { predictions, intervals } = scored;
  if (predictions.kind === 'levels')
    return (
      <dl className={styles.shares}>
        {predictions.levels.map((level, k) => (
          <div key={level}>
            <dt>{level}</dt>
            <dd>{showRisk(predictions.shares[k])}</dd>
          </div>
        ))}
      </dl>
    );
  if (predictions.kind !== 'number' || !intervals) return null;
  const [from, to] = intervals;
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
  return risk < 0.2 ? `1 in ${Math.round(1 / risk)}` : `${Math.round(100 * risk)} of 100`;
}
