import { useMemo } from 'react';
import type { Design } from '@rook-scale/core/design';
import { wilsonInterval } from '@rook-scale/core/measures';
import { crossTable } from '@rook-scale/core/survey';
import { display, showDay, type Column, type DictionaryEntry } from '@rook-scale/core/table';
import {
  lowerFirst,
  plural,
  showCount,
  showInterval,
  showPercent,
  showValue,
} from '../../../browser/format.ts';
import { DataTable, IntervalStrip } from '../../../components/index.ts';
import { canDraw, ColumnSelect, useColumnChoice } from '../choices.tsx';
import { entryOf, useSurvey, withUnit } from '../context.ts';
import { marksOf } from '../marks.ts';
import { OneNumber } from '../one/OneNumber.tsx';
import styles from '../Survey.module.css';
import { useColumns } from '../use-columns.ts';
import { Waiting } from '../Waiting.tsx';
import { bandsOf } from './bands.ts';
import own from './Outcome.module.css';

/** The outcome by itself, what a model must beat, and the event share along any other column. */
export function OutcomeView() {
  const { cohort, design, studyId } = useSurvey();
  const outcome = entryOf(cohort, design?.outcome ?? '');
  if (!outcome)
    return (
      <p>
        No outcome is chosen yet.{' '}
        <a href={`/studies/${studyId}/design#outcome`}>Choose it in Design</a>, and its levels are
        counted here.
      </p>
    );
  return outcome.levels ? (
    <OfLevels outcome={outcome} />
  ) : (
    <OneNumber entry={outcome} by={undefined} title={display(outcome)} />
  );
}

function OfLevels({ outcome }: { outcome: DictionaryEntry }) {
  const { design } = useSurvey();
  const other = useColumnChoice(
    'along',
    (entry) => canDraw(entry) && entry.name !== outcome.name,
    design?.predictors[0],
  );
  const cases = useMemo(() => casesOf(outcome, design), [outcome, design]);
  const { columns, problem } = useColumns(other ? [outcome.name, other.name] : [outcome.name]);
  if (!columns || columns[0].type !== 'coded')
    return <Waiting problem={problem} what={display(outcome)} />;
  const [mine, beside] = columns;
  return (
    <>
      <Levels outcome={outcome} codes={mine.codes} />
      {other && beside && (
        <section className={styles.section}>
          <div className={styles.choices}>
            <h2>
              Share of {lowerFirst(display(outcome))}: {cases.join(' or ')}
            </h2>
            <ColumnSelect
              label="by"
              part="along"
              value={other.name}
              allowed={(entry) => canDraw(entry) && entry.name !== outcome.name}
            />
          </div>
          <Along
            outcome={outcome}
            levels={cases}
            codes={mine.codes}
            other={other}
            beside={beside}
          />
        </section>
      )}
    </>
  );
}

function Levels({ outcome, codes }: { outcome: DictionaryEntry; codes: Int32Array }) {
  const { design } = useSurvey();
  const marks = marksOf(outcome, design);
  const counts = useMemo(() => {
    const found = new Array<number>(outcome.levels!.length).fill(0);
    for (const code of codes) if (code >= 0) found[code]++;
    return found;
  }, [outcome, codes]);
  const known = counts.reduce((sum, count) => sum + count, 0);
  const largest = counts.indexOf(Math.max(...counts));
  const baseline = counts[largest] / Math.max(1, known);
  return (
    <>
      <div className={own.levels}>
        {counts.map((count, i) => (
          <div key={marks[i].level} className={own.level}>
            <span className={own.count}>{showCount(count)}</span>
            <span>
              {marks[i].level}
              {design?.kind === 'levels'
                ? design.cases.includes(marks[i].level) && ' (a case)'
                : marks[i].level === design?.event && ' (the event)'}
            </span>
            <span className="figures">{showPercent(count / Math.max(1, known))}</span>
          </div>
        ))}
        {known < codes.length && (
          <div className={own.level}>
            <span className={own.count}>{showCount(codes.length - known)}</span>
            <span>not known</span>
          </div>
        )}
      </div>
      <svg
        className={own.strip}
        viewBox="0 0 1000 16"
        preserveAspectRatio="none"
        aria-hidden="true"
      >
        {counts.map((count, i) => {
          const before = counts.slice(0, i).reduce((sum, one) => sum + one, 0);
          return (
            <rect
              key={i}
              x={(1000 * before) / Math.max(1, known)}
              width={(1000 * count) / Math.max(1, known)}
              height="16"
              fill={marks[i].colour}
              fillOpacity={marks[i].filled ? 1 : 0.45}
            />
          );
        })}
      </svg>
      <p className={styles.note}>
        Saying “{marks[largest].level}” of every patient is right in {showPercent(baseline)}: an
        accuracy means something only above this majority baseline.
      </p>
    </>
  );
}

/** The levels that the design looks for; before it says so, the last one. */
function casesOf({ levels = [] }: DictionaryEntry, design: Design | undefined): string[] {
  if (design?.kind === 'levels') {
    const cases = levels.filter((level) => design.cases.includes(level));
    if (cases.length > 0) return cases;
  }
  return [design?.kind === 'event' && design.event ? design.event : levels[levels.length - 1]];
}

interface AlongProps {
  outcome: DictionaryEntry;
  /** Those whose share is shown. */
  levels: string[];
  codes: Int32Array;
  other: DictionaryEntry;
  beside: Column;
}

/** Event share in each level of a column, or in bands of a number. */
function Along({ outcome, levels, codes, other, beside }: AlongProps) {
  const lines = useMemo(() => {
    const show = other.kind === 'date' ? showDay : showValue;
    const parts =
      beside.type === 'number'
        ? bandsOf(beside.values, show)
        : beside.type === 'coded'
          ? { codes: beside.codes, names: beside.levels }
          : { codes: new Int32Array(codes.length).fill(-1), names: [] };
    // Patients in whom the column is not known are a group of their own: gaps may mean something.
    const place = parts.names.length;
    const all = Int32Array.from(parts.codes, (code) => (code < 0 ? place : code));
    const { counts } = crossTable(all, place + 1, codes, outcome.levels!.length);
    const wanted = levels.map((level) => outcome.levels!.indexOf(level));
    return [...parts.names, 'not known'].flatMap((name, i) => {
      const total = counts[i].reduce((sum, count) => sum + count, 0);
      if (total === 0) return [];
      const cases = wanted.reduce((sum, level) => sum + counts[i][level], 0);
      return [{ name, place: i, total, cases, interval: wilsonInterval(cases, total)! }];
    });
  }, [outcome, levels, codes, other, beside]);
  const most = Math.max(0.05, ...lines.map(({ interval }) => interval[1]));
  const all = lines.reduce((sum, { total }) => sum + total, 0);
  const overall = lines.reduce((sum, { cases }) => sum + cases, 0) / Math.max(1, all);
  return (
    <>
      <DataTable
        caption={`Share of ${levels.join(' or ')} by ${display(other)}`}
        rows={lines}
        rowKey={({ name }) => name}
        columns={[
          {
            key: 'name',
            head: withUnit(other),
            cell: ({ name }) => name,
            sort: ({ place }) => place,
          },
          {
            key: 'patients',
            head: 'Patients',
            figures: true,
            cell: ({ total }) => showCount(total),
            sort: ({ total }) => total,
          },
          {
            key: 'cases',
            head: levels.join(' or '),
            figures: true,
            cell: ({ cases }) => showCount(cases),
            sort: ({ cases }) => cases,
          },
          {
            key: 'share',
            head: 'Share',
            figures: true,
            cell: ({ cases, total }) => showPercent(cases / total),
            sort: ({ cases, total }) => cases / total,
          },
          {
            key: 'interval',
            head: '95% interval',
            figures: true,
            cell: ({ interval }) => showInterval(interval),
          },
          {
            key: 'strip',
            head: `0 to ${showPercent(most)}, all dashed`,
            width: 200,
            cell: ({ cases, total, interval }) => (
              <IntervalStrip value={cases / total} interval={interval} to={most} beside={overall} />
            ),
          },
        ]}
      />
      <p className={styles.note}>
        {showPercent(overall)} of {plural(all, 'patient')} with a known outcome.
        {beside.type === 'number' && ' Numbers stand in five bands of about equal size.'} Intervals
        by Wilson.
      </p>
    </>
  );
}
