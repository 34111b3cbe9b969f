import { useId, useRef, type RefObject } from 'react';
import { columnReference, functions } from '@rook-scale/core/formula';
import { display, type Dictionary } from '@rook-scale/core/table';
import type { FormulaTried } from '../../contract/cohorts.ts';
import styles from './Formula.module.css';

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** Columns that it may read. */
  dictionary: Dictionary;
  tried: FormulaTried | undefined;
  placeholder: string;
}

/** A formula with what can stand in it, and where it fails when it does. */
export function FormulaField({ label, value, onChange, dictionary, tried, placeholder }: Props) {
  const id = useId();
  const field = useRef<HTMLTextAreaElement>(null);
  const fault = tried && !tried.understood && value.trim() !== '' ? tried : undefined;
  return (
    <div className={styles.field}>
      <label htmlFor={id}>{label}</label>
      <textarea
        ref={field}
        id={id}
        rows={2}
        spellCheck={false}
        placeholder={placeholder}
        value={value}
        aria-invalid={fault !== undefined}
        aria-describedby={fault ? `${id}-fault` : undefined}
        onChange={(event) => onChange(event.target.value)}
      />
      {fault && (
        <div id={`${id}-fault`} role="alert" className={styles.fault}>
          <p>{fault.sentence}</p>
          <code aria-hidden="true">
            {value.slice(0, fault.from)}
            <mark>{value.slice(fault.from, fault.to) || ' '}</mark>
            {value.slice(fault.to)}
          </code>
        </div>
      )}
      <div className={styles.help}>
        <Insert
          label="Insert a column"
          field={field}
          value={value}
          onChange={onChange}
          options={dictionary.map((entry) => ({
            text: columnReference(entry.name),
            label: display(entry),
            title: entry.kind,
          }))}
        />
        <Insert
          label="Insert a function"
          field={field}
          value={value}
          onChange={onChange}
          options={[
            {
              text: "if(age < 18, 'child', 'adult')",
              label: 'if',
              title: 'one value or another by a condition',
            },
            {
              text: 'firstknown(crp_1, crp_2)',
              label: 'firstknown',
              title: 'the first that is known',
            },
            ...functions.map(({ name, example, about }) => ({
              text: example,
              label: name,
              title: about,
            })),
          ]}
        />
        <span className="quiet">
          + − * / ^, &lt; &lt;= = &lt;&gt;, and or not, in (…); texts in quotes, names with spaces
          in {'{ }'}
        </span>
      </div>
    </div>
  );
}

interface InsertProps {
  label: string;
  field: RefObject<HTMLTextAreaElement | null>;
  value: string;
  onChange: (value: string) => void;
  options: { text: string; label: string; title: string }[];
}

/** Puts what is chosen where the cursor stands. */
function Insert({ label, field, value, onChange, options }: InsertProps) {
  const insert = (text: string) => {
    const { selectionStart, selectionEnd } = field.current ?? {
      selectionStart: value.length,
      selectionEnd: value.length,
    };
    const before = value.slice(0, selectionStart);
    const gap = before && !/[\s(]$/.test(before) ? ' ' : '';
    onChange(before + gap + text + value.slice(selectionEnd));
    field.current?.focus();
  };
  return (
    <select aria-label={label} value="" onChange={(event) => insert(event.target.value)}>
      <option value="">{label.toLowerCase()}</option>
      {options.map((option) => (
        <option key={option.text} value={option.text} title={option.title}>
          {option.label}
        </option>
      ))}
    </select>
  );
}
