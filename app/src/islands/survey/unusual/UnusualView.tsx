import type { UnusualPatient, UnusualPatients } from '@rook-scale/core/survey';
import { display, showValue as showCell } from '@rook-scale/core/table';
import { mendDesign } from '../../../browser/edits.ts';
import { plural, showCount } from '../../../browser/format.ts';
import { roundDigits, showDigits, showFixed } from '../../../browser/numbers.ts';
import { Button, DataTable } from '../../../components/index.ts';
import { entryOf, useSurvey } from '../context.ts';
import styles from '../Survey.module.css';
import { useColumns, useRows } from '../use-columns.ts';
import { usePart } from '../use-part.ts';
import { Waiting } from '../Waiting.tsx';
import { ScoresFigure } from './ScoresFigure.tsx';
import { ruleWords } from './words.ts';
import own from './Unusual.module.css';

/** Patients who are unlike the others, found without the outcome. */
export function UnusualView() {
  const { result, waiting, unfinished, problem } = usePart('unusual');
  if (result) return <OfPatients found={result} unfinished={unfinished} />;
  if (waiting || problem) return <Waiting problem={problem} what="who is unusual" />;
  return <p>Two patients and one predictor that varies are needed.</p>;
}

function OfPatients({
  found,
  unfinished,
}: {
  found: UnusualPatients;
  unfinished: string | undefined;
}) {
  const { cohort } = useSurvey();
  const nameOf = (column: string) =>
    display(entryOf(cohort, column) ?? { name: column, label: '' });
  const unitOf = (column: string) => entryOf(cohort, column)?.unit ?? '';
  return (
    <>
      {unfinished && <p role="status">{unfinished}</p>}
      <div className={own.columns}>
        <ScoresFigure found={found} />
        <section>
          <h2>What they have in common</h2>
          {found.rules.length === 0 ? (
            <p>No short rule tells them apart.</p>
          ) : (
            <ol className={own.rules}>
              {found.rules.map((rule, i) => (
                <li key={i}>
                  {ruleWords(rule, nameOf, unitOf)}
                  <span className="quiet">
                    {plural(Math.round(rule.patients), 'patient')}, mean score{' '}
                    {showFixed(rule.mean, 2)}
                  </span>
                </li>
              ))}
            </ol>
          )}
          <p className="quiet">
            The leaves of a tree of three questions that is grown towards the score, the most
            unusual first.
          </p>
        </section>
      </div>
      <AsInput />
      <Listed found={found} nameOf={nameOf} unitOf={unitOf} />
      <p className={styles.note}>
        Isolation forest: {found.trees} trees part {showCount(found.sample)} patients each by{' '}
        {plural(found.columns, 'predictor')} at random, until everybody stands alone; whoever soon
        does is unlike the others. The outcome plays no part in it. Unusual is not yet wrong.
      </p>
    </>
  );
}

/** The score as a number that candidates learn from; each fold learns its own, and a later list is given the model's. */
function AsInput() {
  const { studyId, design } = useSurvey();
  if (!design) return null;
  if (design.preparation.some(({ step }) => step === 'unusualness'))
    return (
      <p>
        The score is an input of new fits:{' '}
        <a href={`/studies/${studyId}/design#preparation`}>a step of the preparation</a>.
      </p>
    );
  const add = () =>
    void mendDesign(
      studyId,
      // First, before gaps are filled and columns changed.
      ({ preparation, ...rest }) => ({
        ...rest,
        preparation: [{ step: 'unusualness', columns: 'all' }, ...preparation],
      }),
      'Unusualness added to the preparation',
    );
  return (
    <p>
      <Button onClick={add}>Use the score as an input</Button>{' '}
      <span className="quiet">
        It becomes a step of the preparation: learned anew in each fold, kept with the model.
      </span>
    </p>
  );
}

interface ListedProps {
  found: UnusualPatients;
  nameOf: (column: string) => string;
  unitOf: (column: string) => string;
}

function Listed({ found, nameOf, unitOf }: ListedProps) {
  const { cohort, studyId, design } = useSurvey();
  const identifier = cohort.dictionary.find(({ role }) => role === 'identifier');
  const { columns } = useColumns(identifier ? [identifier.name] : []);
  const rows = useRows();
  const places = rows && new Map(Array.from(rows, (row, i) => [row, i]));
  const names = columns?.[0];
  const whoIs = (row: number) => {
    const place = places?.get(row);
    return names && place !== undefined ? showCell(names, place, identifier?.kind === 'date') : '';
  };
  const said = (value: number | string | null, column: string) => {
    if (value === null) return 'not known';
    const unit = unitOf(column);
    if (typeof value !== 'number') return value;
    return `${showDigits(value, 4)}${unit && ` ${unit}`}`;
  };
  const bare = (value: number | string) =>
    typeof value === 'number' ? roundDigits(value, 4) : value;
  return (
    <section className={styles.section}>
      <h2>The {plural(found.listed.length, 'most unusual patient')}</h2>
      <div className={own.scroll} tabIndex={0} role="region" aria-label="Most unusual patients">
        <DataTable
          caption="Most unusual patients"
          rows={found.listed}
          rowKey={({ row }) => String(row)}
          columns={[
            {
              key: 'row',
              head: 'Row',
              figures: true,
              width: 70,
              cell: ({ row }: UnusualPatient) => (
                <a href={`/studies/${studyId}/records?view=rows&row=${row + 1}`}>
                  {showCount(row + 1)}
                </a>
              ),
              sort: ({ row }) => row,
            },
            ...(identifier
              ? [
                  {
                    key: 'who',
                    head: display(identifier),
                    width: 110,
                    cell: ({ row }: UnusualPatient) => whoIs(row),
                    sort: ({ row }: UnusualPatient) => whoIs(row),
                  },
                ]
              : []),
            {
              key: 'score',
              head: 'Score',
              figures: true,
              width: 70,
              cell: ({ score }) => showFixed(score, 3),
              sort: ({ score }) => score,
            },
            ...(found.cases
              ? [
                  {
                    key: 'case',
                    head: design?.kind === 'event' ? 'Event' : 'Case',
                    width: 70,
                    cell: ({ isCase }: UnusualPatient) =>
                      isCase === undefined ? '' : isCase ? '● yes' : '○ no',
                    sort: ({ isCase }: UnusualPatient) =>
                      isCase === undefined ? undefined : Number(isCase),
                  },
                ]
              : []),
            {
              key: 'because',
              width: 540,
              head: 'What makes them so',
              title: 'By how much the score falls with the usual value instead, most first',
              cell: ({ because }) => (
                <span className={own.because}>
                  {because.length === 0
                    ? 'no one value by itself'
                    : because
                        .map(
                          ({ column, value, usual }) =>
                            `${nameOf(column)} ${said(value, column)} (usual ${bare(usual)})`,
                        )
                        .join('; ')}
                </span>
              ),
            },
          ]}
        />
      </div>
    </section>
  );
}
