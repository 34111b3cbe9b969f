import { useId } from 'react';
import styles from './Select.module.css';

interface Props<Value extends string> {
  /** Stands before the control. */
  label: string;
  /** Read aloud only, where the page already says what it is. */
  quietLabel?: boolean;
  value: Value;
  options: { value: Value; label: string }[];
  onChange: (value: Value) => void;
}

/** One choice of a list. */
export function Select<Value extends string>(props: Props<Value>) {
  const { label, quietLabel = false, value, options, onChange } = props;
  const id = useId();
  return (
    <span className={styles.select}>
      <label htmlFor={id} className={quietLabel ? 'hidden' : undefined}>
        {label}
      </label>
      <select id={id} value={value} onChange={(event) => onChange(event.target.value as Value)}>
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
    </span>
  );
}
