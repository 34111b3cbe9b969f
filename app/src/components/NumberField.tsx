import { useState } from 'react';
import { readNumber } from '../browser/numbers.ts';
import { Field } from './Field.tsx';

interface Props {
  label: string;
  help?: string;
  title?: string;
  /** Absent until one is given. */
  value?: number;
  least: number;
  most: number;
  whole?: boolean;
  suffix?: string;
  onChange: (value: number) => void;
}

/** A number that is taken over when the field is left or Enter is pressed, and only when it makes sense. */
export function NumberField({
  label,
  help,
  title,
  value,
  least,
  most,
  whole,
  suffix,
  onChange,
}: Props) {
  // What is being typed belongs to the value it started from; another value from outside wins.
  const own = value === undefined ? '' : String(value);
  const [typed, setTyped] = useState({ from: value, text: own });
  const text = typed.from === value ? typed.text : own;
  const number = readNumber(text);
  const valid =
    text.trim() !== '' && number >= least && number <= most && (!whole || Number.isInteger(number));
  const take = () => {
    if (!valid || number === value) return;
    // Taken over, the text belongs to the new value: an undo must not find it again.
    setTyped({ from: number, text: String(number) });
    onChange(number);
  };
  return (
    <Field
      label={label}
      help={help}
      error={
        valid || (value === undefined && text === '')
          ? undefined
          : `${whole ? 'A whole number' : 'A number'} from ${least} to ${most}, please.`
      }
    >
      {(ids) => (
        <span>
          <input
            {...ids}
            className="figures"
            title={title}
            style={{ width: 88, textAlign: 'right' }}
            inputMode="decimal"
            value={text}
            onChange={(event) => setTyped({ from: value, text: event.target.value })}
            onBlur={take}
            onKeyDown={(event) => event.key === 'Enter' && take()}
          />
          {suffix && ` ${suffix}`}
        </span>
      )}
    </Field>
  );
}
