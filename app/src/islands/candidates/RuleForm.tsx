import { useQuery } from '@tanstack/react-query';
import { useState, type SyntheticEvent } from 'react';
import type { FamilyDescription } from '@rook-scale/core/families';
import { type CohortInfo, cohortRoutes } from '../../contract/cohorts.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { candidateRoutes } from '../../contract/candidates.ts';
import { Button, DialogActions, Notice } from '../../components/index.ts';
import { FormulaField, Tried, useTried } from '../formula/index.ts';
import styles from './Candidates.module.css';

interface Props {
  studyId: string;
  family: FamilyDescription;
  /** The rule that is written on at first. */
  first: string;
  onClose: () => void;
  onAdded: (id: string) => void;
}

/** A rule of the analyst's, seen on rows while it is written. */
export function RuleForm(props: Props) {
  const { data: cohort, error } = useQuery({
    queryKey: ['development', props.studyId],
    queryFn: () => ask(cohortRoutes.development, { study: props.studyId }),
  });
  if (error) return <Notice>{messageOf(error)}</Notice>;
  return cohort ? <Writing {...props} cohort={cohort} /> : null;
}

function Writing({
  studyId,
  family,
  first,
  cohort,
  onClose,
  onAdded,
}: Props & { cohort: CohortInfo }) {
  const [formula, setFormula] = useState(first);
  const [problem, setProblem] = useState<string>();
  const [adding, setAdding] = useState(false);
  const { tried, pending, problem: failed } = useTried(cohort, formula);
  const field = family.settings[0];
  const add = async (event: SyntheticEvent) => {
    event.preventDefault();
    setAdding(true);
    setProblem(undefined);
    try {
      const body = { family: family.id, settings: { [field.name]: formula } };
      onAdded((await ask(candidateRoutes.add, { study: studyId }, { body })).id);
    } catch (error) {
      setProblem(messageOf(error));
      setAdding(false);
    }
  };
  return (
    <form className={styles.form} noValidate onSubmit={(event) => void add(event)}>
      <FormulaField
        label={field.label}
        value={formula}
        onChange={(next) => {
          setFormula(next);
          setProblem(undefined);
        }}
        dictionary={cohort.dictionary}
        tried={tried}
        placeholder="egfr < 60 or diabetes"
      />
      <p className="quiet">{field.help}</p>
      {tried?.understood && <Tried tried={tried} cohort={cohort} />}
      {(problem ?? failed) && <Notice>{problem ?? failed}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" type="submit" disabled={adding || pending || !tried?.understood}>
          Add it
        </Button>
      </DialogActions>
    </form>
  );
}
