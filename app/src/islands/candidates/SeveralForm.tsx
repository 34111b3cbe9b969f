import { useState, type SyntheticEvent } from 'react';
import type { Basis, Design } from '@rook-scale/core/design';
import type { FamilyDescription } from '@rook-scale/core/families';
import { ask, messageOf } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { candidateRoutes } from '../../contract/candidates.ts';
import { Button, DialogActions, Notice } from '../../components/index.ts';
import { BasisChoice } from './BasisChoice.tsx';
import styles from './Candidates.module.css';

interface Props {
  studyId: string;
  design: Pick<Design, 'predictors' | 'predictorSets' | 'preparation' | 'preparations'>;
  families: FamilyDescription[];
  onClose: () => void;
  onAdded: (id: string) => void;
}

/** One candidate of each chosen family, with the settings that it begins with. */
export function SeveralForm({ studyId, design, families, onClose, onAdded }: Props) {
  const [chosen, setChosen] = useState<string[]>([]);
  const [basis, setBasis] = useState<Basis>({});
  const [adding, setAdding] = useState(false);
  const [problem, setProblem] = useState<string>();
  const isAll = chosen.length === families.length;
  const add = async (event: SyntheticEvent) => {
    event.preventDefault();
    setAdding(true);
    setProblem(undefined);
    try {
      const body = { families: chosen, basis };
      onAdded((await ask(candidateRoutes.addSeveral, { study: studyId }, { body })).ids[0]);
    } catch (error) {
      setProblem(messageOf(error));
      setAdding(false);
    }
  };
  return (
    <form className={styles.form} noValidate onSubmit={(event) => void add(event)}>
      <fieldset className={`${styles.families} ${styles.inPairs}`}>
        <legend className="hidden">Model families</legend>
        {families.map(({ id, name, about }) => (
          <label key={id}>
            <input
              type="checkbox"
              checked={chosen.includes(id)}
              onChange={({ target }) =>
                setChosen(
                  families
                    .map((one) => one.id)
                    .filter((one) => (one === id ? target.checked : chosen.includes(one))),
                )
              }
            />
            <span>
              <strong>{name}</strong>
              <br />
              <span className="quiet">{about}</span>
            </span>
          </label>
        ))}
      </fieldset>
      <BasisChoice studyId={studyId} design={design} value={basis} onChange={setBasis} />
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button look="link" onClick={() => setChosen(isAll ? [] : families.map(({ id }) => id))}>
          {isAll ? 'None of them' : `All ${families.length}`}
        </Button>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          look="main"
          type="submit"
          disabled={adding || chosen.length === 0 || basis.own?.length === 0}
        >
          {chosen.length === 0 ? 'Fit them' : `Fit ${plural(chosen.length, 'candidate')}`}
        </Button>
      </DialogActions>
    </form>
  );
}
