import { useState } from 'react';
import type { Model, ModelPredictor } from '@rook-scale/core/model';
import type { Match } from '@rook-scale/core/screening';
import { conversionsTo, convert, display, isCoded, type Conversion } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { showValue } from '../../browser/format.ts';
import { readNumber, showDigits } from '../../browser/numbers.ts';
import { Button, Dialog, DialogActions, Field, Notice } from '../../components/index.ts';
import styles from './Match.module.css';

interface Props {
  input: Model['predictors'][number];
  cohort: CohortInfo;
  /** As it is matched now, or as it is suggested. */
  start: Match | undefined;
  problem: string | undefined;
  onTake: (match: Match | undefined) => void;
  onClose: () => void;
}

/** Which column of the list stands for a predictor, in which unit and under which levels. */
export function MatchDialog({ input, cohort, start, problem, onTake, onClose }: Props) {
  const own = cohort.dictionary.some(({ name }) => name === input.name) ? input.name : '';
  const [column, setColumn] = useState(start?.column ?? own);
  const [conversion, setConversion] = useState<Conversion | undefined>(start?.conversion);
  const [levels, setLevels] = useState(new Map(start?.levels?.map((one) => [one.from, one.to])));
  const place = cohort.dictionary.findIndex(({ name }) => name === column);
  const entry = cohort.dictionary[place];
  const summary = cohort.summaries[place];
  const foreign = entry && isCoded(input.kind) ? foreignLevels(input, entry.levels ?? []) : [];
  const usable = conversion === undefined || isUsable(conversion);
  const take = () => {
    if (!entry) {
      onTake(undefined);
      return;
    }
    const named = foreign.flatMap((from) =>
      levels.has(from) ? [{ from, to: levels.get(from)! }] : [],
    );
    const changes = column !== input.name || conversion || named.length > 0;
    onTake(
      changes
        ? {
            predictor: input.name,
            column,
            ...(conversion && input.kind === 'number' && { conversion }),
            ...(named.length > 0 && { levels: named }),
          }
        : undefined,
    );
  };
  return (
    <Dialog title={`What stands for ${display(input)}`} onClose={onClose}>
      <form
        className={styles.form}
        onSubmit={(event) => {
          event.preventDefault();
          if (usable) take();
        }}
      >
        <Field label="Column of the list" help={thenText(input)}>
          {(ids) => (
            <select
              {...ids}
              data-first
              value={column}
              onChange={(event) => setColumn(event.target.value)}
            >
              <option value="">none: it is not known</option>
              {cohort.dictionary
                .filter(({ role }) => role !== 'identifier')
                .map((one) => (
                  <option key={one.name} value={one.name}>
                    {one.label && one.label !== one.name ? `${one.label} (${one.name})` : one.name}
                  </option>
                ))}
            </select>
          )}
        </Field>
        {entry && input.kind === 'number' && (
          <UnitChoice input={input} value={conversion} onChange={setConversion} />
        )}
        {summary?.numbers && input.quartiles && (
          <p className="quiet">
            Median of the list {show(summary.numbers.median, conversion)}, of the development
            patients {showValue(input.quartiles[1])}
            {input.unit && ` ${input.unit}`}.
          </p>
        )}
        {foreign.length > 0 && (
          <fieldset className={styles.levels}>
            <legend>Levels that the model does not know</legend>
            {foreign.map((level) => (
              <label key={level}>
                <span title={level}>{level}</span>
                <select
                  value={levels.get(level) ?? '\u0000'}
                  onChange={(event) => {
                    const next = new Map(levels);
                    if (event.target.value === '\u0000') next.delete(level);
                    else next.set(level, event.target.value);
                    setLevels(next);
                  }}
                >
                  <option value={'\u0000'}>new to the model</option>
                  {(input.levels ?? []).map((one) => (
                    <option key={one} value={one}>
                      is {one}
                    </option>
                  ))}
                  <option value="">is not known</option>
                </select>
              </label>
            ))}
          </fieldset>
        )}
        {problem && <Notice>{problem}</Notice>}
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit" disabled={!usable}>
            Use it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

interface UnitProps {
  input: ModelPredictor;
  value: Conversion | undefined;
  onChange: (value: Conversion | undefined) => void;
}

function UnitChoice({ input, value, onChange }: UnitProps) {
  const known = conversionsTo(input);
  const place = value
    ? known.findIndex((one) => one.factor === value.factor && one.offset === value.offset)
    : -1;
  const chosen = value === undefined ? 'same' : place >= 0 ? String(place) : 'own';
  const choose = (next: string) => {
    if (next === 'same') onChange(undefined);
    else onChange(next === 'own' ? { from: '', factor: 1, offset: 0 } : known[Number(next)]);
  };
  return (
    <>
      <Field label="Unit of the list">
        {(ids) => (
          <select {...ids} value={chosen} onChange={(event) => choose(event.target.value)}>
            <option value="same">{input.unit || 'the same as the model'}</option>
            {known.map((one, i) => (
              <option key={i} value={i}>
                {one.from}: {formula(one)}
              </option>
            ))}
            <option value="own">another unit</option>
          </select>
        )}
      </Field>
      {chosen === 'own' && value && (
        <div className={styles.own}>
          <NumberPart
            label="Times"
            start={value.factor}
            onChange={(factor) => onChange({ ...value, factor })}
          />
          <NumberPart
            label="plus"
            start={value.offset}
            onChange={(offset) => onChange({ ...value, offset })}
          />
        </div>
      )}
    </>
  );
}

function NumberPart(props: { label: string; start: number; onChange: (value: number) => void }) {
  const [text, setText] = useState(String(props.start));
  return (
    <label>
      {props.label}
      <input
        inputMode="decimal"
        value={text}
        aria-invalid={text.trim() === '' || Number.isNaN(readNumber(text))}
        onChange={(event) => {
          setText(event.target.value);
          const typed = event.target.value.trim();
          props.onChange(typed === '' ? NaN : readNumber(typed));
        }}
      />
    </label>
  );
}

const isUsable = ({ factor, offset }: Conversion) =>
  Number.isFinite(factor) && factor !== 0 && Number.isFinite(offset);

function formula({ factor, offset }: Conversion): string {
  const times = `× ${showDigits(factor, 4)}`;
  if (offset === 0) return times;
  return `${times} ${offset < 0 ? '−' : '+'} ${showDigits(Math.abs(offset), 4)}`;
}

function show(median: number, conversion: Conversion | undefined): string {
  if (!conversion) return showValue(median);
  const converted = convert(median, conversion);
  return Number.isFinite(converted)
    ? `${showValue(median)}, here ${showValue(converted)}`
    : showValue(median);
}

function foreignLevels({ levels = [] }: ModelPredictor, found: string[]): string[] {
  return found.filter((level) => !levels.includes(level));
}

function thenText({ quartiles, levels, unit }: ModelPredictor): string {
  if (quartiles)
    return `Of the development patients half had ${showValue(quartiles[0])} to ${showValue(quartiles[2])}${unit ? ` ${unit}` : ''}.`;
  const shown = (levels ?? []).slice(0, 8);
  return `The development patients had ${shown.join(', ')}${(levels?.length ?? 0) > 8 ? ' …' : ''}.`;
}
