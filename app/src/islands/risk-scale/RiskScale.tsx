import { useCallback, useContext, useEffect, useMemo, useState, type ReactNode } from 'react';
import {
  costPerThousand,
  errorTable,
  ratesOf,
  referenceCost,
  riskDensity,
  type Clusters,
  type CutoffRule,
  type ErrorCosts,
  type RankedRisks,
} from '@rook-scale/core/measures';
import { AskedQuery, setAddress } from '../../browser/address.ts';
import { showCost, showCount, showInterval, showRate } from '../../browser/format.ts';
import { CutoffRules } from './CutoffRules.tsx';
import { Ruler } from './Ruler.tsx';
import type { ScoreScale } from './score-scale.ts';
import { useCutoffKeys } from './use-cutoff-keys.ts';
import styles from './RiskScale.module.css';

export interface Patients {
  /** How much each is taken for a case: a risk, a share, or a predicted number. */
  risks: Float64Array;
  /** 1 with the event, 0 without; all 0 when outcomes are not known. */
  events: ArrayLike<number>;
  ranked: RankedRisks;
  /** Where several rows are of one patient or group. */
  clusters?: Clusters;
  outcomesKnown: boolean;
  scale: ScoreScale;
}

interface Props {
  patients: Patients;
  /** Which patients these are: "out-of-fold", "held-out", … */
  whose: string;
  /** Who is a case, to stand behind "with". */
  outcome: string;
  /** Where the marker stands. */
  cutoff: number;
  /** The candidate's cutoff, which the marker goes back to. */
  chosen: number;
  costs: ErrorCosts;
  onMove: (cutoff: number) => void;
  /** The rule of the candidate, and how to change it; a choice of another kind stands in its place. */
  rules: { rule: CutoffRule; onRule: (rule: CutoffRule) => void } | { choice: ReactNode };
  /** The reference candidate has one risk for all: nothing to choose. */
  fixed?: boolean;
  /** Score of one patient, to be shown among the others. */
  patient?: number;
}

/** The band along the bottom: where the patients lie, the movable cutoff, and what it costs there. */
export function RiskScale(props: Props) {
  const { patients, whose, outcome, cutoff, chosen, costs, onMove, rules, fixed } = props;
  const { scale } = patients;
  const density = useMemo(
    () => riskDensity(patients.risks, patients.events, { from: scale.from, to: scale.to }),
    [patients, scale],
  );
  const table = useMemo(() => errorTable(patients.ranked, cutoff), [patients, cutoff]);
  const rates = useMemo(() => ratesOf(table), [table]);
  useCutoffKeys(cutoff, scale, onMove);
  const all = patients.ranked.patients;
  const per1000 = (count: number) => showCount(Math.round((1000 * count) / Math.max(1, all)));
  const cost = costPerThousand(patients.ranked, cutoff, costs);
  return (
    <div className={styles.scale}>
      <Ruler
        density={density}
        scale={scale}
        cutoff={cutoff}
        chosen={chosen}
        onMove={onMove}
        above={
          patients.outcomesKnown
            ? `${showCount(patients.ranked.events)} with ${outcome}`
            : `${showCount(all)} patients below, outcome not known`
        }
        below={patients.outcomesKnown ? `${showCount(all - patients.ranked.events)} without` : ''}
        whose={whose}
        patient={props.patient}
      />
      <dl className={styles.figures} aria-label={`At this cutoff, ${whose} patients`}>
        {patients.outcomesKnown ? (
          <>
            <Figure value={per1000(table.missed)} name="missed" more="per 1,000" />
            <Figure value={per1000(table.falseAlarms)} name="false alarms" more="per 1,000" />
            <Figure
              value={showCost(cost)}
              name="cost per 1,000"
              more={`reference ${showCost(referenceCost(patients.ranked, costs))}`}
            />
            <Figure
              value={showRate(rates.sensitivity)}
              name="sensitivity"
              more={showInterval(rates.sensitivity.interval)}
            />
            <Figure
              value={showRate(rates.specificity)}
              name="specificity"
              more={showInterval(rates.specificity.interval)}
            />
          </>
        ) : (
          <>
            <Figure
              value={showCount(table.falseAlarms)}
              name="called in"
              more={`of ${showCount(all)}`}
            />
            <Figure value={showCount(table.rightlyLeft)} name="left alone" more="" />
            <Figure value={per1000(table.falseAlarms)} name="called in" more="per 1,000" />
          </>
        )}
      </dl>
      {fixed ? (
        <p className={styles.fixed}>
          One {scale.what} for all patients: there is no cutoff to choose.
        </p>
      ) : 'choice' in rules ? (
        rules.choice
      ) : (
        <CutoffRules
          {...rules}
          key={JSON.stringify(rules.rule)}
          show={scale.show}
          cutoff={cutoff}
          chosen={chosen}
          onMove={onMove}
        />
      )}
    </div>
  );
}

function Figure({ value, name, more }: { value: string; name: string; more: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{value}</dd>
      <dd className={styles.more}>{more}</dd>
    </div>
  );
}

/**
 * The marker's place: the candidate's cutoff until it is moved, and again when that changes. Where
 * it was moved to stands in the address a moment later, so that a link leads to it.
 */
export function useMarker(chosen: number): [number, (cutoff: number) => void] {
  const first = useContext(AskedQuery).cutoff as string | undefined;
  const asked =
    typeof window === 'undefined'
      ? first
      : new URLSearchParams(window.location.search).get('cutoff');
  const [moved, setMoved] = useState(() => {
    const to = Number(asked);
    // Whatever is asked for beyond the scale is at its end.
    return asked && Number.isFinite(to) ? { from: chosen, to } : undefined;
  });
  // Once another cutoff is chosen the move is forgotten, also when the first one comes back.
  if (moved && moved.from !== chosen) setMoved(undefined);
  const move = useCallback((to: number) => setMoved({ from: chosen, to }), [chosen]);
  const cutoff = moved?.from === chosen ? moved.to : chosen;
  useEffect(() => {
    const timer = setTimeout(
      () => setAddress({ cutoff: cutoff === chosen ? undefined : String(cutoff) }, 'replace'),
      400,
    );
    return () => clearTimeout(timer);
  }, [cutoff, chosen]);
  return [cutoff, move];
}
