import { useMemo, useState } from 'react';
import { everyFew, type TwoNumbers } from '@rook-scale/core/survey';
import {
  display,
  showDay,
  type DictionaryEntry,
  showValue as showCell,
} from '@rook-scale/core/table';
import { useAddress } from '../../../browser/address.ts';
import { plural, showCount, showInterval, showP, showValue } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { ChartFrame, MarkKey } from '../../../components/index.ts';
import { canGroup, ColumnSelect, useGroupChoice } from '../choices.tsx';
import { useSurvey, withUnit } from '../context.ts';
import { marksOf } from '../marks.ts';
import styles from '../Survey.module.css';
import { useCalculation } from '../use-calculation.ts';
import { useColumns, useRows } from '../use-columns.ts';
import { Waiting } from '../Waiting.tsx';
import { scatterConfiguration } from './scatter.ts';
import own from './Two.module.css';

/** Points that can still be told apart and drawn at once. */
const drawnAtMost = 20_000;

/** Two numbers as a cloud of patients with a smooth line. */
export function ScatterView({ x, y }: { x: DictionaryEntry; y: DictionaryEntry }) {
  const { cohort, design, version, look } = useSurvey();
  const by = useGroupChoice();
  const identifier = cohort.dictionary.find(({ role }) => role === 'identifier');
  const names = [x.name, y.name, ...(by ? [by.name] : [])];
  const { columns, problem } = useColumns(names);
  const { columns: who } = useColumns(identifier ? [identifier.name] : []);
  const rows = useRows();
  const [jitter, setJitter] = useState(false);
  const [span, setSpan] = useState(0.5);
  const [lineShown] = useAddress('line');
  const withLine = lineShown !== 'no';
  const [first, second, group] = columns ?? [];
  const xs = first?.type === 'number' ? first.values : undefined;
  const ys = second?.type === 'number' ? second.values : undefined;
  const { result: view, problem: failed } = useCalculation(
    'twoNumbers',
    [version, look, x.name, y.name, span],
    xs && ys && [xs, ys, span],
  );
  const marks = useMemo(() => (by ? marksOf(by, design) : []), [by, design]);
  const points = useMemo(() => {
    if (!xs || !ys) return [];
    const known = Array.from(xs.keys()).filter((i) => !Number.isNaN(xs[i]) && !Number.isNaN(ys[i]));
    return everyFew(known.length, drawnAtMost).map((i) => known[i]);
  }, [xs, ys]);
  const configuration = useMemo(() => {
    if (!xs || !ys) return undefined;
    const names = who?.[0];
    const nameAt = (i: number) =>
      names && i >= 0 ? showCell(names, i, identifier?.kind === 'date') : '';
    return scatterConfiguration({
      x: { values: xs, name: withUnit(x), show: x.kind === 'date' ? showDay : showValue },
      y: { values: ys, name: withUnit(y), show: y.kind === 'date' ? showDay : showValue },
      points,
      codes: group?.type === 'coded' ? group.codes : undefined,
      marks,
      line: withLine ? (view?.line ?? []) : [],
      jitter,
      nameOf: (i) =>
        [nameAt(i), rows && `row ${showCount(rows[i] + 1)}`].filter(Boolean).join(', '),
    });
  }, [xs, ys, x, y, points, group, marks, view, jitter, who, identifier, rows, withLine]);
  if (!configuration || !view || !xs)
    return <Waiting problem={problem ?? failed} what={`${display(x)} and ${display(y)}`} />;
  const sampled = points.length < view.patients;
  return (
    <>
      <Facts view={view} patients={xs.length} />
      <div className={styles.choices}>
        <ColumnSelect
          label="Marks by"
          part="by"
          value={by?.name}
          none="nothing"
          allowed={canGroup}
        />
        <label className={own.option}>
          <input
            type="checkbox"
            checked={jitter}
            onChange={(event) => setJitter(event.target.checked)}
          />
          jitter
        </label>
        <label className={own.option}>
          line through
          <input
            type="range"
            min={0.1}
            max={1}
            step={0.05}
            value={span}
            aria-label="Share of the patients each point of the line is drawn from"
            onChange={(event) => setSpan(Number(event.target.value))}
          />
          {Math.round(100 * span)}% of patients
        </label>
        {by && <MarkKey marks={marks} name={display(by)} />}
      </div>
      <ChartFrame
        title={`${display(y)} against ${display(x)}`}
        caption={`${sayCorrelation(view)}${sampled ? ` ${showCount(points.length)} of ${plural(view.patients, 'patient')} are drawn, evenly chosen; the figures are of all.` : ''}`}
        configuration={configuration}
        numbers={() => [
          ['row', withUnit(x), withUnit(y)],
          ...points.map((i) => [(rows?.[i] ?? i) + 1, xs[i], ys![i]]),
        ]}
        fileName="two-columns"
        height={380}
      />
    </>
  );
}

function Facts({ view, patients }: { view: TwoNumbers; patients: number }) {
  const { pearson, spearman } = view;
  const say = ({ value, interval, p }: TwoNumbers['pearson']) =>
    Number.isNaN(value)
      ? 'not to be said'
      : `${showFixed(value, 2)} (${showInterval(interval)}), p ${showP(p)}`;
  return (
    <dl className={styles.facts}>
      <div>
        <dt>both known in</dt>
        <dd>
          {showCount(view.patients)} of {showCount(patients)}
        </dd>
      </div>
      <div>
        <dt>Pearson</dt>
        <dd>{say(pearson)}</dd>
      </div>
      <div>
        <dt>Spearman</dt>
        <dd>{say(spearman)}</dd>
      </div>
    </dl>
  );
}

function sayCorrelation({ spearman: { value } }: TwoNumbers): string {
  if (Number.isNaN(value)) return 'One of the two does not vary.';
  const size = Math.abs(value);
  const how =
    size < 0.1
      ? 'hardly go together'
      : size < 0.4
        ? 'go together a little'
        : size < 0.7
          ? 'go together'
          : 'go together closely';
  const way =
    size < 0.1
      ? ''
      : value > 0
        ? ': where one is high, so is the other'
        : ': where one is high, the other is low';
  return `The two ${how}${way}.`;
}
