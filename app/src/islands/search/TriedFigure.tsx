import { useMemo } from 'react';
import type { SearchMeasure } from '@rook-scale/core/search';
import type { SearchDetail, SearchLine } from '../../contract/searches.ts';
import { plural } from '../../browser/format.ts';
import { Select } from '../../components/index.ts';
import { TriedCurve } from './TriedCurve.tsx';
import { TriedMap } from './TriedMap.tsx';
import { sidesOf, type Sides } from './slices.ts';
import { fieldsOfSearch, labelOf } from './words.ts';
import styles from './Search.module.css';

export interface FigureProps {
  line: SearchLine;
  detail: SearchDetail;
  measure: SearchMeasure;
  picked?: number;
  onPick: (number: number) => void;
}

/** How it is to be drawn; what is absent follows from what was tried. */
export interface DrawnAs {
  view?: 'lines' | 'map';
  names?: (string | undefined)[];
  learned?: boolean;
}

/** Panels of one drawing at most. */
const mostPanels = 12;

/** The measure by settings: lines along one of them, or a map of two; a third in panels beside each other. */
export function TriedFigure({
  asked,
  onAsked: setAsked,
  ...props
}: FigureProps & { asked: DrawnAs; onAsked: (asked: DrawnAs) => void }) {
  const { line, detail } = props;
  const fields = fieldsOfSearch(line);
  const sides = useMemo(() => sidesOf(fields, detail), [fields, detail]);
  const usual = usualOrder(sides);
  const names = [0, 1, 2].map((k) => (asked.names ? asked.names[k] : usual[k]));
  const [across, down, panels] = names.map((name) => sides.find((side) => side.name === name));
  if (!across) return null;
  const chosen: Sides = {
    across,
    ...(down && down !== across && { down }),
    ...(panels &&
      panels !== across &&
      panels !== down &&
      panels.values.length <= mostPanels && { panels }),
  };
  const view = chosen.down ? (asked.view ?? 'map') : 'lines';
  const options = (others: (string | undefined)[], none?: string) => [
    ...(none ? [{ value: '', label: none }] : []),
    ...sides
      .filter(({ name }) => !others.includes(name))
      .map(({ name }) => ({ value: name, label: labelOf(fields, name) })),
  ];
  const set = (k: number, name: string) =>
    setAsked({ ...asked, names: names.map((one, i) => (i === k ? name || undefined : one)) });
  // Of many lines they would press those that are compared together.
  const withLearned = asked.learned ?? !chosen.down;
  const hasLearned = detail.trials.some(({ development }) => development !== undefined);
  const controls = (sides.length > 1 || hasLearned) && (
    <span className={styles.controls}>
      {sides.length > 1 && (
        <>
          <Select
            label="Drawn as"
            value={view}
            options={[
              { value: 'map' as const, label: 'a map' },
              { value: 'lines' as const, label: 'lines' },
            ]}
            onChange={(next) => setAsked({ ...asked, view: next })}
          />
          <Select
            label="Along"
            value={across.name}
            options={options([chosen.down?.name, chosen.panels?.name])}
            onChange={(name) => set(0, name)}
          />
          <Select
            label={view === 'map' ? 'Down' : 'Lines'}
            value={chosen.down?.name ?? ''}
            options={options([across.name, chosen.panels?.name], 'none')}
            onChange={(name) => set(1, name)}
          />
          {sides.length > 2 && (
            <Select
              label="Panels"
              value={chosen.panels?.name ?? ''}
              options={options([across.name, chosen.down?.name], 'none')}
              onChange={(name) => set(2, name)}
            />
          )}
        </>
      )}
      {view === 'lines' && hasLearned && (
        <label className={styles.mode}>
          <input
            type="checkbox"
            checked={withLearned}
            onChange={({ target }) => setAsked({ ...asked, learned: target.checked })}
          />
          in those learned from
        </label>
      )}
    </span>
  );
  const others = sides.length - Object.keys(chosen).length;
  const rest = others > 0 ? ` ${plural(others, 'other setting')}: the best at each place.` : '';
  const Drawing = view === 'map' ? TriedMap : TriedCurve;
  return <Drawing {...props} {...{ controls, rest, withLearned }} sides={chosen} />;
}

/** Most values along, then down; what has few in panels. */
const usualOrder = (sides: { name: string; values: unknown[] }[]): string[] =>
  sides.toSorted((a, b) => b.values.length - a.values.length).map(({ name }) => name);
