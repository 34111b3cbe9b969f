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
import { candidateRoutes } from '../../contract/candidates.ts';
import { Button, Dialog, DialogActions, Field, Notice, Select } from '../../components/index.ts';
import { NumbersInput } from './NumbersInput.tsx';
import { RuleForm } from './RuleForm.tsx';
import styles from './Candidates.module.css';

interface Props {
  studyId: string;
  design: Pick<Design, 'predictors' | 'predictorSets' | 'preparations'>;
  /** What is to be predicted. */
  outcome: Predicted;
  onClose: () => void;
  onAdded: (id: string) => void;
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
export function AddCandidate({ studyId, design, outcome, onClose, onAdded }: Props) {
  const offered = familiesFor(outcome);
  const [family, setFamily] = useState(offered[0]);
  return (
    <Dialog title="Add candidate" wide={family.fixed} onClose={onClose}>
      <fieldset className={styles.families}>
        <legend className="hidden">Model family</legend>
        {offered.map((one) => (
          <label key={one.id}>
            <input
              type="radio"
              name="family"
              checked={one.id === family.id}
              onChange={() => setFamily(one)}
            />
            <span>
              <strong>{one.name}</strong>
              <br />
              <span className="quiet">{one.about}</span>
            </span>
          </label>
        ))}
      </fieldset>
      {family.fixed ? (
        <RuleForm studyId={studyId} family={family} onClose={onClose} onAdded={onAdded} />
      ) : (
        <SettingsForm
          key={family.id}
          studyId={studyId}
          design={design}
          outcome={outcome}
          family={family}
          onClose={onClose}
          onAdded={onAdded}
        />
      )}
    </Dialog>
  );
}

function SettingsForm({
  studyId,
  design,
  family,
  onClose,
  onAdded,
}: Props & { family: FamilyDescription }) {
  const defaults = Object.fromEntries(
    family.settings.map((field) => [field.name, defaultOf(field)]),
  );
  const { register, handleSubmit, formState, control } = useForm<Settings>({
    defaultValues: defaults,
    resolver: zodResolver(settingsSchema(family.settings)) as Resolver<Settings>,
  });
  const [problem, setProblem] = useState<string>();
  const [basis, setBasis] = useState<Basis>({});
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
      <BasisChoice
        label="Predictors"
        kept={design.predictorSets}
        value={basis.predictors}
        onChange={(name) => setBasis(withPart(basis, 'predictors', name))}
      />
      <BasisChoice
        label="Preparation"
        kept={design.preparations}
        value={basis.preparation}
        onChange={(name) => setBasis(withPart(basis, 'preparation', name))}
      />
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

/** What is kept under a name in Design, or what is in force there; not asked while nothing is kept. */
function BasisChoice({
  label,
  kept,
  value,
  onChange,
}: {
  label: string;
  kept: { name: string }[];
  value: string | undefined;
  onChange: (name: string | undefined) => void;
}) {
  if (kept.length === 0) return null;
  return (
    <Select
      label={label}
      value={value ?? ''}
      options={[
        { value: '', label: 'those in force in Design' },
        ...kept.map(({ name }) => ({ value: name, label: name })),
      ]}
      onChange={(name) => onChange(name || undefined)}
    />
  );
}

function withPart(basis: Basis, part: keyof Basis, name: string | undefined): Basis {
  const { [part]: _, ...rest } = basis;
  return name === undefined ? rest : { ...rest, [part]: name };
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
