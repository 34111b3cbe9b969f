import { useQuery } from '@tanstack/react-query';
import { isCalledAt } from '@rook-scale/core/outcome';
import type { CandidateLine } from '../../contract/candidates.ts';
import { reasonRoutes, type ReasonsView } from '../../contract/reasons.ts';
import { useAddress } from '../../browser/address.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { showScore } from '../../browser/format.ts';
import { Button, Notice, NumberField } from '../../components/index.ts';
import { Why } from '../why/index.ts';
import styles from './Reasons.module.css';

interface Props {
  studyId: string;
  line: CandidateLine;
}

/** Why the candidate says of one patient what it says, and who is like them. */
export function OnePatient({ studyId, line }: Props) {
  const [asked, setAsked] = useAddress('row');
  const number = Number(asked);
  const row =
    asked !== undefined && Number.isInteger(number) && number >= 1 ? number - 1 : undefined;
  const { data: found, error } = useQuery({
    queryKey: ['reasons', line.id, line.fittedAt, row],
    queryFn: () => ask(reasonRoutes.patient, { candidate: line.id }, { query: { row: row! } }),
    enabled: row !== undefined,
    staleTime: Infinity,
  });
  const go = (to: number) => setAsked(String(to), 'replace');
  return (
    <>
      <div className={styles.asked}>
        <NumberField
          label="Row of the patient"
          value={row === undefined ? undefined : row + 1}
          least={1}
          most={1e9}
          whole
          onChange={go}
        />
        {row !== undefined && (
          <>
            <Button disabled={row < 1} onClick={() => go(row)}>
              Before
            </Button>
            <Button onClick={() => go(row + 2)}>Next</Button>
          </>
        )}
        {row === undefined && (
          <p className="quiet">
            Give the row of a patient in the file, or press “Why?” where a list opens one.
          </p>
        )}
      </div>
      {error && <Notice>{messageOf(error)}</Notice>}
      {row !== undefined && !found && !error && <p role="status">Asking the candidate</p>}
      {found && <Shown {...{ studyId, line, found }} />}
    </>
  );
}

function Shown({ studyId, line, found }: Props & { found: ReasonsView }) {
  const { outcome, said, cutoff, name, side } = found;
  const show = (value: number) => showScore(value, outcome);
  const isCalled = isCalledAt(cutoff, outcome.cases)(said);
  return (
    <>
      <p>
        Of {name} ({side === 'development' ? 'a development patient' : side}), {line.name} says{' '}
        <strong>{show(said)}</strong>: {isCalled ? 'called in' : 'not called in'} at {show(cutoff)}.
        {side === 'development' &&
          ' It has learned from this patient: out of fold it may say another thing.'}
      </p>
      <Why {...{ studyId, found, name }} />
    </>
  );
}
