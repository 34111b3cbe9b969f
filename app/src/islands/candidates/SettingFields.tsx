import { zodResolver } from '@hookform/resolvers/zod';
import { Controller, useForm, useWatch, type Resolver, type UseFormReturn } from 'react-hook-form';
import {
  settingsSchema,
  type FamilyDescription,
  type SettingField,
  type Settings,
} from '@rook-scale/core/families';
import { Field } from '../../components/index.ts';
import { NumbersInput } from './NumbersInput.tsx';
import styles from './Candidates.module.css';

/** A form of one value for each setting of a family, from these or from the usual ones. */
export const useSettings = (family: FamilyDescription, from: Settings = {}) =>
  useForm<Settings>({
    defaultValues: Object.fromEntries(
      family.settings.map((field) => [field.name, from[field.name] ?? defaultOf(field)]),
    ),
    resolver: zodResolver(settingsSchema(family.settings)) as Resolver<Settings>,
  });

interface Props {
  studyId: string;
  family: FamilyDescription;
  /** Names of the predictors in force. */
  predictors: string[];
  form: UseFormReturn<Settings>;
}

/** A control for each setting that is asked for, made from the family's own description. */
export function SettingFields({ studyId, family, predictors, form }: Props) {
  const { register, formState, control } = form;
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
              <NumbersInput {...{ ids, studyId, predictors, onChange }} value={value as string[]} />
            )}
          />
        ) : (
          <Control field={field} ids={ids} register={register} />
        )
      }
    </Field>
  );
  return (
    <>
      {asked.filter((field) => !field.further).map(fieldOf)}
      {further.length > 0 && (
        <details
          className={styles.further}
          open={further.some(({ name }) => formState.errors[name]) || undefined}
        >
          <summary>More settings</summary>
          <div className={styles.form}>{further.map(fieldOf)}</div>
        </details>
      )}
    </>
  );
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
