import { useState } from 'react';
import { canBePart, choiceOffered, type HowMoved } from '@rook-scale/core/families';
import { ask } from '../../browser/api.ts';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import { Button, DialogActions, Notice, Select } from '../../components/index.ts';
import { useAdding } from './use-adding.ts';
import styles from './Candidates.module.css';

interface Props {
  studyId: string;
  /** All candidates: only some of them have risks that can be moved. */
  lines: CandidateLine[];
  /** Id of the one that is chosen at first. */
  first?: string;
  firstHow?: HowMoved;
  onClose: () => void;
  onAdded: (id: string) => void;
}

const howOffered = choiceOffered('recalibrated', 'how');

/** A candidate whose risks are to be moved to where they come true. */
export function RecalibrateForm({ studyId, lines, first, firstHow, onClose, onAdded }: Props) {
  const offered = lines.filter(({ family }) => canBePart(family));
  const [candidate, setCandidate] = useState(
    (offered.find(({ id }) => id === first) ?? offered.at(-1))?.id,
  );
  const [how, setHow] = useState<HowMoved>(firstHow ?? 'line');
  const { adding, problem, onSubmit } = useAdding(
    () =>
      ask(
        candidateRoutes.recalibrate,
        { study: studyId },
        { body: { candidate: candidate!, how } },
      ),
    onAdded,
  );
  if (candidate === undefined)
    return (
      <>
        <p>Fit a candidate first: its risks can then be recalibrated.</p>
        <DialogActions>
          <Button onClick={onClose}>Close</Button>
        </DialogActions>
      </>
    );
  return (
    <form className={styles.form} noValidate onSubmit={onSubmit}>
      <Select
        label="Candidate"
        value={candidate}
        options={offered.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={setCandidate}
      />
      <Select
        label={howOffered.label}
        value={how}
        options={howOffered.options}
        onChange={(value) => setHow(value as HowMoved)}
      />
      <p className="quiet">
        {howOffered.help} The candidate is fitted anew with each fold left out, inside of each fold,
        and stays in it whatever becomes of the one chosen here.
      </p>
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" type="submit" disabled={adding}>
          Recalibrate
        </Button>
      </DialogActions>
    </form>
  );
}
