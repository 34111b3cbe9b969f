import { MarkKey, type Mark } from '../../../components/index.ts';
import { useMemo } from 'react';
import type { PairView } from '@rook-scale/core/survey';
import { display, type Column, type DictionaryEntry } from '@rook-scale/core/table';
import { setAddress, useAddress } from '../../../browser/address.ts';
import { plural, showInterval } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { canDraw, canGroup, ColumnSelect, useGroupChoice } from '../choices.tsx';
import { entryOf, useSurvey } from '../context.ts';
import { marksOf } from '../marks.ts';
import styles from '../Survey.module.css';
import { useCalculation } from '../use-calculation.ts';
import { useColumns } from '../use-columns.ts';
import { Waiting } from '../Waiting.tsx';
import own from './Grid.module.css';
import { SmallHistogram, SmallScatter } from './Small.tsx';

const mostColumns = 6;

/** A handful of columns, every two of them against each other. */
export function GridView() {
  const { cohort, design } = useSurvey();
  const [asked] = useAddress('columns');
  const chosen = useMemo(() => {
    const names = asked?.split('|') ?? firstFew(cohort.dictionary, design?.predictors ?? []);
    return names
      .flatMap((name) => entryOf(cohort, name) ?? [])
      .filter(canDraw)
      .slice(0, mostColumns);
  }, [asked, cohort, design]);
  const by = useGroupChoice();
  const set = (entries: DictionaryEntry[]) =>
    setAddress({ columns: entries.map(({ name }) => name).join('|') }, 'replace');
  const free = cohort.dictionary.filter((entry) => canDraw(entry) && !chosen.includes(entry));
  return (
    <>
      <div className={styles.choices}>
        <ul className={own.chosen}>
          {chosen.map((entry) => (
            <li key={entry.name}>
              {display(entry)}
              <button
                type="button"
                aria-label={`Take ${display(entry)} out`}
                onClick={() => set(chosen.filter((one) => one !== entry))}
              >
                ×
              </button>
            </li>
          ))}
        </ul>
        {chosen.length < mostColumns && free.length > 0 && (
          <select
            className={own.add}
            aria-label="Add a column"
            value=""
            onChange={(event) => set([...chosen, entryOf(cohort, event.target.value)!])}
          >
            <option value="">add a column</option>
            {free.map((entry) => (
              <option key={entry.name} value={entry.name}>
                {display(entry)}
              </option>
            ))}
          </select>
        )}
        <ColumnSelect
          label="Marks by"
          part="by"
          value={by?.name}
          none="nothing"
          allowed={canGroup}
        />
        {by && <MarkKey marks={marksOf(by, design)} name={display(by)} />}
      </div>
      {chosen.length < 2 ? <p>Choose at least two columns.</p> : <Grid entries={chosen} by={by} />}
    </>
  );
}

/** The first numbers among the predictors, or whatever can be drawn. */
function firstFew(dictionary: DictionaryEntry[], predictors: string[]): string[] {
  const drawn = dictionary.filter(canDraw);
  const wanted = new Set(predictors);
  const numbers = drawn.filter(({ kind, name }) => kind === 'number' && wanted.has(name));
  return (numbers.length >= 2 ? numbers : drawn).slice(0, 5).map(({ name }) => name);
}

function Grid({ entries, by }: { entries: DictionaryEntry[]; by: DictionaryEntry | undefined }) {
  const { design, version, look } = useSurvey();
  const names = entries.map(({ name }) => name);
  const { columns, problem } = useColumns(by ? [...names, by.name] : names);
  const measured = useMemo(
    () => columns && entries.map(({ name, kind }, i) => ({ name, kind, column: columns[i] })),
    [columns, entries],
  );
  const { result: pairs } = useCalculation(
    'pairs',
    [version, look, ...names, ''],
    measured && [measured],
  );
  const marks = useMemo((): Mark[] => (by ? marksOf(by, design) : []), [by, design]);
  if (!columns || pairs?.length !== entries.length)
    return <Waiting problem={problem} what="the pairs" />;
  const last = by ? columns[entries.length] : undefined;
  const codes = last?.type === 'coded' ? last.codes : undefined;
  const scales = entries.map((_, i) => scaleOf(columns[i]));
  return (
    <>
      <div
        className={own.grid}
        style={{ gridTemplateColumns: `repeat(${entries.length}, minmax(0, 1fr))` }}
        role="img"
        aria-label={`Grid of ${plural(entries.length, 'column')}: ${sayPairs(pairs, entries)}`}
      >
        {entries.map((down, i) =>
          entries.map((across, j) => (
            <div key={`${down.name} ${across.name}`} className={own.cell}>
              {i === j && (
                <>
                  <span className={own.name} title={display(down)}>
                    {display(down)}
                  </span>
                  <SmallHistogram scale={scales[i]} />
                </>
              )}
              {i > j && <SmallScatter x={scales[j]} y={scales[i]} codes={codes} marks={marks} />}
              {i < j && <Strength pair={pairs[j][i]} />}
            </div>
          )),
        )}
      </div>
      <p className={styles.note}>
        Below the diagonal patients, above it the association with its 95% interval: Spearman’s ρ
        between numbers and ordered levels, r for a number and two levels, φ for two levels each,
        Cramér’s V and the correlation ratio η where a category takes part.
      </p>
    </>
  );
}

const letters: Record<PairView['measure'], string> = {
  Pearson: 'r',
  Spearman: 'ρ',
  'point-biserial': 'r',
  phi: 'φ',
  'Cramér’s V': 'V',
  'correlation ratio': 'η',
};

function Strength({ pair }: { pair: PairView | null }) {
  if (!pair) return <span className="quiet">–</span>;
  const weight = 400 + Math.round(3 * Math.abs(pair.value)) * 100;
  return (
    <span className={own.strength} title={`${pair.measure}, ${plural(pair.patients, 'patient')}`}>
      <span style={{ fontWeight: weight }}>
        <span className="quiet">{letters[pair.measure]}</span> {showFixed(pair.value, 2)}
      </span>
      {pair.interval && <span className={own.interval}>{showInterval(pair.interval)}</span>}
    </span>
  );
}

function scaleOf(column: Column): Float64Array {
  if (column.type === 'number') return column.values;
  if (column.type === 'coded')
    return Float64Array.from(column.codes, (code) => (code < 0 ? NaN : code));
  return new Float64Array();
}

function sayPairs(pairs: (PairView | null)[][], entries: DictionaryEntry[]): string {
  return pairs
    .flatMap((row, i) =>
      row.map((pair, j) =>
        pair ? `${display(entries[i])} and ${display(entries[j])} ${showFixed(pair.value, 2)}` : '',
      ),
    )
    .filter(Boolean)
    .join(', ');
}
