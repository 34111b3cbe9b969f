import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { isCalledAt } from '@rook-scale/core/outcome';
import type { CandidateLine } from '../../contract/candidates.ts';
import { reasonRoutes, type RulesView } from '../../contract/reasons.ts';
import { useAddress } from '../../browser/address.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { plural, showCount, showPercent, showScore } from '../../browser/format.ts';
import { Notice, NumberField, SavedTable } from '../../components/index.ts';
import {
  Leaves,
  parentsOf,
  ruleOf,
  Strata,
  strataOf,
  wayTo,
  type TreeWords,
} from '../facets/index.ts';
import styles from './Reasons.module.css';

interface Props {
  studyId: string;
  line: CandidateLine;
}

const usualLeaves = 8;

/** A small tree that says nearly what the candidate says, and how far it can be believed. */
export function InRules({ studyId, line }: Props) {
  const [asked, setAsked] = useAddress('leaves');
  const number = Number(asked);
  const leaves = Number.isInteger(number) && number >= 2 && number <= 32 ? number : usualLeaves;
  const { data: found, error } = useQuery({
    queryKey: ['rules', line.id, line.fittedAt, line.results?.cutoff, leaves],
    queryFn: () => ask(reasonRoutes.rules, { candidate: line.id }, { query: { leaves } }),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });
  return (
    <>
      <div className={styles.asked}>
        <NumberField
          label="Rules at most"
          value={leaves}
          least={2}
          most={32}
          whole
          onChange={(to) => setAsked(String(to), 'replace')}
        />
      </div>
      {error && <Notice>{messageOf(error)}</Notice>}
      {!found && !error && <p role="status">Growing a tree that follows it</p>}
      {found && <Shown key={`${line.id} ${found.leaves}`} {...{ studyId, line, found }} />}
    </>
  );
}

function Shown({ studyId, line, found }: Props & { found: RulesView }) {
  const [selected, setSelected] = useState(0);
  const [root, setRoot] = useState(0);
  const { dictionary } = useDictionary(studyId);
  const { tree, preparation, outcome, cutoff } = found;
  const words: TreeWords = {
    inputs: preparation.inputs,
    preparation,
    labels: Object.fromEntries(
      dictionary.map(({ name, label, unit, kind }) => [name, { label, unit, kind }]),
    ),
  };
  const parents = parentsOf(tree);
  const size = tree.chosen;
  const isCalled = isCalledAt(cutoff, outcome.cases);
  const mean = (place: number) => tree.nodes[place].mean!;
  const says = (place: number) =>
    `${showScore(mean(place), outcome)} in ${showCount(Math.round(tree.nodes[place].patients))}`;
  const means = tree.nodes.map((_, place) => mean(place));
  const isShare = outcome.choice.kind !== 'number';
  const [least, most] = isShare ? [0, 1] : [Math.min(...means), Math.max(...means)];
  const leaves = strataOf(tree, size, 0)
    .filter(({ isLeaf }) => isLeaf)
    .map(({ place }) => ({
      place,
      rule: ruleOf(tree, wayTo(parents, place), words),
      patients: tree.nodes[place].patients,
      given: showScore(mean(place), outcome),
      call: isCalled(mean(place)) ? 'call in' : 'leave alone',
    }))
    .toSorted((a, b) => mean(b.place) - mean(a.place));
  return (
    <>
      <p>{faithWords(found, line.name)}</p>
      <div className={styles.tree}>
        <Strata
          {...{ tree, size, root, selected, says }}
          detail={words}
          folded={none}
          marked={none}
          fills={(place) => [
            {
              share: most > least ? (mean(place) - least) / (most - least) : 0,
              colour: isShare ? 'var(--event)' : 'var(--none)',
            },
          ]}
          onSelect={setSelected}
          onRoot={(place) => {
            setRoot(place);
            setSelected(place);
          }}
        />
      </div>
      <SavedTable fileName="in-rules">
        <Leaves
          rows={leaves}
          heads={{ given: heads[outcome.choice.kind] }}
          selected={selected}
          onSelect={setSelected}
        />
      </SavedTable>
      <p className="quiet">
        The tree is grown on what {line.name} says of its{' '}
        {plural(found.patients, 'development patient')}, not on what happened to them. It is shown
        to be read; patients are scored by the candidate.
      </p>
    </>
  );
}

const none: ReadonlySet<number> = new Set();

const heads = { event: 'Mean risk', levels: 'Mean case share', number: 'Mean' };

function faithWords({ leaves, patients, faithful }: RulesView, name: string): string {
  const { rSquared, alike, calledAlone, treeAlone } = faithful;
  const explained =
    rSquared === undefined
      ? 'All are told the same.'
      : `They explain ${showPercent(Math.max(0, rSquared))} of how what is said varies (R², out of fold).`;
  const others =
    calledAlone + treeAlone === 0
      ? ''
      : ` ${plural(calledAlone, 'patient is', 'patients are')} called by ${name} alone, ${showCount(treeAlone)} by the rules alone.`;
  const follows =
    alike / patients >= 0.95
      ? 'Rules follow it closely.'
      : alike / patients >= 0.85
        ? 'Rules follow it roughly.'
        : 'Rules do not follow it: do not explain it by them.';
  return `${plural(leaves, 'rule')}: of ${plural(patients, 'patient')} whom such trees were not grown on, ${showPercent(alike / patients)} are called alike.${others} ${explained} ${follows}`;
}
