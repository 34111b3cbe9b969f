import { X } from 'lucide-react';
import { useState } from 'react';
import { columnReference } from '@rook-scale/core/formula';
import { display, isCoded, type Dictionary, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../../contract/cohorts.ts';
import { setAddress } from '../../../browser/address.ts';
import { plural, showPercent } from '../../../browser/format.ts';
import { readNumber } from '../../../browser/numbers.ts';
import { Button, Select } from '../../../components/index.ts';
import { FormulaField, useTried } from '../../formula/index.ts';
import styles from './Patients.module.css';

interface Props {
  cohort: CohortInfo;
  saving: boolean;
  onExclude: (condition: string, reason: string) => Promise<boolean>;
}

/** One comparison of the simple form. */
interface Part {
  column: string;
  way: string;
  value: string;
}

/** Conditions put together by choice or written as a formula, with how many they would take out. */
export function ExcludeForm({ cohort, saving, onExclude }: Props) {
  const usable = cohort.dictionary.filter(({ kind }) => kind !== 'text');
  const first = usable[0]?.name ?? '';
  const [parts, setParts] = useState<Part[]>([{ column: first, way: 'is not known', value: '' }]);
  const [join, setJoin] = useState<'and' | 'or'>('and');
  const [written, setWritten] = useState<string>();
  const [reason, setReason] = useState('');
  const condition = written ?? writeCondition(parts, join, cohort.dictionary);
  const { tried, pending } = useTried(cohort, condition);
  const isCondition = tried?.understood && tried.holds !== null;
  const ready = isCondition && !pending && reason.trim() !== '' && tried.holds! > 0;
  const set = (place: number, part: Partial<Part>) =>
    setParts(parts.map((one, i) => (i === place ? { ...one, ...part } : one)));
  const exclude = async () => {
    if (!(await onExclude(condition.trim(), reason.trim()))) return;
    // What was typed for the next condition while this one was saved stays.
    setParts((now) => (now === parts ? [{ column: first, way: 'is not known', value: '' }] : now));
    setWritten((now) => (now === written ? undefined : now));
    setReason((now) => (now === reason ? '' : now));
  };
  return (
    <div className={styles.form}>
      {written === undefined ? (
        <>
          {parts.length > 1 && (
            <Select
              label="in whom"
              value={join}
              options={[
                { value: 'and', label: 'all of these hold' },
                { value: 'or', label: 'any of these holds' },
              ]}
              onChange={setJoin}
            />
          )}
          {parts.map((part, i) => (
            <Line
              key={i}
              part={part}
              dictionary={usable}
              onChange={(change) => set(i, change)}
              onRemove={
                parts.length > 1 ? () => setParts(parts.filter((_, j) => j !== i)) : undefined
              }
            />
          ))}
          <p className={styles.acts}>
            <Button
              look="link"
              onClick={() =>
                setParts([...parts, { column: first, way: 'is not known', value: '' }])
              }
            >
              another condition
            </Button>
            <Button look="link" onClick={() => setWritten(condition)}>
              write it as a formula
            </Button>
          </p>
        </>
      ) : (
        <>
          <FormulaField
            label="Condition"
            value={written}
            onChange={setWritten}
            dictionary={cohort.dictionary}
            tried={tried}
            placeholder="age < 18 or not known(creatinine)"
          />
          <p className={styles.acts}>
            <Button look="link" onClick={() => setWritten(undefined)}>
              choose from lists instead
            </Button>
          </p>
        </>
      )}
      <label className={styles.reason}>
        Reason
        <input
          value={reason}
          maxLength={200}
          placeholder="under 18 years"
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <p role="status" className="quiet">
        {condition === ''
          ? 'Give a value to compare with.'
          : tried?.understood
            ? tried.holds === null
              ? 'This gives a value, not a condition: compare it with something.'
              : `Holds in ${plural(tried.holds, 'row')} of the file (${showPercent(tried.holds / Math.max(1, tried.rows))})${tried.summary.missing > 0 ? `; cannot be said in ${plural(tried.summary.missing, 'row')}, which stay` : ''}.`
            : ''}
      </p>
      <div>
        <Button disabled={!ready || saving} onClick={() => void exclude()}>
          Exclude them
        </Button>{' '}
        {isCondition && tried.holds! > 0 && (
          <Button
            look="link"
            onClick={() => setAddress({ view: 'rows', where: condition, row: undefined })}
          >
            show them first
          </Button>
        )}
      </div>
    </div>
  );
}

const waysOf = ({ kind }: DictionaryEntry): string[] => {
  if (kind === 'number' || kind === 'date')
    return ['below', 'at most', 'equal to', 'at least', 'above', 'is known', 'is not known'];
  return kind === 'ordered category'
    ? ['is', 'is not', 'below', 'above', 'is known', 'is not known']
    : ['is', 'is not', 'is known', 'is not known'];
};

const signs: Record<string, string> = {
  below: '<',
  'at most': '<=',
  'equal to': '=',
  'at least': '>=',
  above: '>',
  is: '=',
  'is not': '<>',
};

/** The formula that the choices amount to; empty while a value is missing. */
function writeCondition(parts: Part[], join: 'and' | 'or', dictionary: Dictionary): string {
  const written = parts.map(({ column, way, value }) => {
    const entry = dictionary.find(({ name }) => name === column);
    if (!entry) return '';
    const name = columnReference(column);
    if (way === 'is known') return `known(${name})`;
    if (way === 'is not known') return `not known(${name})`;
    const text = value.trim();
    if (text === '') return '';
    const quoted = entry.kind === 'number' ? plainNumber(text) : `'${text}'`;
    return `${name} ${signs[way]} ${quoted}`;
  });
  return written.includes('') ? '' : written.join(` ${join} `);
}

/** As formulas write it; what is no number stays, so that the formula is checked with it. */
function plainNumber(text: string): string {
  const value = readNumber(text);
  return Number.isNaN(value) ? text : String(value);
}

interface LineProps {
  part: Part;
  dictionary: Dictionary;
  onChange: (part: Partial<Part>) => void;
  onRemove?: () => void;
}

function Line({ part, dictionary, onChange, onRemove }: LineProps) {
  const entry = dictionary.find(({ name }) => name === part.column);
  if (!entry) return null;
  const choose = (column: string) => {
    const next = dictionary.find(({ name }) => name === column)!;
    const ways = waysOf(next);
    onChange({
      column,
      way: ways.includes(part.way) ? part.way : ways[0],
      value: isCoded(next.kind) ? (next.levels?.[0] ?? '') : '',
    });
  };
  const needsValue = part.way in signs;
  return (
    <div className={styles.line2}>
      <Select
        label="Column"
        quietLabel
        value={part.column}
        options={dictionary.map((one) => ({ value: one.name, label: display(one) }))}
        onChange={choose}
      />
      <Select
        label="Comparison"
        quietLabel
        value={part.way}
        options={waysOf(entry).map((way) => ({ value: way, label: way }))}
        onChange={(way) =>
          onChange({
            way,
            ...(isCoded(entry.kind) && part.value === '' && { value: entry.levels?.[0] ?? '' }),
          })
        }
      />
      {needsValue &&
        (isCoded(entry.kind) ? (
          <Select
            label="Level"
            quietLabel
            value={part.value}
            options={(entry.levels ?? []).map((level) => ({ value: level, label: level }))}
            onChange={(value) => onChange({ value })}
          />
        ) : (
          <input
            aria-label="Value"
            type={entry.kind === 'date' ? 'date' : 'text'}
            inputMode={entry.kind === 'date' ? undefined : 'decimal'}
            value={part.value}
            onChange={(event) => onChange({ value: event.target.value })}
          />
        ))}
      {onRemove && (
        <button type="button" aria-label="Take this condition away" onClick={onRemove}>
          <X size={14} aria-hidden="true" />
        </button>
      )}
    </div>
  );
}
