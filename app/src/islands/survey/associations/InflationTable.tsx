import type { Inflation } from '@rook-scale/core/survey';
import { display } from '@rook-scale/core/table';
import { showNumber } from '../../../browser/format.ts';
import { DataTable } from '../../../components/index.ts';
import { entryOf, useSurvey } from '../context.ts';

/** From here on a coefficient is unsteady; common practice. */
const high = 5;

/** How far the other predictors make each one's coefficient uncertain. */
export function InflationTable({ inflation }: { inflation: Inflation[] }) {
  const { cohort } = useSurvey();
  // A category's factor grows with its levels; its root by level is on the scale of the others.
  const lines = inflation.map((one) => ({
    ...one,
    scaled: (one.factor ?? Infinity) ** (1 / one.inputs),
  }));
  return (
    <section>
      <h2>Variance inflation of the predictors</h2>
      <DataTable
        caption="Variance inflation factors"
        rows={lines}
        rowKey={({ name }) => name}
        sortedBy={{ key: 'factor', up: false }}
        empty="There are no predictors that vary."
        columns={[
          {
            key: 'name',
            head: 'Predictor',
            cell: ({ name }) => display(entryOf(cohort, name) ?? { name, label: '' }),
            sort: ({ name }) => name,
          },
          {
            key: 'factor',
            head: 'VIF',
            title: 'Of a category per indicator: GVIF to the power of one over its indicators',
            figures: true,
            cell: ({ scaled }) => (
              <span style={scaled >= high ? { fontWeight: 700 } : undefined}>
                {Number.isFinite(scaled) ? showNumber(scaled, 3) : 'told exactly'}
              </span>
            ),
            sort: ({ scaled }) => scaled,
          },
        ]}
      />
      <p className="quiet">
        From {high} on (bold) a coefficient is unsteady. Gaps are filled with the mean for this.
      </p>
    </section>
  );
}
