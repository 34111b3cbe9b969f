import {
  aboutFolds,
  foldsWays,
  mostFolds,
  repeatsOf,
  type FoldsChoice,
  type FoldsWay,
} from '@rook-scale/core/design';
import { isCoded } from '@rook-scale/core/table';
import { plural, showCount } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import { NumberField, Select } from '../../components/index.ts';
import { ColumnSelect } from './ColumnSelect.tsx';
import { MovingSelect } from './MovingSelect.tsx';
import { groupIn } from './SplitForm.tsx';
import type { SectionProps } from './DesignPage.tsx';
import styles from './Design.module.css';

/** Into how many folds development patients are dealt, how, and how cases spread over them. */
export function Folds({ design, change, cohort, state }: SectionProps) {
  const { folds, split, outcome } = design;
  const set = (choice: FoldsChoice) => change({ folds: choice });
  const group =
    'column' in folds
      ? folds.column
      : split.way === 'by group'
        ? split.column
        : groupIn(cohort, outcome);
  const count = 'count' in folds ? folds.count : 5;
  const starts: { [Way in FoldsWay]: () => FoldsChoice } = {
    'by chance': () => ({ way: 'by chance', count }),
    'by group': () => ({ way: 'by group', column: group, count }),
    'each group': () => ({ way: 'each group', column: group }),
    'as brought in': () => ({ way: 'as brought in' }),
  };
  const ways = foldsWays.filter(
    (way) => way !== 'as brought in' || split.way === way || folds.way === way,
  );
  return (
    <section className={styles.section} aria-labelledby="folds">
      <h2 id="folds">Folds</h2>
      <div className={styles.fields}>
        <Select
          label="Dealt"
          value={folds.way}
          options={ways.map((value) => ({ value, label: aboutFolds(value).name.toLowerCase() }))}
          onChange={(way) => set(starts[way]())}
        />
        {'column' in folds && (
          <ColumnSelect
            label="Groups are the values of"
            value={folds.column}
            cohort={cohort}
            wanted={({ name, kind, role }) =>
              name !== outcome &&
              role !== 'identifier' &&
              (isCoded(kind) || kind === 'text' || kind === 'number')
            }
            onChange={(column) => set({ ...folds, column })}
          />
        )}
        {'column' in folds && (
          <MovingSelect
            cohort={cohort}
            value={folds.moving}
            offered={['most frequent', 'first']}
            onChange={(moving) => {
              const { moving: _, ...rest } = folds;
              set(moving ? { ...rest, moving } : rest);
            }}
          />
        )}
        {'count' in folds && (
          <NumberField
            label="Folds"
            value={folds.count}
            least={2}
            most={Math.min(50, Math.floor(mostFolds / repeatsOf(folds)))}
            whole
            onChange={(next) => set({ ...folds, count: next })}
          />
        )}
        {folds.way === 'by chance' && (
          <NumberField
            label="Times"
            title="Dealt anew that often: the figures of a candidate are then the mean over the times"
            value={repeatsOf(folds)}
            least={1}
            most={Math.min(20, Math.floor(mostFolds / folds.count))}
            whole
            onChange={(times) => {
              const { repeats: _, ...once } = folds;
              set(times > 1 ? { ...once, repeats: times } : once);
            }}
          />
        )}
      </div>
      <p className="quiet">
        {aboutFolds(folds.way).about}{' '}
        {repeatsOf(folds) > 1
          ? `That is done ${repeatsOf(folds)} times, each time anew; the first is shown. A candidate is fitted once for each fold of each time, ${repeatsOf(folds) * count} times in all, and once on all patients. Its figures are the mean over the times.`
          : 'A candidate is fitted once for each and once on all.'}
      </p>
      {state.counts?.folds && <FoldTable folds={state.counts.folds} kind={design.kind} />}
    </section>
  );
}

type FoldCounts = NonNullable<NonNullable<SectionProps['state']['counts']>['folds']>;

function FoldTable({ folds, kind }: { folds: FoldCounts; kind: string }) {
  const most = Math.max(...folds.map(({ patients }) => patients));
  const shares = folds.map(({ patients, events }) => events / Math.max(1, patients));
  const [least, greatest] = [Math.min(...shares), Math.max(...shares)];
  const cases = kind === 'event' ? 'events' : 'cases';
  return (
    <>
      <div className={styles.foldsScroll}>
        <table className={styles.sides}>
          <thead>
            <tr>
              <th scope="col">Fold</th>
              <th scope="col" className={styles.barHead}>
                <span className="hidden">Patients and {cases}, drawn</span>
              </th>
              <th scope="col">Patients</th>
              <th scope="col">{kind === 'event' ? 'Events' : 'Cases'}</th>
              <th scope="col">Share</th>
            </tr>
          </thead>
          <tbody>
            {folds.map(({ name, patients, events }, fold) => (
              <tr key={fold}>
                <th scope="row">{name ?? fold + 1}</th>
                <td className={styles.barCell} aria-hidden="true">
                  <svg viewBox="0 0 100 10" preserveAspectRatio="none" className={styles.bar}>
                    <rect width={(100 * patients) / most} height="10" className={styles.barAll} />
                    <rect width={(100 * events) / most} height="10" className={styles.barCases} />
                  </svg>
                </td>
                <td>{showCount(patients)}</td>
                <td>{showCount(events)}</td>
                <td>{showFixed(100 * shares[fold], 1)}%</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="quiet">
        {plural(folds.length, 'fold')}; the share of {cases} is between {showFixed(100 * least, 1)}%
        and {showFixed(100 * greatest, 1)}%.
      </p>
    </>
  );
}
