import { useState } from 'react';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { readNumber, showDigits } from '../../../browser/numbers.ts';
import { Button, Field, Select } from '../../../components/index.ts';
import { isOf, type StepField, type Values } from './fields.ts';
import styles from './Preparation.module.css';

interface Props {
  field: StepField;
  values: Values;
  predictors: DictionaryEntry[];
  onChange: (value: unknown) => void;
}

/** One part of what a step is to do. */
export function StepFieldInput({ field, values, predictors, onChange }: Props) {
  const value = values[field.name];
  switch (field.type) {
    case 'choice':
      return (
        <Select
          label={field.label}
          value={String(value)}
          options={field.options}
          onChange={onChange}
        />
      );
    case 'column':
      return (
        <Select
          label={field.label}
          value={String(value)}
          options={[
            { value: '', label: 'choose a column' },
            ...predictors.filter((entry) => isOf(entry, field.of)).map(asOption),
          ]}
          onChange={onChange}
        />
      );
    case 'columns':
      return (
        <ColumnsInput
          label={field.label}
          offered={predictors.filter((entry) => isOf(entry, field.of))}
          value={value as 'all' | string[]}
          onChange={onChange}
        />
      );
    case 'number':
    case 'percent':
      return <NumberInput field={field} value={value as number | null} onChange={onChange} />;
    case 'text':
      return (
        <Field label={field.label}>
          {(ids) => (
            <input
              {...ids}
              value={typeof value === 'string' ? value : ''}
              maxLength={200}
              onChange={({ target }) => onChange(target.value)}
            />
          )}
        </Field>
      );
    case 'values':
      return (
        <Field label={field.label}>
          {(ids) => (
            <input
              {...ids}
              defaultValue={(value as string[]).join(', ')}
              onChange={({ target }) =>
                onChange(
                  target.value
                    .split(',')
                    .map((one) => one.trim())
                    .filter(Boolean),
                )
              }
            />
          )}
        </Field>
      );
    case 'switch':
      return (
        <label className={styles.switch}>
          <input
            type="checkbox"
            checked={value === true}
            onChange={({ target }) => onChange(target.checked)}
          />
          {field.label}
        </label>
      );
    case 'names':
      return (
        <NamesInput
          entry={predictors.find(({ name }) => name === values.column)}
          value={value as Record<string, string>}
          onChange={onChange}
        />
      );
    case 'pairs':
      return (
        <PairsInput
          offered={predictors.filter((entry) => isOf(entry, 'number'))}
          value={value as [string, string][]}
          onChange={onChange}
        />
      );
    case 'keep':
      return (
        <KeepInput value={value as { number: number } | { share: number }} onChange={onChange} />
      );
  }
}

const asOption = (entry: DictionaryEntry) => ({ value: entry.name, label: display(entry) });

function ColumnsInput({
  label,
  offered,
  value,
  onChange,
}: {
  label: string;
  offered: DictionaryEntry[];
  value: 'all' | string[];
  onChange: (value: 'all' | string[]) => void;
}) {
  const chosen = new Set(value === 'all' ? [] : value);
  return (
    <fieldset className={styles.columns}>
      <legend>{label}</legend>
      <label>
        <input
          type="checkbox"
          checked={value === 'all'}
          onChange={({ target }) => onChange(target.checked ? 'all' : [])}
        />
        all that it can touch
      </label>
      {value !== 'all' && (
        <ul>
          {offered.map((entry) => (
            <li key={entry.name}>
              <label>
                <input
                  type="checkbox"
                  checked={chosen.has(entry.name)}
                  onChange={() => {
                    if (!chosen.delete(entry.name)) chosen.add(entry.name);
                    onChange(offered.map(({ name }) => name).filter((name) => chosen.has(name)));
                  }}
                />
                {display(entry)}
              </label>
            </li>
          ))}
        </ul>
      )}
    </fieldset>
  );
}

function NumberInput({
  field,
  value,
  onChange,
}: {
  field: Extract<StepField, { type: 'number' | 'percent' }>;
  value: number | null;
  onChange: (value: number | null) => void;
}) {
  const factor = field.type === 'percent' ? 100 : 1;
  const [text, setText] = useState(value === null ? '' : showDigits(factor * value, 6));
  const number = readNumber(text);
  const empty = text.trim() === '';
  const isEmptyAllowed = field.type === 'number' && field.empty === true;
  const whole = field.type === 'number' && field.whole === true;
  const valid = empty
    ? isEmptyAllowed
    : number >= field.least && number <= field.most && (!whole || Number.isInteger(number));
  return (
    <Field
      label={field.label}
      error={
        valid
          ? undefined
          : `${whole ? 'A whole number' : 'A number'} from ${field.least} to ${field.most}, please.`
      }
    >
      {(ids) => (
        <span>
          <input
            {...ids}
            className="figures"
            inputMode="decimal"
            value={text}
            onChange={({ target }) => {
              setText(target.value);
              const next = readNumber(target.value);
              onChange(target.value.trim() === '' ? null : next / factor);
            }}
          />
          {factor === 100 && ' %'}
        </span>
      )}
    </Field>
  );
}

function NamesInput({
  entry,
  value,
  onChange,
}: {
  entry: DictionaryEntry | undefined;
  value: Record<string, string>;
  onChange: (value: Record<string, string>) => void;
}) {
  if (!entry?.levels) return null;
  const put = (level: string, name: string) => {
    const others = Object.entries(value).filter(([one]) => one !== level);
    const own = name.trim() !== '' && name !== level ? [[level, name]] : [];
    onChange(Object.fromEntries([...others, ...own]) as Record<string, string>);
  };
  return (
    <table className={styles.names}>
      <thead>
        <tr>
          <th scope="col">Level</th>
          <th scope="col">Called from here on</th>
        </tr>
      </thead>
      <tbody>
        {entry.levels.map((level) => (
          <tr key={level}>
            <th scope="row">{level}</th>
            <td>
              <input
                aria-label={`${level} is called`}
                placeholder={level}
                defaultValue={value[level] ?? ''}
                onChange={({ target }) => put(level, target.value)}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function PairsInput({
  offered,
  value,
  onChange,
}: {
  offered: DictionaryEntry[];
  value: [string, string][];
  onChange: (value: [string, string][]) => void;
}) {
  const first = offered[0]?.name ?? '';
  const [pair, setPair] = useState<[string, string]>([first, offered[1]?.name ?? first]);
  const labelOf = (name: string) => {
    const entry = offered.find((one) => one.name === name);
    return entry ? display(entry) : name;
  };
  if (offered.length === 0) return <p>No predictor is a number.</p>;
  return (
    <div className={styles.pairs}>
      <div className={styles.row}>
        <Select
          label="First number"
          quietLabel
          value={pair[0]}
          options={offered.map(asOption)}
          onChange={(name) => setPair([name, pair[1]])}
        />
        ×
        <Select
          label="Second number"
          quietLabel
          value={pair[1]}
          options={offered.map(asOption)}
          onChange={(name) => setPair([pair[0], name])}
        />
        <Button onClick={() => onChange([...value, pair])}>Add</Button>
      </div>
      <ul>
        {value.map(([a, b], i) => (
          <li key={i}>
            {a === b ? `${labelOf(a)} squared` : `${labelOf(a)} × ${labelOf(b)}`}{' '}
            <Button look="link" onClick={() => onChange(value.filter((_, j) => j !== i))}>
              take away
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}

function KeepInput({
  value,
  onChange,
}: {
  value: { number: number } | { share: number };
  onChange: (value: { number: number } | { share: number }) => void;
}) {
  const byNumber = 'number' in value;
  return (
    <div className={styles.row}>
      <Select
        label="Keep"
        value={byNumber ? 'number' : 'share'}
        options={[
          { value: 'share', label: 'as many as carry of the variance' },
          { value: 'number', label: 'so many' },
        ]}
        onChange={(how) => onChange(how === 'number' ? { number: 5 } : { share: 0.95 })}
      />
      <NumberInput
        key={String(byNumber)}
        field={
          byNumber
            ? {
                name: 'keep',
                label: 'Components',
                type: 'number',
                least: 1,
                most: 100,
                whole: true,
              }
            : { name: 'keep', label: 'Share', type: 'percent', least: 5, most: 100 }
        }
        value={byNumber ? value.number : value.share}
        onChange={(next) => onChange(byNumber ? { number: next ?? 0 } : { share: next ?? 0 })}
      />
    </div>
  );
}
