import { useState } from 'react';
import { canBePart, choiceOffered, mostParts } from '@rook-scale/core/families';
import { ask } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import { Button, DialogActions, Notice, Select } from '../../components/index.ts';
import { differsText } from './differs.ts';
import { useAdding } from './use-adding.ts';
import styles from './Candidates.module.css';

interface Props {
  studyId: string;
  /** All candidates: only some of them can be parts. */
  lines: CandidateLine[];
  /** Ids of those that are parts at first. */
  first: string[];
  firstWeights: Weights;
  onClose: () => void;
  onAdded: (id: string) => void;
}

type Weights = 'learned' | 'equal';

const weightsOffered = choiceOffered('blend', 'weights');

/** Several candidates as one, with weights that are learned or the same for all. */
export function BlendForm({ studyId, lines, first, firstWeights, onClose, onAdded }: Props) {
  const offered = lines.filter(({ family }) => canBePart(family));
  const [chosen, setChosen] = useState(
    first.filter((id) => offered.some((line) => line.id === id)),
  );
  const [weights, setWeights] = useState<Weights>(firstWeights);
  const { adding, problem, onSubmit } = useAdding(
    () => ask(candidateRoutes.blend, { study: studyId }, { body: { candidates: chosen, weights } }),
    onAdded,
  );
  if (offered.length < 2)
    return (
      <>
        <p>
          A blend is made of two candidates or more. Fit some first: unlike families, or the same
          with other predictors.
        </p>
        <DialogActions>
          <Button onClick={onClose}>Close</Button>
        </DialogActions>
      </>
    );
  return (
    <form className={styles.form} noValidate onSubmit={onSubmit}>
      <fieldset className={styles.families}>
        <legend>
          Parts: {chosen.length === 0 ? 'none' : `${chosen.length} of ${offered.length}`}
        </legend>
        {offered.map((line) => {
          const isChosen = chosen.includes(line.id);
          return (
            <label key={line.id}>
              <input
                type="checkbox"
                checked={isChosen}
                disabled={!isChosen && chosen.length >= mostParts}
                onChange={({ target }) =>
                  setChosen(
                    target.checked ? [...chosen, line.id] : chosen.filter((one) => one !== line.id),
                  )
                }
              />
              <span>
                {line.name}{' '}
                <span className="quiet">
                  {[plural(line.uses.length, 'predictor'), differsText(line.family, line.settings)]
                    .filter(Boolean)
                    .join(', ')}
                </span>
              </span>
            </label>
          );
        })}
      </fieldset>
      <Select
        label={weightsOffered.label}
        value={weights}
        options={weightsOffered.options}
        onChange={(value) => setWeights(value === 'equal' ? 'equal' : 'learned')}
      />
      <p className="quiet">
        {weights === 'learned'
          ? weightsOffered.help
          : 'Nothing is learned about the parts: what they say is averaged.'}{' '}
        Its parts are fitted anew with it, and stay in it whatever becomes of the candidates.
      </p>
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" type="submit" disabled={adding || chosen.length < 2}>
          {chosen.length < 2 ? 'Blend them' : `Blend ${chosen.length} candidates`}
        </Button>
      </DialogActions>
    </form>
  );
}
