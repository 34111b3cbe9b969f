import { zodResolver } from '@hookform/resolvers/zod';
import { useState } from 'react';
import { Controller, useForm, useWatch, type Resolver } from 'react-hook-form';
import {
  dependsOnCosts,
  familyDescriptions,
  settingsSchema,
  type FamilyDescription,
  type SettingField,
  type Settings,
} from '@rook-scale/core/families';
import type { Basis, Design } from '@rook-scale/core/design';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { ask, messageOf } from '../../browser/api.ts';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import { Button, Dialog, DialogActions, Field, Notice } from '../../components/index.ts';
import { BasisChoice } from './BasisChoice.tsx';
import { SearchForm } from '../search/index.ts';
import { NumbersInput } from './NumbersInput.tsx';
import { RuleForm } from './RuleForm.tsx';
import { SeveralForm } from './SeveralForm.tsx';
import styles from './Candidates.module.css';

interface Props {
  studyId: string;
  design: Pick<Design, 'predictors' | 'predictorSets' | 'preparations' | 'seed'>;
  /** What is to be predicted. */
  outcome: Predicted;
  /** The candidate of which a copy is changed. */
  from?: CandidateLine;
  /** What a search fits: patients, in so many folds. */
  development: { patients: number; parts: number };
  onClose: () => void;
  onAdded: (id: string) => void;
  /** A search was made. */
  onSearch: (id: string) => void;
}

interface Predicted {
  kind: OutcomeKind;
  ordered: boolean;
}

/** What can be added: the reference candidate is there already. */
function familiesFor({ kind, ordered }: Predicted): FamilyDescription[] {
  return familyDescriptions.filter(
    ({ id, outcomes, orderedOnly }) =>
      id !== 'reference' && outcomes.includes(kind) && (ordered || !orderedOnly),
  );
}

/** Offers the families of the core's list, each with a form made from its own description. */
export function AddCandidate(props: Props) {
  const { studyId, design, outcome, from, onClose, onAdded } = props;
  const offered = familiesFor(outcome);
  const [family, setFamily] = useState(offered.find(({ id }) => id === from?.family) ?? offered[0]);
  const [isSeveral, setSeveral] = useState(false);
  const [isSearch, setSearch] = useState(false);
  const canSearch = family.settings.some(({ type }) => type !== 'columns' && type !== 'formula');
  const forms = { studyId, design, onClose, onAdded };
  return (
    <Dialog
      title={from ? `Change a copy of ${from.name}` : 'Add candidate'}
      wide={!isSeveral && (!from || family.fixed || isSearch)}
      onClose={onClose}
    >
      {!from && (
        <label className={styles.several}>
          <input
            type="checkbox"
            checked={isSeveral}
            onChange={({ target }) => setSeveral(target.checked)}
          />
          Several at once, each with its usual settings
        </label>
      )}
      {isSeveral ? (
        <SeveralForm {...forms} families={offered.filter(({ fixed }) => !fixed)} />
      ) : (
        <div className={from ? undefined : styles.beside}>
          {!from && (
            <fieldset className={styles.families}>
              <legend className="hidden">Model family</legend>
              {offered.map((one) => (
                <label key={one.id}>
                  <input
                    type="radio"
                    name="family"
                    data-first={one.id === family.id || undefined}
                    checked={one.id === family.id}
                    onChange={() => setFamily(one)}
                  />
                  {one.name}
                </label>
              ))}
            </fieldset>
          )}
          <div className={styles.form}>
            <p className="quiet">{family.about}</p>
            {family.fixed ? (
              <RuleForm {...forms} family={family} first={String(from?.settings.formula ?? '')} />
            ) : (
              <>
                {canSearch && (
                  <label className={styles.several}>
                    <input
                      type="checkbox"
                      checked={isSearch}
                      onChange={({ target }) => setSearch(target.checked)}
                    />
                    Search: several values of its settings, all fitted and compared
                  </label>
                )}
                {isSearch && canSearch ? (
                  <SettingsSearch {...props} key={family.id} family={family} />
                ) : (
                  <SettingsForm {...forms} key={family.id} family={family} from={from} />
                )}
              </>
            )}
          </div>
        </div>
      )}
    </Dialog>
  );
}

function SettingsSearch(props: Props & { family: FamilyDescription }) {
  const { studyId, design, outcome, family, from, development, onClose, onSearch } = props;
  const [basis, setBasis] = useState<Basis>(keptOf(from?.basis, design));
  return (
    <SearchForm
      {...{ studyId, design, family, basis, onClose }}
      {...development}
      kind={outcome.kind}
      first={from?.settings ?? {}}
      onAdded={onSearch}
    >
      <BasisChoice design={design} value={basis} onChange={setBasis} />
    </SearchForm>
  );
}

function SettingsForm({
  studyId,
  design,
  family,
  from,
  onClose,
  onAdded,
}: Pick<Props, 'studyId' | 'design' | 'from' | 'onClose' | 'onAdded'> & {
  family: FamilyDescription;
}) {
  const defaults = Object.fromEntries(
    family.settings.map((field) => [field.name, from?.settings[field.name] ?? defaultOf(field)]),
  );
  const { register, handleSubmit, formState, control } = useForm<Settings>({
    defaultValues: defaults,
    resolver: zodResolver(settingsSchema(family.settings)) as Resolver<Settings>,
  });
  const [problem, setProblem] = useState<string>();
  const [basis, setBasis] = useState<Basis>(keptOf(from?.basis, design));
  const values = useWatch({ control });
  const asked = family.settings.filter(({ when }) => !when || values[when.setting] === when.value);
  const further = asked.filter((field) => field.further);
  const fieldOf = (field: SettingField) => (
    <Field
      key={field.name}
      label={field.label}
      help={field.help}
      error={formState.errors[field.name]?.message}
    >
      {(ids) =>
        field.type === 'columns' ? (
          <Controller
            name={field.name}
            control={control}
            render={({ field: { value, onChange } }) => (
              <NumbersInput
                ids={ids}
                studyId={studyId}
                predictors={design.predictors}
                value={value as string[]}
                onChange={onChange}
              />
            )}
          />
        ) : (
          <Control field={field} ids={ids} register={register} />
        )
      }
    </Field>
  );
  const add = async (settings: Settings) => {
    try {
      const body = { family: family.id, settings, basis };
      onAdded((await ask(candidateRoutes.add, { study: studyId }, { body })).id);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <form className={styles.form} noValidate onSubmit={(event) => void handleSubmit(add)(event)}>
      {asked.filter(({ further }) => !further).map(fieldOf)}
      {further.length > 0 && (
        <details
          className={styles.further}
          open={further.some(({ name }) => formState.errors[name]) || undefined}
        >
          <summary>More settings</summary>
          <div className={styles.form}>{further.map(fieldOf)}</div>
        </details>
      )}
      <BasisChoice design={design} value={basis} onChange={setBasis} />
      <p className="quiet">
        {dependsOnCosts(family, values as Settings)
          ? 'What errors cost enters this fit, and sets the cutoff.'
          : 'What errors cost does not enter this fit: it sets the cutoff alone.'}
      </p>
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" type="submit" disabled={formState.isSubmitting}>
          Fit it
        </Button>
      </DialogActions>
    </form>
  );
}

/** What a candidate names of what is kept still, for names can go. */
function keptOf(basis: Basis = {}, { predictorSets, preparations }: Props['design']): Basis {
  const isIn = (kept: { name: string }[], name?: string) => kept.some((one) => one.name === name);
  return {
    ...(isIn(predictorSets, basis.predictors) && { predictors: basis.predictors }),
    ...(isIn(preparations, basis.preparation) && { preparation: basis.preparation }),
  };
}

function defaultOf(field: SettingField): Settings[string] {
  if (field.type === 'formula') return '';
  return field.type === 'columns' ? [] : field.default;
}

interface ControlProps {
  field: Exclude<SettingField, { type: 'columns' }>;
  ids: { id: string };
  register: ReturnType<typeof useForm<Settings>>['register'];
}

function Control({ field, ids, register }: ControlProps) {
  if (field.type === 'switch') return <input {...ids} type="checkbox" {...register(field.name)} />;
  if (field.type === 'choice')
    return (
      <select {...ids} {...register(field.name)}>
        {field.options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
    );
  if (field.type === 'formula') return <input {...ids} {...register(field.name)} />;
  const { least, most, step } = field;
  return (
    <input
      {...ids}
      type="number"
      className="figures"
      min={least}
      max={most}
      step={step}
      {...register(field.name, { valueAsNumber: true })}
    />
  );
}
