import { useState } from 'react';
import {
  aboutSplit,
  likelyGroup,
  movings,
  splitWays,
  type SplitChoice,
  type SplitWay,
} from '@rook-scale/core/design';
import { display, isCoded, showDay, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { showCount } from '../../browser/format.ts';
import { NumberField, Select } from '../../components/index.ts';
import { BringInAllocation } from './BringInAllocation.tsx';
import { ColumnSelect } from './ColumnSelect.tsx';
import { MovingSelect } from './MovingSelect.tsx';
import { SecondFile } from './second-file/SecondFile.tsx';
import type { SectionProps } from './DesignPage.tsx';
import styles from './Design.module.css';

interface Props extends SectionProps {
  studyId: string;
}

/** By which way patients are set aside, and what that way asks. */
export function SplitForm(props: Props) {
  const { design, change, cohort } = props;
  // A way that needs a file is in force once there is one.
  const [asking, setAsking] = useState<SplitWay>();
  const { split } = design;
  const way = asking ?? split.way;
  const choose = (next: SplitWay) => {
    const start = starts[next]?.(cohort, design.outcome);
    setAsking(start || split.way === next ? undefined : next);
    if (start) change({ split: start });
  };
  const done = () => setAsking(undefined);
  const set = (choice: SplitChoice) => change({ split: choice });
  return (
    <>
      <Select
        label="Set aside"
        value={way}
        options={splitWays.map((value) => ({ value, label: aboutSplit(value).name.toLowerCase() }))}
        onChange={choose}
      />
      <p className="quiet">{aboutSplit(way).about}</p>
      {way === 'as brought in' && (
        <BringInAllocation
          {...props}
          current={split.way === 'as brought in' ? split.name : undefined}
          onDone={done}
        />
      )}
      {way === 'second file' || cohort.second ? (
        <SecondFile {...props} asked={way === 'second file'} onDone={done} />
      ) : null}
      {way === split.way && (
        <Way split={split} set={set} cohort={cohort} outcome={design.outcome} />
      )}
    </>
  );
}

interface WayProps<Choice> {
  split: Choice;
  set: (choice: SplitChoice) => void;
  cohort: CohortInfo;
  outcome: string;
}

function Way({ split, ...props }: WayProps<SplitChoice>) {
  switch (split.way) {
    case 'by chance':
      return <ByChance split={split} {...props} />;
    case 'by group':
      return <ByGroup split={split} {...props} />;
    case 'by date':
      return <ByDate split={split} {...props} />;
    case 'by column':
      return <ByColumn split={split} {...props} />;
    case 'by rows':
      return <ByRows split={split} {...props} />;
    case 'as brought in':
    case 'second file':
      return null;
  }
}

type Of<Way extends SplitWay> = Extract<SplitChoice, { way: Way }>;

/** What each way begins with; none where a file has to come first. */
const starts: {
  [Way in SplitWay]?: (cohort: CohortInfo, outcome: string) => Of<Way> | undefined;
} = {
  'by chance': () => ({ way: 'by chance' }),
  'by group': (cohort, outcome) => ({ way: 'by group', column: groupIn(cohort, outcome) }),
  'by date': ({ dictionary }) => ({
    way: 'by date',
    column: dictionary.find(({ kind }) => kind === 'date')?.name ?? '',
    from: null,
  }),
  'by column': ({ dictionary }) => ({
    way: 'by column',
    column: dictionary.find(isMarker)?.name ?? '',
    heldOut: [],
    sealed: [],
  }),
  'by rows': ({ storedRows }) => ({
    way: 'by rows',
    from: Math.max(1, Math.round(0.75 * storedRows) + 1),
    to: storedRows,
  }),
  'second file': ({ second }) =>
    second ? { way: 'second file', name: second.name, from: second.from } : undefined,
};

const isAside = ({ role }: DictionaryEntry) => role === 'set aside';

/** The column that likely names hospitals; none chosen where no column does. */
export const groupIn = ({ dictionary, summaries, rowCount }: CohortInfo, outcome: string) =>
  likelyGroup(dictionary, summaries, rowCount, outcome) ?? '';

const isMarker = (entry: DictionaryEntry) => isAside(entry) && isCoded(entry.kind);

function ByChance({ split, set, cohort, outcome }: WayProps<Of<'by chance'>>) {
  const within = split.within ?? [];
  const wanted = ({ kind, role, name }: DictionaryEntry) =>
    name !== outcome && role !== 'identifier' && kind !== 'text';
  const put = (place: number, name: string) => {
    const next = [...within];
    if (name) next[place] = name;
    else next.splice(place, 1);
    set({ way: 'by chance', ...(next.length > 0 && { within: next }) });
  };
  return (
    <div className={styles.fields}>
      {[...within, ''].slice(0, 2).map((name, place) => (
        <ColumnSelect
          key={place}
          label={place === 0 ? 'Alike in the outcome and in' : 'and in'}
          value={name}
          cohort={cohort}
          wanted={(entry) => wanted(entry) && (entry.name === name || !within.includes(entry.name))}
          none="nothing else"
          onChange={(next) => put(place, next)}
        />
      ))}
    </div>
  );
}

function ByGroup({ split, set, cohort, outcome }: WayProps<Of<'by group'>>) {
  return (
    <div className={styles.fields}>
      <ColumnSelect
        label="Groups are the values of"
        value={split.column}
        cohort={cohort}
        wanted={({ name, role }) => name !== outcome && role !== 'identifier'}
        onChange={(column) => set({ ...split, column })}
      />
      <MovingSelect
        cohort={cohort}
        value={split.moving}
        offered={movings}
        onChange={(moving) => {
          const { moving: _, ...rest } = split;
          set(moving ? { ...rest, moving } : rest);
        }}
      />
    </div>
  );
}

function ByDate({ split, set, cohort, outcome }: WayProps<Of<'by date'>>) {
  const entry = cohort.dictionary.find(({ name }) => name === split.column);
  const isDay = entry?.kind === 'date';
  const range = cohort.summaries[cohort.dictionary.indexOf(entry!)]?.numbers;
  const { from } = split;
  return (
    <div className={styles.fields}>
      <ColumnSelect
        label="Ordered by"
        value={split.column}
        cohort={cohort}
        wanted={({ name, kind }) => name !== outcome && (kind === 'date' || kind === 'number')}
        onChange={(column) => set({ ...split, column, from: null })}
      />
      <Select
        label="Held out"
        value={from === null ? 'share' : 'from'}
        options={[
          { value: 'share', label: 'the latest share' },
          { value: 'from', label: isDay ? 'from a day on' : 'from a value on' },
        ]}
        onChange={(how) =>
          set({ ...split, from: how === 'share' ? null : Math.floor(range?.upperQuartile ?? 0) })
        }
      />
      {from !== null && isDay && (
        <label className={styles.day}>
          From
          <input
            type="date"
            value={showDay(from)}
            onChange={({ target }) => {
              const day = Date.parse(target.value) / 86_400_000;
              if (Number.isFinite(day)) set({ ...split, from: day });
            }}
          />
        </label>
      )}
      {from !== null && !isDay && (
        <NumberField
          label="From"
          value={from}
          least={-1e12}
          most={1e12}
          onChange={(value) => set({ ...split, from: value })}
        />
      )}
    </div>
  );
}

function ByColumn({ split, set, cohort, outcome }: WayProps<Of<'by column'>>) {
  const place = cohort.dictionary.findIndex(({ name }) => name === split.column);
  const levels = cohort.dictionary[place]?.levels ?? [];
  const counts = cohort.summaries[place]?.counts ?? [];
  const sideOf = (level: string) =>
    split.heldOut.includes(level)
      ? 'held out'
      : split.sealed.includes(level)
        ? 'sealed'
        : 'for development';
  const put = (level: string, side: string) => {
    const without = (list: string[]) => list.filter((one) => one !== level);
    set({
      ...split,
      heldOut: [...without(split.heldOut), ...(side === 'held out' ? [level] : [])],
      sealed: [...without(split.sealed), ...(side === 'sealed' ? [level] : [])],
    });
  };
  return (
    <>
      <ColumnSelect
        label="Marked by"
        value={split.column}
        cohort={cohort}
        wanted={({ name, kind }) => name !== outcome && isCoded(kind)}
        onChange={(column) => set({ way: 'by column', column, heldOut: [], sealed: [] })}
      />
      {levels.length > 0 && levels.length <= 60 && (
        <ul className={styles.marks}>
          {levels.map((level, code) => (
            <li key={level}>
              <Select
                label={`${level} (${showCount(counts[code] ?? 0)})`}
                value={sideOf(level)}
                options={['for development', 'held out', 'sealed'].map((value) => ({
                  value,
                  label: value,
                }))}
                onChange={(side) => put(level, side)}
              />
            </li>
          ))}
        </ul>
      )}
      {levels.length > 60 && (
        <p className={styles.ask}>
          {display(cohort.dictionary[place])} has {levels.length} levels: that is no mark of sides.
        </p>
      )}
    </>
  );
}

function ByRows({ split, set, cohort }: WayProps<Of<'by rows'>>) {
  return (
    <div className={styles.fields}>
      <NumberField
        label="From row"
        value={split.from}
        least={1}
        most={split.to}
        whole
        onChange={(from) => set({ ...split, from })}
      />
      <NumberField
        label="to row"
        value={split.to}
        least={split.from}
        most={cohort.storedRows}
        whole
        suffix={`of ${showCount(cohort.storedRows)}`}
        onChange={(to) => set({ ...split, to })}
      />
    </div>
  );
}
