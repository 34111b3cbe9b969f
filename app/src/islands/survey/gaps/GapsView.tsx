import { useMemo, useState } from 'react';
import type { Gaps } from '@rook-scale/core/survey';
import { display } from '@rook-scale/core/table';
import { mendDesign } from '../../../browser/edits.ts';
import { plural, showCount, showPercent } from '../../../browser/format.ts';
import { readNumber } from '../../../browser/numbers.ts';
import {
  Button,
  ChartFrame,
  DataTable,
  type FigureConfiguration,
} from '../../../components/index.ts';
import { useSurvey } from '../context.ts';
import { plainColour } from '../marks.ts';
import { wholeTicks } from '../whole-ticks.ts';
import styles from '../Survey.module.css';
import { usePart } from '../use-part.ts';
import { Waiting } from '../Waiting.tsx';
import own from './Gaps.module.css';

/** Where values are not known: by column, by patient, and which are gone together. */
export function GapsView() {
  const { cohort } = useSurvey();
  const { result, problem } = usePart('columns');
  if (!result) return <Waiting problem={problem} what="the gaps" />;
  const { gaps } = result;
  const complete = gaps.perPatient[0] ?? 0;
  const withGaps = cohort.dictionary.filter((_, i) => gaps.perColumn[i] > 0).length;
  if (withGaps === 0)
    return <p>Every value of every column is known in these {plural(gaps.patients, 'patient')}.</p>;
  return (
    <>
      <dl className={styles.facts}>
        <div>
          <dt>columns with gaps</dt>
          <dd>
            {withGaps} of {cohort.dictionary.length}
          </dd>
        </div>
        <div>
          <dt>patients without any</dt>
          <dd>
            {showCount(complete)} of {showCount(gaps.patients)} (
            {showPercent(complete / Math.max(1, gaps.patients))})
          </dd>
        </div>
        <div>
          <dt>patterns</dt>
          <dd>{showCount(gaps.patternCount)}</dd>
        </div>
      </dl>
      <LeaveOut gaps={gaps} />
      <div className={styles.two}>
        <ColumnGaps gaps={gaps} />
        <PatientGaps gaps={gaps} />
      </div>
      <section className={styles.section}>
        <h2>Not known together</h2>
        <Patterns gaps={gaps} />
      </section>
    </>
  );
}

/** Takes columns with too many gaps out of the predictors. */
function LeaveOut({ gaps }: { gaps: Gaps }) {
  const { studyId, cohort, design } = useSurvey();
  const [text, setText] = useState('40');
  const limit = readNumber(text);
  const valid = text.trim() !== '' && limit >= 0 && limit < 100;
  const predictors = new Set(design?.predictors);
  const tooMany = cohort.dictionary.filter(
    ({ name }, i) =>
      valid &&
      predictors.has(name) &&
      (100 * gaps.perColumn[i]) / Math.max(1, gaps.patients) > limit,
  );
  const leaveOut = () => {
    const gone = new Set(tooMany.map(({ name }) => name));
    void mendDesign(
      studyId,
      (now) => ({ ...now, predictors: now.predictors.filter((name) => !gone.has(name)) }),
      `${plural(gone.size, 'predictor')} left out`,
    );
  };
  return (
    <div className={styles.choices}>
      <label>
        Predictors with more than{' '}
        <input
          className={own.limit}
          inputMode="decimal"
          value={text}
          aria-invalid={!valid}
          onChange={(event) => setText(event.target.value)}
        />{' '}
        % gaps:
      </label>
      <span>
        {!valid
          ? 'a share from 0 to 99, please'
          : tooMany.length === 0
            ? 'none'
            : tooMany.map(display).join(', ')}
      </span>
      {tooMany.length > 0 && <Button onClick={leaveOut}>Leave out of the design</Button>}
    </div>
  );
}

function ColumnGaps({ gaps }: { gaps: Gaps }) {
  const { cohort, design } = useSurvey();
  const predictors = new Set(design?.predictors);
  const lines = cohort.dictionary
    .map((entry, i) => ({ entry, missing: gaps.perColumn[i] }))
    .filter(({ missing }) => missing > 0);
  return (
    <section>
      <h2>By column</h2>
      <div className={own.scroll} tabIndex={0} role="region" aria-label="Gaps by column">
        <DataTable
          caption="Gaps by column"
          rows={lines}
          rowKey={({ entry }) => entry.name}
          sortedBy={{ key: 'missing', up: false }}
          columns={[
            {
              key: 'name',
              head: 'Column',
              cell: ({ entry }) => (
                <span
                  className={`${styles.cut} ${predictors.has(entry.name) ? '' : 'quiet'}`}
                  title={`${display(entry)}, ${entry.role}`}
                >
                  {display(entry)}
                </span>
              ),
              sort: ({ entry }) => display(entry).toLowerCase(),
            },
            {
              key: 'missing',
              head: 'Not known',
              figures: true,
              cell: ({ missing }) => showCount(missing),
              sort: ({ missing }) => missing,
            },
            {
              key: 'share',
              head: 'Share',
              figures: true,
              cell: ({ missing }) => (
                <span
                  className={own.share}
                  style={{
                    backgroundSize: `${(100 * missing) / Math.max(1, gaps.patients)}% 3px`,
                  }}
                >
                  {showPercent(missing / Math.max(1, gaps.patients))}
                </span>
              ),
              sort: ({ missing }) => missing,
            },
          ]}
        />
      </div>
    </section>
  );
}

function PatientGaps({ gaps }: { gaps: Gaps }) {
  const configuration = useMemo((): FigureConfiguration => {
    const last = gaps.perPatient.length;
    return {
      type: 'bar',
      data: {
        datasets: [
          {
            data: gaps.perPatient.map((y, x) => ({ x, y })),
            backgroundColor: plainColour,
            barPercentage: 0.9,
            categoryPercentage: 0.9,
          },
        ],
      },
      options: {
        scales: {
          x: {
            type: 'linear',
            offset: false,
            min: -0.6,
            max: last - 0.4,
            grid: { display: false },
            title: { text: 'gaps of a patient' },
            ...wholeTicks(0, last - 1),
          },
          y: {
            type: 'linear',
            min: 0,
            title: { text: 'patients' },
            ticks: { maxTicksLimit: 5 },
          },
        },
        plugins: {
          tooltip: {
            displayColors: false,
            callbacks: {
              title: () => '',
              label: ({ parsed }) =>
                `${plural(parsed.y ?? 0, 'patient')} with ${plural(parsed.x ?? 0, 'gap')}`,
            },
          },
        },
      },
    };
  }, [gaps]);
  const most = gaps.perPatient.length - 1;
  const usual = gaps.perPatient.indexOf(Math.max(...gaps.perPatient));
  return (
    <ChartFrame
      title="By patient"
      caption={`Most often a patient has ${plural(usual, 'gap')} (${showCount(gaps.perPatient[usual])}); the most is ${most}.`}
      configuration={configuration}
      numbers={() => [['gaps', 'patients'], ...gaps.perPatient.map((count, i) => [i, count])]}
      fileName="gaps-by-patient"
      height={210}
    />
  );
}

function Patterns({ gaps }: { gaps: Gaps }) {
  const { cohort } = useSurvey();
  return (
    <>
      <DataTable
        caption="Which columns are not known together"
        rows={gaps.patterns}
        rowKey={({ columns }) => columns.join(' ') || 'none'}
        columns={[
          {
            key: 'patients',
            head: 'Patients',
            figures: true,
            width: 80,
            cell: ({ patients }) => showCount(patients),
            sort: ({ patients }) => patients,
          },
          {
            key: 'share',
            head: 'Share',
            figures: true,
            width: 80,
            cell: ({ patients }) => showPercent(patients / Math.max(1, gaps.patients)),
            sort: ({ patients }) => patients,
          },
          {
            key: 'columns',
            head: 'Not known',
            cell: ({ columns }) =>
              columns.length === 0 ? (
                <span className="quiet">nothing: all is known</span>
              ) : (
                <span className={own.names}>
                  {columns.map((i) => display(cohort.dictionary[i])).join(' · ')}
                </span>
              ),
            sort: ({ columns }) => columns.length,
          },
        ]}
      />
      {gaps.patternCount > gaps.patterns.length && (
        <p className="quiet">
          The {gaps.patterns.length} most frequent of {showCount(gaps.patternCount)} patterns.
        </p>
      )}
    </>
  );
}
