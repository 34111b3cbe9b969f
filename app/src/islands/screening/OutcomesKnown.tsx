import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useMemo } from 'react';
import {
  areaUnderCurve,
  errorSums,
  errorTable,
  numberAgreement,
  ratesOf,
  type Clusters,
  type Rate,
} from '@rook-scale/core/measures';
import type { CandidateLine } from '../../contract/candidates.ts';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { ScreeningView } from '../../contract/screenings.ts';
import type { Overview } from '../../contract/studies.ts';
import { ask } from '../../browser/api.ts';
import { lookRoutes } from '../../contract/looks.ts';
import {
  errorWords,
  plural,
  showCount,
  showCutoff,
  showArea,
  showAreaInterval,
  showInterval,
  showRate,
} from '../../browser/format.ts';
import { Button, Notice } from '../../components/index.ts';
import { ErrorTableView, LevelErrors, NumberErrors, wholeOf } from '../held-out-check/index.ts';
import { costsOf } from './costs-of.ts';
import { makePatients, type Patients } from '../risk-scale/index.ts';
import styles from './OutcomesKnown.module.css';

interface Props {
  view: ScreeningView;
  patients: Patients;
  cohort: CohortInfo;
  line: CandidateLine;
  overview: Overview;
  cutoff: number;
}

/** The list's own errors, where its outcomes are known, beside those of the held-out patients. */
export function OutcomesKnown({ view, patients, cohort, line, overview, cutoff }: Props) {
  const { outcome } = view;
  const heldOut = useMemo(
    () => view.heldOut && makePatients(view.heldOut, outcome),
    [view.heldOut, outcome],
  );
  const costs = costsOf(view);
  const words = errorWords(outcome, overview.outcome?.other);
  const shared = { cutoff: showCutoff(cutoff, outcome), outcome: words };
  const closed = view.closed.heldOut + view.closed.sealed;
  const unknown = cohort.rowCount - patients.ranked.patients - closed;
  return (
    <>
      {unknown > 0 && (
        <p className="quiet">
          {plural(unknown, 'patient')} of this list without a known outcome are not counted here.
        </p>
      )}
      {closed > 0 && <ClosedOutcomes {...view.closed} />}
      {view.version.costs.own && !patients.ranked.own && (
        <p className="quiet">
          This list has no column with each patient’s own costs: here errors cost what they cost for
          all.
        </p>
      )}
      <WholeOutcome view={view} clusters={patients.clusters} heldOutClusters={heldOut?.clusters} />
      <div className={styles.pair}>
        <ErrorTableView
          {...shared}
          title={`${cohort.name} at this cutoff`}
          table={errorTable(patients.ranked, cutoff)}
          costs={errorSums(patients.ranked, cutoff, costs)}
        />
        {heldOut ? (
          <ErrorTableView
            {...shared}
            title="Held-out patients at this cutoff"
            table={errorTable(heldOut.ranked, cutoff)}
            costs={errorSums(heldOut.ranked, cutoff, costs)}
          />
        ) : (
          <TakeLook studyId={overview.study.id} line={line} />
        )}
      </div>
      <RatesBeside here={patients} then={heldOut} cutoff={cutoff} name={cohort.name} />
    </>
  );
}

/** Errors of predicted numbers or levels, beside those of the held-out patients. */
function WholeOutcome({
  view,
  clusters,
  heldOutClusters,
}: {
  view: ScreeningView;
  clusters: Clusters | undefined;
  heldOutClusters: Clusters | undefined;
}) {
  const here = useMemo(() => view.known && wholeOf(view.known.predictions), [view.known]);
  const then = useMemo(() => {
    const whole = view.heldOut && wholeOf(view.heldOut);
    if (whole?.predictions.kind !== 'number' || whole.outcome.kind !== 'number') return undefined;
    return numberAgreement(whole.outcome.values, whole.predictions.values, 1, heldOutClusters);
  }, [view.heldOut, heldOutClusters]);
  if (!here) return null;
  const { predictions, outcome } = here;
  if (predictions.kind === 'number' && outcome.kind === 'number')
    return (
      <section className={styles.whole}>
        <h2>How far off</h2>
        <NumberErrors
          predicted={predictions.values}
          observed={outcome.values}
          {...{ clusters }}
          outcome={view.outcome}
          beside={then && { head: 'Held-out patients', found: then, whole: true }}
        />
      </section>
    );
  if (predictions.kind === 'levels' && outcome.kind === 'levels')
    return (
      <section className={styles.whole}>
        <h2>Level by level</h2>
        <LevelErrors {...{ predictions, outcome, clusters }} costs={view.levelCosts} />
      </section>
    );
  return null;
}

/** Outcomes that the list holds and that are not shown. */
export function ClosedOutcomes({ heldOut, sealed }: ScreeningView['closed']) {
  return (
    <p className="quiet">
      {heldOut > 0 &&
        `${plural(heldOut, 'patient is', 'patients are')} held out in this study: their outcomes count after a look at this fit in Held-out check. `}
      {sealed > 0 &&
        `${plural(sealed, 'patient is', 'patients are')} sealed in this study: their outcomes stay closed here.`}
    </p>
  );
}

function TakeLook({ studyId, line }: { studyId: string; line: CandidateLine }) {
  const client = useQueryClient();
  const look = useMutation({
    mutationFn: () => ask(lookRoutes.take, { study: studyId }, { body: { candidate: line.id } }),
    onSuccess: () => client.invalidateQueries(),
  });
  return (
    <section className={styles.look}>
      <h2>Held-out patients</h2>
      <p>
        Nobody has looked at them with this fit of {line.name} yet. Setting their error table beside
        this one counts as a look.
      </p>
      <Button disabled={look.isPending} onClick={() => look.mutate()}>
        Look and set it beside
      </Button>
      {look.isError && <Notice>{look.error.message}</Notice>}
    </section>
  );
}

interface BesideProps {
  here: Patients;
  then: Patients | null;
  cutoff: number;
  name: string;
}

function RatesBeside({ here, then, cutoff, name }: BesideProps) {
  const hereRates = ratesOf(errorTable(here.ranked, cutoff));
  const thenRates = then && ratesOf(errorTable(then.ranked, cutoff));
  const area = areaUnderCurve(here.risks, here.events, here.clusters);
  const thenArea = then && areaUnderCurve(then.risks, then.events, then.clusters);
  const rows: [string, Rate, Rate | null | undefined][] = [
    ['Sensitivity', hereRates.sensitivity, thenRates?.sensitivity],
    ['Specificity', hereRates.specificity, thenRates?.specificity],
    [
      'Positive predictive value',
      hereRates.positivePredictiveValue,
      thenRates?.positivePredictiveValue,
    ],
    [
      'Negative predictive value',
      hereRates.negativePredictiveValue,
      thenRates?.negativePredictiveValue,
    ],
    ['Accuracy', hereRates.accuracy, thenRates?.accuracy],
    ['Majority baseline of accuracy', hereRates.majorityBaseline, thenRates?.majorityBaseline],
    ['Called in', hereRates.calledIn, thenRates?.calledIn],
  ];
  return (
    <table className={styles.rates}>
      <thead>
        <tr>
          <th scope="col">Rate</th>
          <th scope="col" colSpan={3}>
            {name}
          </th>
          {then && (
            <th scope="col" colSpan={3}>
              Held-out patients
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {rows.map(([label, one, other]) => (
          <tr key={label}>
            <th scope="row">{label}</th>
            <RateCells rate={one} />
            {then && other && <RateCells rate={other} />}
          </tr>
        ))}
        <tr>
          <th scope="row">AUC</th>
          <AreaCells area={area} />
          {then && <AreaCells area={thenArea ?? undefined} />}
        </tr>
      </tbody>
    </table>
  );
}

function RateCells({ rate }: { rate: Rate }) {
  return (
    <>
      <td className={styles.value}>{showRate(rate)}</td>
      <td>
        {showCount(rate.count)} of {showCount(rate.total)}
      </td>
      <td>{showInterval(rate.interval)}</td>
    </>
  );
}

function AreaCells({ area }: { area: ReturnType<typeof areaUnderCurve> }) {
  return (
    <>
      <td className={styles.value}>{area ? showArea(area.value) : '–'}</td>
      <td />
      <td>{area?.interval ? showAreaInterval(area.interval) : '–'}</td>
    </>
  );
}
