import { useState } from 'react';
import {
  canPredict,
  display,
  isAboutRows,
  isCoded,
  type DictionaryEntry,
} from '@rook-scale/core/table';
import { useAddress } from '../../../browser/address.ts';
import { plural, showPercent } from '../../../browser/format.ts';
import { Button, Name } from '../../../components/index.ts';
import type { SectionProps } from '../DesignPage.tsx';
import { KeptByName } from '../KeptByName.tsx';
import { CompareSets } from './CompareSets.tsx';
import { MarkButtons } from './MarkButtons.tsx';
import { PickBy } from './PickBy.tsx';
import { PredictorTable } from './PredictorTable.tsx';
import { useRelations } from './use-relations.ts';
import type { ListProps, MarkName, Offered } from './offered.ts';
import page from '../Design.module.css';
import styles from './Predictors.module.css';

/** More columns than this are found by searching. */
const mostShown = 400;

/** The columns a model may use; those of a kind no model can use are not offered. */
export function Predictors(props: SectionProps & { studyId: string }) {
  const { cohort, design, change, studyId, state } = props;
  const [search, setSearch] = useState('');
  const [view = 'list', setView] = useAddress('predictors');
  const [comparing, setComparing] = useState(false);
  const chosen = new Set(design.predictors);
  const relations = useRelations(studyId, state);
  const offered = cohort.dictionary.flatMap((entry, i): Offered[] =>
    canPredict(entry.kind) && !isAboutRows(entry) && entry.name !== design.outcome
      ? [
          {
            entry,
            summary: cohort.summaries[i],
            missing: cohort.summaries[i].missing / Math.max(1, cohort.rowCount),
            relation: relations?.get(entry.name),
          },
        ]
      : [],
  );
  const set = (names: Set<string>) =>
    change({
      predictors: offered.map(({ entry }) => entry.name).filter((name) => names.has(name)),
    });
  const toggle = (name: string) => {
    const next = new Set(chosen);
    if (!next.delete(name)) next.add(name);
    set(next);
  };
  const marked = { needed: new Set(design.needed), fixed: new Set(design.fixed) };
  const mark = (what: MarkName, name: string) => {
    const next = new Set(marked[what]);
    if (!next.delete(name)) next.add(name);
    change({ [what]: design.predictors.filter((one) => next.has(one)) });
  };
  const found = offered.filter(({ entry }) => matches(entry, search));
  const shown = found.slice(0, mostShown);
  // "all" and "none" are about what is seen: with a search, the others stay as they are.
  const setSeen = (on: boolean) => {
    const next = new Set(chosen);
    for (const { entry } of found)
      if (on) next.add(entry.name);
      else next.delete(entry.name);
    set(next);
  };
  const list = { shown, chosen, marked, onToggle: toggle, onMark: mark };
  return (
    <section className={page.section} id="predictors" aria-labelledby="predictors-head">
      <div className={styles.head}>
        <h2 id="predictors-head">Predictors</h2>
        <p className="quiet">
          {chosen.size} of {offered.length}
        </p>
        <Button look="link" onClick={() => setSeen(true)}>
          all
        </Button>
        <Button look="link" onClick={() => setSeen(false)}>
          none
        </Button>
        <input
          type="search"
          className={styles.search}
          aria-label="Search the predictors"
          placeholder="search"
          value={search}
          onChange={({ target }) => setSearch(target.value)}
        />
        <Button
          look="link"
          onClick={() => setView(view === 'list' ? 'figures' : undefined, 'replace')}
        >
          {view === 'list' ? 'with figures' : 'names only'}
        </Button>
        <KeptByName
          what="predictors"
          kept={design.predictorSets}
          isInForce={({ predictors }) => isSame(predictors, design.predictors)}
          canKeep={chosen.size > 0}
          onKeep={(name) =>
            change({
              predictorSets: [
                ...design.predictorSets.filter((one) => one.name !== name),
                { name, predictors: design.predictors },
              ],
            })
          }
          onTake={({ predictors }) => set(new Set(predictors))}
          onForget={(name) =>
            change({ predictorSets: design.predictorSets.filter((one) => one.name !== name) })
          }
        />
        {design.predictorSets.length > 0 && (
          <Button look="link" onClick={() => setComparing(true)}>
            compare
          </Button>
        )}
      </div>
      {view === 'list' ? <NameList {...list} /> : <PredictorTable {...list} studyId={studyId} />}
      {found.length === 0 && <p className="quiet">No column is called like “{search}”.</p>}
      {found.length > shown.length && (
        <p className="quiet">
          {plural(found.length - shown.length, 'column')} more: search to find them.
        </p>
      )}
      <PickBy studyId={studyId} offered={offered} onPick={(names) => set(new Set(names))} />
      {comparing && (
        <CompareSets
          inForce={design.predictors}
          sets={design.predictorSets}
          offered={offered}
          onClose={() => setComparing(false)}
        />
      )}
    </section>
  );
}

/** Names in columns, those of one kind under one another. */
function NameList({ shown, ...props }: ListProps) {
  const groups = [
    { title: 'Numbers', of: ({ entry }: Offered) => !isCoded(entry.kind) },
    { title: 'Levels', of: ({ entry }: Offered) => isCoded(entry.kind) },
  ];
  // Few columns need no order.
  if (shown.length <= 40) return <Names shown={shown} {...props} />;
  return groups.map(({ title, of }) => {
    const own = shown.filter(of);
    return own.length > 0 ? (
      <div key={title}>
        <h3>
          {title} <span className="quiet">{own.length}</span>
        </h3>
        <Names shown={own} {...props} />
      </div>
    ) : null;
  });
}

function Names({ shown, chosen, marked, onToggle, onMark }: ListProps) {
  return (
    <ul className={page.predictors}>
      {shown.map(({ entry, missing }) => (
        <li key={entry.name}>
          <label title={entry.name}>
            <input
              type="checkbox"
              checked={chosen.has(entry.name)}
              onChange={() => onToggle(entry.name)}
            />
            <span className={page.predictor}>
              <Name text={display(entry)} title={entry.name} />
            </span>
            {missing > 0 && (
              <span className={page.gaps} title="Share of patients in which it is not known">
                {showPercent(missing)} gaps
              </span>
            )}
          </label>
          {chosen.has(entry.name) && <MarkButtons {...{ entry, marked, onMark }} />}
        </li>
      ))}
    </ul>
  );
}

function matches({ name, label, note }: DictionaryEntry, search: string): boolean {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const text = `${name} ${label} ${note ?? ''}`.toLowerCase();
  return words.every((word) => text.includes(word));
}

function isSame(a: string[], b: string[]): boolean {
  return a.length === b.length && a.every((name) => b.includes(name));
}
