import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { PartCounts } from '@rook-scale/core/design';
import type { Design } from '@rook-scale/core/design';
import { errorSums, errorTable } from '@rook-scale/core/measures';
import type { CandidateLine } from '../../contract/candidates.ts';
import { leastReason, lookRoutes, type SealedView } from '../../contract/looks.ts';
import { ask } from '../../browser/api.ts';
import { errorWords, plural, showMoment } from '../../browser/format.ts';
import { toastError } from '../../browser/toast.ts';
import { Button, Dialog, DialogActions, Field, Notice } from '../../components/index.ts';
import { makePatients } from '../risk-scale/index.ts';
import { ErrorTableView } from './ErrorTableView.tsx';
import { RatesTable } from './sections/index.ts';
import { RocChart } from './RocChart.tsx';
import styles from './HeldOut.module.css';

interface Props {
  studyId: string;
  line: CandidateLine;
  /** Of the design in force; absent where it seals nobody. */
  sealed?: PartCounts;
  costs: Design;
  /** What patients who are no cases are called. */
  other?: string;
}

/** The patients whom nobody has seen: opened once, with one candidate, and shown from then on. */
export function SealedPart({ studyId, line, sealed, costs, other }: Props) {
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState('');
  const { data: view } = useQuery({
    queryKey: ['sealed', studyId],
    queryFn: () => ask(lookRoutes.sealed, { study: studyId }),
  });
  const open = () => {
    setAsking(false);
    const body = { candidate: line.id, reason };
    ask(lookRoutes.openSealed, { study: studyId }, { body }).then(
      (opened) => client.setQueryData(['sealed', studyId], opened),
      toastError,
    );
  };
  if (view === undefined || (view === null && !sealed)) return null;
  return (
    <section className={styles.sealed} aria-labelledby="sealed">
      <h2 id="sealed">Sealed patients</h2>
      {view ? (
        <Opened view={view} costs={costs} other={other} />
      ) : (
        <>
          <p>
            {plural(sealed!.patients, 'patient')} whom no look has shown. They open once in this
            study, with one candidate: that figure is the one to report.
          </p>
          <Button onClick={() => setAsking(true)} disabled={line.outOfDate}>
            Open them with {line.name}
          </Button>
          {line.outOfDate && (
            <p className="quiet">{line.name} is of an earlier design. Fit it again first.</p>
          )}
        </>
      )}
      {asking && (
        <Dialog
          title={`Open the sealed patients with ${line.name}?`}
          onClose={() => setAsking(false)}
        >
          <p>
            This happens once and cannot be taken back: no other candidate of this study will ever
            be held against them, and neither will {line.name} after another fit.
          </p>
          <Field
            label="Why now?"
            help="Stands beside what they say, for whoever reads it: who decided, and that the candidate and its cutoff are settled."
          >
            {(ids) => (
              <textarea
                {...ids}
                data-first
                rows={3}
                maxLength={1000}
                value={reason}
                onChange={({ target }) => setReason(target.value)}
              />
            )}
          </Field>
          <DialogActions>
            <Button onClick={() => setAsking(false)}>Keep them sealed</Button>
            <Button look="main" disabled={reason.trim().length < leastReason} onClick={open}>
              Open them
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </section>
  );
}

function Opened({ view, costs, other }: { view: SealedView } & Pick<Props, 'costs' | 'other'>) {
  const { predicted, cutoff } = view;
  const patients = useMemo(() => makePatients(view.predictions, predicted), [view, predicted]);
  const table = useMemo(() => errorTable(patients.ranked, cutoff), [patients, cutoff]);
  const words = errorWords(predicted, other);
  return (
    <>
      <p>
        Opened on {showMoment(view.at)} with {view.candidateName}, at the cutoff it had then.
        {view.reason && ` Why: ${view.reason}`}
      </p>
      {view.standing?.isOfThisSplit === false && (
        <Notice kind="plain">
          These are the sealed patients of an earlier split.{' '}
          {view.standing.development > 0 &&
            `${plural(view.standing.development, 'of them is a development patient', 'of them are development patients')} now. `}
          The table is as it was when they were opened.
        </Notice>
      )}
      <div className={styles.top}>
        <ErrorTableView
          table={table}
          costs={errorSums(patients.ranked, cutoff, costs)}
          cutoff={patients.scale.show(cutoff)}
          outcome={words}
          title={`Errors in sealed patients at cutoff ${patients.scale.show(cutoff)}`}
        />
        <RocChart patients={patients} table={table} />
      </div>
      <RatesTable table={table} words={words} />
    </>
  );
}
