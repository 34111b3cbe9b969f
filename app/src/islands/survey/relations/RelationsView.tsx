import { useMemo } from 'react';
import type { Relation } from '@rook-scale/core/survey';
import { canPredict, display, type DictionaryEntry } from '@rook-scale/core/table';
import { setAddress, useAddress } from '../../../browser/address.ts';
import {
  showCount,
  showInterval,
  showNumber,
  showP,
  showPercent,
} from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { DataTable, IntervalStrip, type DataColumn } from '../../../components/index.ts';
import { ColumnSelect } from '../choices.tsx';
import { entryOf, useSurvey, withUnit } from '../context.ts';
import styles from '../Survey.module.css';
import { usePart } from '../use-part.ts';
import { measureSigns } from '../measure-signs.ts';
import { Waiting } from '../Waiting.tsx';

const canBeOutcome = (entry: DictionaryEntry) =>
  canPredict(entry.kind) &&
  entry.role !== 'identifier' &&
  (entry.levels === undefined || entry.levels.length > 1);

/** Every column against the outcome, by itself, with the statistic that fits the two kinds. */
export function RelationsView() {
  const { cohort, design, studyId } = useSurvey();
  const [asked] = useAddress('against');
  const entry = entryOf(cohort, asked ?? '') ?? entryOf(cohort, design?.outcome ?? '');
  const against = entry && canBeOutcome(entry) ? entry : undefined;
  const { result, unfinished, problem } = usePart(
    'relations',
    { against: against?.name ?? '' },
    against !== undefined,
  );
  const columns = useMemo(
    () => (result && against ? relationColumns(result.shape, against, cohort) : []),
    [result, against, cohort],
  );
  const choice = (
    <ColumnSelect
      label="Against"
      part="against"
      value={against?.name}
      none={against ? undefined : 'choose a column'}
      allowed={canBeOutcome}
    />
  );
  if (!against)
    return (
      <>
        <div className={styles.choices}>{choice}</div>
        <p>
          No outcome is chosen yet. Choose a column above, or{' '}
          <a href={`/studies/${studyId}/design#outcome`}>the outcome in Design</a>.
        </p>
      </>
    );
  const isEvent = result?.shape === 'event';
  const event =
    against.name === design?.outcome && design.event ? design.event : against.levels?.at(-1);
  return (
    <>
      <div className={styles.choices}>
        {choice}
        <p>
          {result
            ? `${isEvent ? `${event} against the rest` : result.shape === 'levels' ? `${against.levels!.length} levels` : 'a number'}; ${result.relations.length} columns, each by itself${unfinished ? `, ${unfinished}` : ''}`
            : ''}
        </p>
      </div>
      <p className={styles.warning}>
        For knowing the patients, not for choosing predictors: a choice made from this table has
        seen every fold. Choosing belongs inside the cross-validation.
      </p>
      {result ? (
        <DataTable
          key={against.name}
          caption={`Relation of each column to ${display(against)}`}
          columns={columns}
          rows={result.relations}
          rowKey={({ name }) => name}
          onRow={({ name }) => setAddress({ view: 'one', column: name, by: undefined })}
          sortedBy={{ key: 'information', up: false }}
          empty="No column can be set against it."
        />
      ) : (
        <Waiting problem={problem} what="the relations" />
      )}
      <p className={styles.note}>
        Adjusted p: Holm, over all columns of the table. Information: the share of the outcome’s
        entropy that the column takes away, numbers in tenths. AUC intervals by DeLong; odds ratios
        of numbers per SD from a logistic regression on that column alone.
        {result?.dependent && byCluster(result.dependent)}
      </p>
    </>
  );
}

const byCluster = ({ rows, clusters }: { rows: number; clusters: number }) =>
  ` ${showCount(clusters)} patients or groups, ${showCount(rows)} rows: tests and intervals are adjusted for the dependence within them (Rao–Scott design effect, F and t by cluster).`;

type Cohort = Parameters<typeof entryOf>[0];

function relationColumns(
  shape: 'event' | 'levels' | 'number',
  against: DictionaryEntry,
  cohort: Cohort,
): DataColumn<Relation>[] {
  const entry = (name: string) => entryOf(cohort, name)!;
  const columns: DataColumn<Relation>[] = [
    {
      key: 'name',
      head: 'Column',
      cell: ({ name }) => (
        <span
          className={`${styles.cut} ${entry(name).role === 'predictor' ? '' : 'quiet'}`}
          title={`${withUnit(entry(name))}, ${entry(name).role}`}
        >
          {withUnit(entry(name))}
        </span>
      ),
      sort: ({ name }) => display(entry(name)).toLowerCase(),
    },
    {
      key: 'strength',
      head: shape === 'event' ? 'AUC or V' : 'Strength',
      figures: true,
      title: 'Distance from no relation decides the order',
      cell: ({ measure, strength }) => (
        <span
          title={
            isInverse(measure, strength.value)
              ? `AUC of lower values: they go with the event`
              : measure
          }
        >
          <span className="quiet" style={{ fontFamily: 'var(--text)' }}>
            {measureSigns[measure]}
            {isInverse(measure, strength.value) ? ' ↓' : ''}
          </span>{' '}
          {showFixed(isInverse(measure, strength.value) ? 1 - strength.value : strength.value, 2)}
        </span>
      ),
      sort: ({ measure, strength }) =>
        measure === 'AUC' ? Math.abs(2 * strength.value - 1) : Math.abs(strength.value),
    },
    {
      key: 'interval',
      head: '95% interval',
      figures: true,
      cell: ({ measure, strength: { value, interval } }) =>
        interval
          ? showInterval(isInverse(measure, value) ? [1 - interval[1], 1 - interval[0]] : interval)
          : '',
    },
  ];
  if (shape !== 'levels')
    columns.push({
      key: 'strip',
      head: shape === 'event' ? '0 to 1' : '−1 to 1',
      cell: ({ measure, strength }) =>
        strength.interval && (
          <div className={styles.strip}>
            <IntervalStrip
              value={strength.value}
              interval={strength.interval}
              from={measure === 'Spearman' ? -1 : 0}
              to={1}
              beside={measure === 'AUC' ? 0.5 : 0}
            />
          </div>
        ),
    });
  if (shape !== 'levels')
    columns.push({
      key: 'difference',
      head: 'Difference',
      title:
        shape === 'event'
          ? 'Mean with the event minus mean without; of two levels the event share in the second minus that in the first'
          : `Mean of ${display(against)} in the second level minus that in the first`,
      figures: true,
      cell: ({ name, difference }) =>
        difference && (
          <span title={difference.interval?.map((end) => showNumber(end, 3)).join(' to ')}>
            {showDifference(difference.value, shape === 'event' && !!entry(name).levels)}
          </span>
        ),
      sort: ({ difference }) => difference?.value,
    });
  if (shape === 'event')
    columns.push({
      key: 'odds',
      head: 'Odds ratio',
      title: 'Of a number per SD, of two levels for the second',
      figures: true,
      cell: ({ oddsRatio }) =>
        oddsRatio && (
          <span title={oddsRatio.interval?.map((end) => showNumber(end, 3)).join(' to ')}>
            {showNumber(oddsRatio.value, 3)}
          </span>
        ),
      sort: ({ oddsRatio }) => oddsRatio && Math.abs(Math.log(oddsRatio.value)),
    });
  return [
    ...columns,
    {
      key: 'p',
      head: 'p',
      figures: true,
      cell: ({ p, test }) => <span title={test}>{Number.isNaN(p) ? '–' : showP(p)}</span>,
      sort: ({ p }) => p,
    },
    {
      key: 'adjusted',
      head: 'adj. p',
      title: 'Adjusted for as many looks as there are columns (Holm)',
      figures: true,
      cell: ({ adjustedP }) =>
        adjustedP === null || Number.isNaN(adjustedP) ? '–' : showP(adjustedP),
      sort: ({ adjustedP }) => adjustedP,
    },
    {
      key: 'information',
      head: 'Information',
      title: 'Share of the outcome’s entropy that the column takes away',
      figures: true,
      cell: ({ information }) => showPercent(information),
      sort: ({ information }) => information,
    },
  ];
}

/** Of a column whose low values go with the event the area is said the other way round. */
function isInverse(measure: Relation['measure'], value: number): boolean {
  return measure === 'AUC' && value < 0.5;
}

function showDifference(value: number, share: boolean): string {
  const sign = value < 0 ? '−' : '+';
  const size = Math.abs(value);
  return share ? `${sign}${showPercent(size)}` : `${sign}${showNumber(size, 3)}`;
}
