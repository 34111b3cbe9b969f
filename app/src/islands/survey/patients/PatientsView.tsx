import { useMemo } from 'react';
import type { PatientMap } from '@rook-scale/core/survey';
import { display, showValue as showCell } from '@rook-scale/core/table';
import { setAddress, useAddress } from '../../../browser/address.ts';
import { plural, showCount, showPercent } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { ChartFrame, DataTable, Select, MarkKey } from '../../../components/index.ts';
import { canGroup, ColumnSelect, useGroupChoice } from '../choices.tsx';
import { entryOf, useSurvey } from '../context.ts';
import { marksOf } from '../marks.ts';
import styles from '../Survey.module.css';
import { scatterConfiguration } from '../two/scatter.ts';
import { useColumns, useRows } from '../use-columns.ts';
import { usePart } from '../use-part.ts';
import { Waiting } from '../Waiting.tsx';
import { arrowsPlugin, longest } from './arrows.ts';
import own from './Patients.module.css';
import { ScreeChart } from './ScreeChart.tsx';

/** The development patients placed by what sets them apart. */
export function PatientsView() {
  const { result, waiting, unfinished, problem } = usePart('patients');
  if (result) return <OfMap map={result} unfinished={unfinished} />;
  if (waiting || problem) return <Waiting problem={problem} what="the map" />;
  return <p>Two predictors that vary are needed for a map.</p>;
}

function OfMap({ map, unfinished }: { map: PatientMap; unfinished: string | undefined }) {
  const { cohort, design } = useSurvey();
  const by = useGroupChoice();
  const identifier = cohort.dictionary.find(({ role }) => role === 'identifier');
  const { columns } = useColumns(by ? [by.name] : []);
  const { columns: who } = useColumns(identifier ? [identifier.name] : []);
  const rows = useRows();
  const [askedX] = useAddress('pcx');
  const [askedY] = useAddress('pcy');
  const kept = map.scores.length;
  const component = (asked: string | undefined, first: number) => {
    const number = Number(asked);
    return number >= 1 && number <= kept ? number - 1 : Math.min(first, kept - 1);
  };
  const [x, y] = [component(askedX, 0), component(askedY, 1)];
  const inputName = useMemo(
    () => (i: number) => {
      const { column, level } = map.inputs[i];
      const name = display(entryOf(cohort, column) ?? { name: column, label: '' });
      return level === undefined || level === 'yes' ? name : `${name}: ${level}`;
    },
    [map, cohort],
  );
  const marks = useMemo(() => (by ? marksOf(by, design) : []), [by, design]);
  const configuration = useMemo(() => {
    // Where in the columns of the patients at hand each drawn patient stands.
    const place = new Map(rows ? Array.from(rows, (row, i) => [row, i]) : []);
    const positions = map.rows.map((row) => place.get(row) ?? -1);
    const group = columns?.[0];
    const codes =
      group?.type === 'coded' && rows
        ? Int32Array.from(positions, (i) => (i < 0 ? -1 : group.codes[i]))
        : undefined;
    const names = who?.[0];
    const nameAt = (i: number) =>
      names && i >= 0 ? showCell(names, i, identifier?.kind === 'date') : '';
    const show = (value: number) => showFixed(value, 1);
    const name = (k: number) => `component ${k + 1} (${showPercent(map.shares[k])})`;
    const drawn = scatterConfiguration({
      x: { values: map.scores[x], name: name(x), show },
      y: { values: map.scores[y], name: name(y), show },
      points: map.rows.map((_, i) => i),
      codes,
      marks,
      nameOf: (i) =>
        [nameAt(positions[i]), `row ${showCount(map.rows[i] + 1)}`].filter(Boolean).join(', '),
    });
    return { ...drawn, plugins: [arrowsPlugin(map, x, y, inputName)] };
  }, [map, rows, columns, who, identifier, marks, x, y, inputName]);
  const options = map.scores.map((_, k) => ({
    value: String(k + 1),
    label: `component ${k + 1} (${showPercent(map.shares[k])})`,
  }));
  const both = map.shares[x] + (x === y ? 0 : map.shares[y]);
  const strongest = longest(map, x, y)
    .slice(0, 3)
    .map((i) => inputName(i));
  return (
    <>
      <div className={styles.choices}>
        <Select
          label="Across"
          value={String(x + 1)}
          options={options}
          onChange={(pcx) => setAddress({ pcx }, 'replace')}
        />
        <Select
          label="up"
          value={String(y + 1)}
          options={options}
          onChange={(pcy) => setAddress({ pcy }, 'replace')}
        />
        <ColumnSelect
          label="Marks by"
          part="by"
          value={by?.name}
          none="nothing"
          allowed={canGroup}
        />
        {by && <MarkKey marks={marks} name={display(by)} />}
        {unfinished && <p role="status">{unfinished}</p>}
      </div>
      <div className={own.columns}>
        <ChartFrame
          title="Principal components of the predictors"
          caption={`Together ${showPercent(both)} of the variance of ${plural(map.inputs.length, 'standardised input')}; patients far apart differ most in ${strongest.join(', ')}.${map.rows.length < map.patients ? ` ${showCount(map.rows.length)} of ${showCount(map.patients)} patients are drawn, evenly chosen.` : ''}`}
          configuration={configuration}
          numbers={() => [
            ['row', ...options.map(({ value }) => `component ${value}`)],
            ...map.rows.map((row, i) => [row + 1, ...map.scores.map((scores) => scores[i])]),
          ]}
          fileName="map-of-patients"
          height={440}
        />
        <div>
          <ScreeChart map={map} />
          <Loadings map={map} x={x} y={y} inputName={inputName} />
        </div>
      </div>
      <p className={styles.note}>
        Predictors of the design, standardised; categories as indicators, gaps filled with the mean.
        For seeing the patients: components that a model uses are learned inside its folds.
      </p>
    </>
  );
}

interface LoadingsProps {
  map: PatientMap;
  x: number;
  y: number;
  inputName: (i: number) => string;
}

function Loadings({ map, x, y, inputName }: LoadingsProps) {
  const lines = longest(map, x, y).map((i) => ({
    name: inputName(i),
    across: map.loadings[x][i],
    up: map.loadings[y][i],
  }));
  return (
    <div className={own.loadings} tabIndex={0} role="region" aria-label="Loadings">
      <DataTable
        caption="Loadings of the inputs"
        rows={lines}
        rowKey={({ name }) => name}
        columns={[
          {
            key: 'name',
            head: 'Input',
            cell: ({ name }) => (
              <span className={own.name} title={name}>
                {name}
              </span>
            ),
            sort: ({ name }) => name,
          },
          {
            key: 'x',
            head: String(x + 1),
            figures: true,
            cell: ({ across }) => showFixed(across, 2),
            sort: ({ across }) => Math.abs(across),
          },
          {
            key: 'y',
            head: String(y + 1),
            figures: true,
            cell: ({ up }) => showFixed(up, 2),
            sort: ({ up }) => Math.abs(up),
          },
        ]}
      />
    </div>
  );
}
