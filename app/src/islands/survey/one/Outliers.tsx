import { useMemo } from 'react';
import type { Fences } from '@rook-scale/core/survey';
import { display, showValue as showCell } from '@rook-scale/core/table';
import { plural, showCount } from '../../../browser/format.ts';
import { roundDigits } from '../../../browser/numbers.ts';
import { DataTable } from '../../../components/index.ts';
import { useSurvey } from '../context.ts';
import styles from '../Survey.module.css';
import { useColumns, useRows } from '../use-columns.ts';
import type { Axis } from './OneNumber.tsx';
import own from './OneColumn.module.css';

interface Props {
  values: Float64Array;
  fences: Fences;
  axis: Axis;
}

interface Outlier {
  row: number;
  value: number;
  who: string;
}

const listed = 200;

/** The patients outside the fences, the farthest first, each a link to its row. */
export function Outliers({ values, fences, axis }: Props) {
  const { cohort, studyId } = useSurvey();
  const identifier = cohort.dictionary.find(({ role }) => role === 'identifier');
  const rows = useRows();
  const places = useMemo(() => outside(values, fences), [values, fences]);
  const { columns } = useColumns(identifier && places.length > 0 ? [identifier.name] : []);
  const names = columns?.[0];
  const list = places.slice(0, listed).map((place): Outlier => ({
    row: (rows?.[place] ?? place) + 1,
    value: values[place],
    who: names ? showCell(names, place, identifier?.kind === 'date') : '',
  }));
  return (
    <section className={styles.section}>
      <h2>{places.length === 0 ? 'No outliers' : plural(places.length, 'outlier')}</h2>
      <p className="quiet">
        More than 1.5 interquartile ranges outside the quartiles: below{' '}
        {axis.show(roundDigits(fences.lower, 5))} or above {axis.show(roundDigits(fences.upper, 5))}
        . Far from the others is not yet wrong.
        {places.length > listed && ` The farthest ${listed} are listed.`}
      </p>
      {list.length > 0 && (
        <div className={own.scroll} tabIndex={0} role="region" aria-label="Outliers">
          <DataTable
            caption="Outliers"
            columns={[
              {
                key: 'row',
                head: 'Row',
                figures: true,
                width: 80,
                cell: ({ row }: Outlier) => (
                  <a href={`/studies/${studyId}/records?view=rows&row=${row}`}>{showCount(row)}</a>
                ),
                sort: ({ row }) => row,
              },
              ...(identifier
                ? [
                    {
                      key: 'who',
                      head: display(identifier),
                      cell: ({ who }: Outlier) => who,
                      sort: ({ who }: Outlier) => who,
                    },
                  ]
                : []),
              {
                key: 'value',
                head: axis.name,
                figures: true,
                cell: ({ value }) => axis.show(value),
                sort: ({ value }) => value,
              },
            ]}
            rows={list}
            rowKey={({ row }) => String(row)}
          />
        </div>
      )}
    </section>
  );
}

function outside(values: Float64Array, { lower, upper }: Fences): number[] {
  const places: number[] = [];
  values.forEach((value, i) => (value < lower || value > upper) && places.push(i));
  const away = (i: number) => Math.max(lower - values[i], values[i] - upper);
  return places.sort((a, b) => away(b) - away(a));
}
