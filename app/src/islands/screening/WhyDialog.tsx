import { useQuery } from '@tanstack/react-query';
import type { PatientValues } from '@rook-scale/core/screening';
import type { CandidateLine } from '../../contract/candidates.ts';
import { reasonRoutes } from '../../contract/reasons.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { showScore } from '../../browser/format.ts';
import { Button, Dialog, DialogActions, Notice } from '../../components/index.ts';
import { Why } from '../why/index.ts';

interface Props {
  studyId: string;
  line: CandidateLine;
  values: PatientValues;
  /** Who it is, when the patient comes from a list. */
  name?: string;
  onClose: () => void;
}

/** Why the candidate says what it says of the patient at hand. */
export function WhyDialog({ studyId, line, values, name = 'this patient', onClose }: Props) {
  const { data: found, error } = useQuery({
    queryKey: ['why', line.id, line.fittedAt, line.results?.cutoff, values],
    queryFn: () => ask(reasonRoutes.why, { candidate: line.id }, { body: { values } }),
    staleTime: Infinity,
  });
  return (
    <Dialog title={`Why ${line.name} says so of ${name}`} wide onClose={onClose}>
      {error && <Notice>{messageOf(error)}</Notice>}
      {!found && !error && <p role="status">Asking the candidate</p>}
      {found && (
        <>
          <p>
            It says <strong>{showScore(found.said, found.outcome)}</strong>. These are reasons of
            the candidate, not of the disease.
          </p>
          <Why {...{ studyId, found, name }} heading="h2" />
        </>
      )}
      <DialogActions>
        <Button look="main" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
