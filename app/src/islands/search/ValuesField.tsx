import type { SettingField } from '@rook-scale/core/families';
import { roundDigits } from '../../browser/numbers.ts';
import { Field } from '../../components/index.ts';
import { valuesOf, valuesText, type Asked } from './asked-values.ts';
import styles from './Search.module.css';

interface Props {
  field: Exclude<SettingField, { type: 'columns' | 'formula' }>;
  asked: Asked;
  onChange: (asked: Asked) => void;
}

/** A setting of a search: one value, a list of them or a range; of a choice any of its options. */
export function ValuesField({ field, asked, onChange }: Props) {
  const found = valuesOf(field, asked);
  const error = 'error' in found ? found.error : undefined;
  const said =
    'values' in found && asked.as === 'range'
      ? `${field.help} ${valuesText(found.values)}.`
      : field.help;
  if (field.type !== 'number') return <OptionsField {...{ field, asked, onChange, error }} />;
  return (
    <Field label={field.label} help={said} error={error}>
      {(ids) => (
        <span className={styles.values}>
          <select
            aria-label={`${field.label}: how it is given`}
            value={asked.as}
            onChange={({ target }) => onChange(turnedTo(target.value as Asked['as'], field, found))}
          >
            <option value="one">one value</option>
            <option value="list">a list</option>
            <option value="range">a range</option>
          </select>
          {asked.as === 'range' ? (
            <RangeInputs ids={ids} label={field.label} asked={asked} onChange={onChange} />
          ) : (
            <input
              {...ids}
              className="figures"
              inputMode="decimal"
              placeholder={asked.as === 'list' ? 'such as 2, 5, 10' : undefined}
              value={
                asked.as === 'list' ? asked.text : asked.as === 'one' ? String(asked.value) : ''
              }
              onChange={({ target }) =>
                onChange(
                  asked.as === 'list'
                    ? { as: 'list', text: target.value }
                    : { as: 'one', value: target.value },
                )
              }
            />
          )}
        </span>
      )}
    </Field>
  );
}

function RangeInputs({
  ids,
  label,
  asked,
  onChange,
}: {
  ids: { id: string };
  label: string;
  asked: Extract<Asked, { as: 'range' }>;
  onChange: (asked: Asked) => void;
}) {
  const part = (name: 'from' | 'to' | 'count', said: string) => (
    <input
      {...(name === 'from' && ids)}
      aria-label={`${label}: ${said}`}
      className={`figures ${styles.short}`}
      inputMode="decimal"
      value={asked[name]}
      onChange={({ target }) => onChange({ ...asked, [name]: target.value })}
    />
  );
  return (
    <>
      {part('from', 'from')} to {part('to', 'to')} in {part('count', 'how many')}
      <select
        aria-label={`${label}: spacing`}
        value={asked.by}
        onChange={({ target }) => onChange({ ...asked, by: target.value as 'step' | 'ratio' })}
      >
        <option value="step">even steps</option>
        <option value="ratio">equal ratios</option>
      </select>
    </>
  );
}

function OptionsField({
  field,
  asked,
  onChange,
  error,
}: Props & { field: Extract<Props['field'], { type: 'choice' | 'switch' }>; error?: string }) {
  const options =
    field.type === 'switch'
      ? [
          { value: false, label: 'no' },
          { value: true, label: 'yes' },
        ]
      : field.options;
  const chosen = asked.as === 'options' ? asked.values : [];
  return (
    <fieldset className={styles.options}>
      <legend>{field.label}</legend>
      {options.map(({ value, label }) => (
        <label key={String(value)}>
          <input
            type="checkbox"
            checked={chosen.includes(value)}
            onChange={({ target }) =>
              onChange({
                as: 'options',
                values: options
                  .map((one) => one.value)
                  .filter((one) => (one === value ? target.checked : chosen.includes(one))),
              })
            }
          />
          {label}
        </label>
      ))}
      <p className="quiet">{field.help}</p>
      {error && (
        <p role="alert" className={styles.error}>
          {error}
        </p>
      )}
    </fieldset>
  );
}

/** What was given stays as far as it can. */
function turnedTo(
  as: Asked['as'],
  field: Extract<SettingField, { type: 'number' }>,
  found: ReturnType<typeof valuesOf>,
): Asked {
  const values = 'values' in found ? found.values.map(String) : [String(field.default)];
  if (as === 'list') return { as, text: values.join(', ') };
  if (as === 'one') return { as, value: values[0] };
  const [first, last] = [Number(values[0]), Number(values.at(-1))];
  const isWide = first > 0;
  // Ends are values that the setting may have: whole ones where it is whole.
  const end = (value: number) => String(field.whole ? Math.round(value) : roundDigits(value, 4));
  return {
    as: 'range',
    from: end(first === last && isWide ? Math.max(field.least, first / 4) : first),
    to: end(first === last ? Math.min(field.most, isWide ? first * 4 : field.most) : last),
    count: String(Math.max(5, values.length)),
    by: isWide ? 'ratio' : 'step',
  };
}
