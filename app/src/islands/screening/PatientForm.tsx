import { useState } from 'react';
import type { ModelPredictor } from '@rook-scale/core/model';
import { modelInputs, type PatientValues } from '@rook-scale/core/screening';
import { display, isCoded } from '@rook-scale/core/table';
import { showValue } from '../../browser/format.ts';
import { readNumber } from '../../browser/numbers.ts';
import type { PatientSheet } from '../../contract/patients.ts';
import styles from './OnePatient.module.css';

interface Props {
  sheet: PatientSheet;
  values: PatientValues;
  onChange: (values: PatientValues) => void;
}

/** A form made from what the model asks of a patient; every one may be left not known. */
export function PatientForm({ sheet, values, onChange }: Props) {
  const set = (name: string, value: number | string | null) =>
    onChange({ ...values, [name]: value });
  return (
    <div className={styles.form}>
      {modelInputs(sheet).map((predictor) => (
        <label key={predictor.name} title={display(predictor)}>
          <span className={styles.label}>{display(predictor)}</span>
          {isCoded(predictor.kind) ? (
            <Levels
              predictor={predictor}
              value={values[predictor.name]}
              onChange={(value) => set(predictor.name, value)}
            />
          ) : predictor.kind === 'date' ? (
            <input
              type="date"
              value={dateText(values[predictor.name])}
              onChange={(event) => set(predictor.name, dayOf(event.target.value))}
            />
          ) : (
            <NumberValue
              predictor={predictor}
              value={values[predictor.name]}
              onChange={(value) => set(predictor.name, value)}
            />
          )}
        </label>
      ))}
    </div>
  );
}

const dayLength = 86_400_000;

function dateText(value: number | string | null): string {
  return typeof value === 'number' ? new Date(value * dayLength).toISOString().slice(0, 10) : '';
}

function dayOf(text: string): number | null {
  return text === '' ? null : Date.parse(text) / dayLength;
}

interface ValueProps {
  predictor: ModelPredictor;
  value: number | string | null;
  onChange: (value: number | string | null) => void;
}

function Levels({ predictor, value, onChange }: ValueProps) {
  return (
    <select
      value={value === null ? '' : String(value)}
      onChange={(event) => onChange(event.target.value === '' ? null : event.target.value)}
    >
      <option value="">not known</option>
      {(predictor.levels ?? []).map((level) => (
        <option key={level} value={level}>
          {level}
        </option>
      ))}
    </select>
  );
}

/** Taken over while typing wherever it reads as a number; empty is not known. */
function NumberValue({ predictor, value, onChange }: ValueProps) {
  const shown = typeof value === 'number' ? showValue(value) : '';
  const [typed, setTyped] = useState({ of: value, text: shown });
  const text = typed.of === value ? typed.text : shown;
  const { range, unit } = predictor;
  const outside =
    range !== undefined && typeof value === 'number' && (value < range[0] || value > range[1]);
  const read = readNumber(text);
  const unreadable = text.trim() !== '' && Number.isNaN(read);
  const type = (next: string) => {
    const trimmed = next.trim();
    const number = trimmed === '' ? null : readNumber(trimmed);
    const taken = number === null || Number.isNaN(number) ? null : number;
    setTyped({ of: taken, text: next });
    onChange(taken);
  };
  return (
    <span className={styles.number}>
      <input
        inputMode="decimal"
        className="figures"
        placeholder="not known"
        value={text}
        aria-invalid={unreadable || outside}
        title={range && `Development patients had ${showValue(range[0])} to ${showValue(range[1])}`}
        onChange={(event) => type(event.target.value)}
      />
      <span className={styles.unit}>{unreadable ? 'not a number' : unit}</span>
    </span>
  );
}
