import { useCallback, useMemo, useState } from 'react';
import {
  groupDifference,
  groupsBy,
  subgroupMeasures,
  subgroupsOf,
  type GroupDifference,
  type Subgroup,
  type SubgroupMeasure,
} from '@rook-scale/core/measures';
import { showDay, type Dictionary } from '@rook-scale/core/table';
import { messageOf } from '../../../browser/api.ts';
import { useDictionary } from '../../../browser/dictionary.ts';
import { plural, showCost, showCount, showInterval, showP } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { IntervalStrip, Notice, Select, SavedTable } from '../../../components/index.ts';
import { measureNames } from './measure-names.ts';
import { casesIn, type SectionProps } from './section.ts';
import { useLater } from './use-later.ts';
import { canStandAgainst, useHeldOutColumn } from './use-column.ts';
import styles from './Sections.module.css';

/** Fewer cases, or fewer of the others, say little. */
const few = 10;

/** More groups than these are no groups any more. */
const mostGroups = 40;

/** Every measure by the levels or bands of any column. */
export function ForWhom(props: SectionProps) {
  const { dictionary, labelOf } = useDictionary(props.studyId);
  const [asked, setAsked] = useState<string>();
  const [measure, setMeasure] = useState<SubgroupMeasure>('sensitivity');
  const columns = dictionary.filter(canStandAgainst);
  const name = asked ?? usualColumn(columns);
  const { data: column, error } = useHeldOutColumn(props, name);
  const offered = subgroupMeasures.filter(
    (one) =>
      (one !== 'cost' || props.costs) && (one !== 'brier' || props.patients.scale.what === 'risk'),
  );
  return (
    <>
      <div className={styles.asked}>
        <Select
          label="By"
          value={name ?? ''}
          options={columns.map((entry) => ({ value: entry.name, label: labelOf(entry.name) }))}
          onChange={setAsked}
        />
        <Select
          label="Measure"
          value={measure}
          options={offered.map((one) => ({ value: one, label: measureNames[one] }))}
          onChange={(one) => setMeasure(one)}
        />
      </div>
      {error && <Notice>{messageOf(error)}</Notice>}
      {!error && (!column || column.type === 'text') && <p role="status">Reading the column</p>}
      {column && column.type !== 'text' && (
        <Groups
          {...props}
          {...{ column, measure }}
          label={labelOf(name!)}
          isDate={dictionary.find((entry) => entry.name === name)?.kind === 'date'}
        />
      )}
    </>
  );
}

/** The first with few levels, as sex or hospital have; else the first. */
const usualColumn = (columns: Dictionary): string | undefined =>
  (
    columns.find(({ kind, role, levels = [] }) => {
      const isCoded = kind === 'category' || kind === 'yes/no' || kind === 'ordered category';
      return isCoded && role === 'predictor' && levels.length < 8;
    }) ?? columns[0]
  )?.name;

type Known = Parameters<typeof groupsBy>[0];

function Groups({
  column,
  measure,
  label,
  patients,
  cutoff,
  costs,
  words,
  isDate,
}: SectionProps & { column: Known; measure: SubgroupMeasure; label: string; isDate: boolean }) {
  const groups = useMemo(
    () => groupsBy(column, isDate ? (day) => showDay(Math.ceil(day)) : undefined),
    [column, isDate],
  );
  const task = useMemo(
    () => ({
      scores: patients.risks,
      events: patients.events,
      cutoff,
      costs: costs ?? { missedCost: 0, falseAlarmCost: 0 },
      clusters: patients.clusters,
    }),
    [patients, cutoff, costs],
  );
  const isGrouped = groups.length <= mostGroups;
  const found = useMemo(
    () => (isGrouped ? subgroupsOf(groups, task) : []),
    [isGrouped, groups, task],
  );
  const test = useLater(
    useCallback(
      () => (isGrouped ? (groupDifference(groups, measure, task) ?? null) : null),
      [isGrouped, groups, measure, task],
    ),
  );
  if (!isGrouped)
    return (
      <p>
        {label} has {showCount(groups.length)} levels: too many to set patients beside each other
        by.
      </p>
    );
  const { cases } = casesIn(words);
  const ends = found.flatMap(({ figures }) => {
    const { value, interval } = figures[measure];
    return value === undefined ? [] : [value, ...(interval ?? [])];
  });
  const isShare = measure !== 'cost' && measure !== 'brier';
  const to = isShare ? 1 : Math.max(1e-9, ...ends);
  const show = (value: number) =>
    measure === 'cost' ? showCost(value) : showFixed(value, measure === 'brier' ? 3 : 2);
  return (
    <>
      <p>{summary(found, measure, label, test)}</p>
      <SavedTable fileName="for-whom">
        <table className={styles.table} aria-label={`${measureNames[measure]} by ${label}`}>
          <thead>
            <tr>
              <th scope="col">{label}</th>
              <th scope="col">Patients</th>
              <th scope="col">{words.isEvent ? 'With the event' : 'Cases'}</th>
              <th scope="col">Missed</th>
              <th scope="col">False alarms</th>
              <th scope="col">{measureNames[measure]}</th>
              <th scope="col">95% interval</th>
              <th scope="col" className={styles.strip} aria-hidden="true" />
            </tr>
          </thead>
          <tbody>
            {found.map((group) => {
              const { value, interval } = group.figures[measure];
              return (
                <tr key={group.name}>
                  <th scope="row">
                    {group.name}{' '}
                    {isFew(group) && (
                      <span
                        className="quiet"
                        title={`Fewer than ${few} ${cases}, or of the others`}
                      >
                        few
                      </span>
                    )}
                  </th>
                  <td>{showCount(group.patients)}</td>
                  <td>{showCount(group.cases)}</td>
                  <td>{showCount(group.table.missed)}</td>
                  <td>{showCount(group.table.falseAlarms)}</td>
                  <td className={styles.value}>{value === undefined ? '–' : show(value)}</td>
                  <td>
                    {isShare ? showInterval(interval) : (interval?.map(show).join(' – ') ?? '–')}
                  </td>
                  <td className={styles.strip}>
                    <IntervalStrip {...{ value, interval, to }} />
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </SavedTable>
    </>
  );
}

const isFew = ({ cases, patients }: Subgroup) => Math.min(cases, patients - cases) < few;

/** @param test undefined while it is worked out, null where there is none */
function summary(
  groups: Subgroup[],
  measure: SubgroupMeasure,
  label: string,
  test: GroupDifference | null | undefined,
): string {
  if (groups.length < 2) return `All patients are alike in ${label}.`;
  const smallest = groups.reduce((least, one) => (one.patients < least.patients ? one : least));
  const thin = groups.filter(isFew);
  const first = `The smallest group, ${smallest.name}, has ${plural(smallest.patients, 'patient')} and ${plural(smallest.cases, 'case')}.`;
  const second =
    test === undefined
      ? 'Testing for a difference.'
      : test
        ? `${measureNames[measure]} ${test.p < 0.05 ? 'differs between groups by more than chance' : 'does not differ between groups by more than chance'} (permutation test, p ${showP(test.p)}).`
        : 'No test: fewer than two groups have this measure, or a patient stands in several groups.';
  const third =
    thin.length > 0
      ? ` ${plural(thin.length, 'group')} ${thin.length === 1 ? 'is' : 'are'} too small to rely on.`
      : '';
  return `${first} ${second}${third}`;
}
