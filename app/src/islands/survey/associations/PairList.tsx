import { useMemo } from 'react';
import type { Association } from '@rook-scale/core/survey';
import { display } from '@rook-scale/core/table';
import type { AssociationsSurveyed } from '../../../contract/surveys.ts';
import { setAddress } from '../../../browser/address.ts';
import { mendDesign } from '../../../browser/edits.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { Button, DataTable } from '../../../components/index.ts';
import { entryOf, useSurvey } from '../context.ts';
import { usePart } from '../use-part.ts';

/** From here on two predictors say much the same; common practice. */
const close = 0.8;

interface Pair extends Association {
  names: [string, string];
  /** The one that is suggested to be set aside, where both are predictors. */
  weaker?: string;
  why?: string;
}

/** The pairs of columns that go together closely, with which of the two could go. */
export function PairList({ surveyed: { map } }: { surveyed: AssociationsSurveyed }) {
  const { studyId, cohort, design } = useSurvey();
  const against = design && (design.event || design.kind !== 'event') ? design.outcome : '';
  const { result: related } = usePart('relations', { against }, against !== '');
  const { result: described } = usePart('columns');
  const pairs = useMemo(() => {
    const predictors = new Set(design?.predictors);
    const information = new Map(related?.relations.map((one) => [one.name, one.information]));
    const missing = new Map(described?.columns.map((one) => [one.name, one.missing]));
    return map.cells
      .flatMap((row, i) =>
        row.flatMap((cell, j): Pair[] => {
          if (!cell || Math.abs(cell.value) < close) return [];
          const names: [string, string] = [map.names[i], map.names[j]];
          const both = names.every((name) => predictors.has(name));
          return [{ ...cell, names, ...(both && suggest(names, information, missing)) }];
        }),
      )
      .sort((a, b) => Math.abs(b.value) - Math.abs(a.value));
  }, [map, design, related, described]);
  const label = (name: string) => display(entryOf(cohort, name) ?? { name, label: '' });
  const setAside = (name: string) =>
    void mendDesign(
      studyId,
      (now) => ({ ...now, predictors: now.predictors.filter((one) => one !== name) }),
      `${label(name)} set aside`,
    );
  return (
    <section>
      <h2>Pairs from {close}</h2>
      <DataTable
        caption={`Pairs of columns from ${close}`}
        rows={pairs}
        rowKey={({ names }) => names.join('|')}
        empty={`No two columns go together by ${close} or more.`}
        columns={[
          {
            key: 'pair',
            head: 'Columns',
            cell: ({ names: [y, x] }) => (
              <Button look="link" onClick={() => setAddress({ view: 'two', x, y })}>
                {label(y)} · {label(x)}
              </Button>
            ),
            sort: ({ names }) => names.map(label).join(' '),
          },
          {
            key: 'value',
            head: 'Strength',
            figures: true,
            cell: ({ value, measure }) => <span title={measure}>{showFixed(value, 2)}</span>,
            sort: ({ value }) => Math.abs(value),
          },
          {
            key: 'act',
            head: 'Could go',
            cell: ({ weaker, why }) =>
              weaker && (
                <span title={why}>
                  <Button
                    look="link"
                    aria-label={`Set ${label(weaker)} aside`}
                    onClick={() => setAside(weaker)}
                  >
                    set {label(weaker)} aside
                  </Button>
                </span>
              ),
          },
        ]}
      />
      {pairs.some(({ weaker }) => weaker) && (
        <p className="quiet">
          Suggested is the predictor with less information on the outcome; with none chosen, the one
          with more gaps.
        </p>
      )}
    </section>
  );
}

function suggest(
  [a, b]: [string, string],
  information: Map<string, number>,
  missing: Map<string, number>,
): { weaker: string; why: string } {
  const [of, other] = [information.get(a), information.get(b)];
  if (of !== undefined && other !== undefined && of !== other)
    return { weaker: of < other ? a : b, why: 'It holds less information on the outcome.' };
  const more = (missing.get(a) ?? 0) >= (missing.get(b) ?? 0);
  return { weaker: more ? a : b, why: 'It has more gaps, or as many.' };
}
