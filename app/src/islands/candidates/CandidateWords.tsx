import { zodResolver } from '@hookform/resolvers/zod';
import { useId, useState, type ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import { setAddress } from '../../browser/address.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import { Button, Dialog, DialogActions, Field, Notice } from '../../components/index.ts';
import styles from './Candidates.module.css';

/** The analyst's note of a candidate, and what can be done with the whole of it. */
export function CandidateWords({
  line,
  groups,
  isChosen,
  onChoose,
  onCopy,
  children,
}: {
  line: CandidateLine;
  /** Names of the groups that there are. */
  groups: string[];
  /** Whether the study goes on with it. */
  isChosen: boolean;
  /** Chooses it, or none; absent where it cannot be chosen. */
  onChoose?: (id: string | null) => void;
  /** Absent where none can be fitted. */
  onCopy?: () => void;
  /** At the left of what can be done. */
  children: ReactNode;
}) {
  const [naming, setNaming] = useState(false);
  return (
    <div className={styles.words}>
      {line.chosen && <ChosenFrom chosen={line.chosen} />}
      {line.note && <p className={styles.note}>{line.note}</p>}
      <div className={styles.beforeActs}>{children}</div>
      {onChoose && (
        <Button
          look="link"
          title="Held-out check, Reasons and Screening begin with the chosen candidate"
          onClick={() => onChoose(isChosen ? null : line.id)}
        >
          {isChosen ? 'Chosen: undo the choice' : 'Choose for this study'}
        </Button>
      )}
      <Button look="link" onClick={() => setNaming(true)}>
        {line.family === 'reference' ? 'Note' : 'Name, group and note'}
      </Button>
      {line.family !== 'reference' && onCopy && (
        <Button look="link" onClick={onCopy}>
          Change a copy
        </Button>
      )}
      {naming && <NameDialog line={line} groups={groups} onClose={() => setNaming(false)} />}
    </div>
  );
}

const choices = {
  best: 'Chosen as the best',
  simplest: 'Chosen as the simplest within one standard error of the best',
  'by hand': 'Picked',
};

/** Where its settings come from: the best of many looks better than it is. */
function ChosenFrom({ chosen }: { chosen: NonNullable<CandidateLine['chosen']> }) {
  const { how, search, among, measure, searchId, fewer } = chosen;
  const compared = !fewer
    ? plural(among, 'combination')
    : fewer.way === 'sets'
      ? plural(among, 'set')
      : `${plural(among, 'number')} of predictors`;
  return (
    <p className={styles.note}>
      {choices[how]} among {compared} compared by {measure} in{' '}
      {searchId ? (
        <Button look="link" onClick={() => setAddress({ search: searchId, measure: undefined })}>
          {search}, {fewer ? 'selection' : 'search'}
        </Button>
      ) : (
        `${search} (deleted)`
      )}
      .
      {fewer && fewer.way !== 'sets'
        ? ` Its predictors were selected among all development patients, so the figures of its own folds flatter it: ${insideText(measure, fewer.inside)}.`
        : how === 'by hand'
          ? ''
          : ' Figures of the best of many flatter it: the search says how much.'}
    </p>
  );
}

/** What it came to where whoever was predicted had no say in the selection. */
function insideText(measure: string, inside?: { value: number; error?: number }): string {
  if (!inside) return 'the search tells what it comes to with the selection inside each fold';
  const decimals = Math.max(0, 2 - Math.floor(Math.log10(Math.abs(inside.value) || 1)));
  const show = (value: number) => showFixed(value, decimals);
  const error = inside.error === undefined ? '' : ` ± ${show(inside.error)}`;
  return `with the selection inside each fold, ${measure} was ${show(inside.value)}${error}`;
}

function NameDialog({
  line,
  groups,
  onClose,
}: {
  line: CandidateLine;
  groups: string[];
  onClose: () => void;
}) {
  const known = useId();
  const { register, handleSubmit, formState } = useForm({
    defaultValues: { name: line.name, note: line.note, group: line.group },
    resolver: zodResolver(candidateRoutes.describe.body),
  });
  const [problem, setProblem] = useState<string>();
  const canRename = line.family !== 'reference';
  const save = async ({ name, note, group }: { name?: string; note?: string; group?: string }) => {
    try {
      const body = { note, ...(canRename && { name, group }) };
      await ask(candidateRoutes.describe, { candidate: line.id }, { body });
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog title={canRename ? 'Name, group and note' : 'Note'} onClose={onClose}>
      <form className={styles.form} noValidate onSubmit={(event) => void handleSubmit(save)(event)}>
        {canRename && (
          <Field
            label="Name"
            help="Left empty, it has the name of its family and its number."
            error={formState.errors.name?.message}
          >
            {(ids) => <input {...ids} {...register('name')} />}
          </Field>
        )}
        {canRename && (
          <Field
            label="Group"
            help="Candidates of a group stand together in the table. Left empty, it stands in none."
            error={formState.errors.group?.message}
          >
            {(ids) => (
              <>
                <input {...ids} {...register('group')} list={known} autoComplete="off" />
                <datalist id={known}>
                  {groups.map((group) => (
                    <option key={group} value={group} />
                  ))}
                </datalist>
              </>
            )}
          </Field>
        )}
        <Field
          label="Note"
          help="What a reader of this study should know of it."
          error={formState.errors.note?.message}
        >
          {(ids) => <textarea {...ids} rows={4} {...register('note')} />}
        </Field>
        {problem && <Notice>{problem}</Notice>}
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={formState.isSubmitting}>
            Keep it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
