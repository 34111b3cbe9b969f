import { useMemo, useState } from 'react';
import { wilsonInterval } from '@rook-scale/core/measures';
import type { ShownNode, TreeShown } from '@rook-scale/core/families';
import { plural, showCost, showCount, showInUnit, showPercent } from '../../../browser/format.ts';
import { Button } from '../../../components/index.ts';
import type { FacetProps } from '../Facets.tsx';
import { nameOfTerm } from '../input-words.ts';
import { useCutoff } from '../use-cutoff.ts';
import { callsOf, type NodeCalls } from './calls.ts';
import { Leaves, type LeafRow } from './Leaves.tsx';
import { Overview } from './Overview.tsx';
import { PatientWay, type Patient } from './PatientWay.tsx';
import { casesIn, leafOf, parentsOf, strataOf, wayTo } from './shape.ts';
import { SizeRuler } from './SizeRuler.tsx';
import { Strata } from './Strata.tsx';
import { ruleOf } from './words.ts';
import styles from './Tree.module.css';

/** A tree: its sizes, the questions as strata, and the leaves as rules. */
export function TreeView({
  value: tree,
  detail,
  line,
  studyId,
  costs,
  onFitWith,
}: FacetProps<'tree'>) {
  const [size, setSize] = useState(tree.chosen);
  const [root, setRoot] = useState(0);
  const [chosenNode, setSelected] = useState(0);
  const [sought, setSought] = useState('');
  const [patient, setPatient] = useState<Patient>();
  const [folded, setFolded] = useState<ReadonlySet<number>>(new Set());
  const cutoff = useCutoff(line);
  const parents = useMemo(() => parentsOf(tree), [tree]);
  const isCase = useMemo(() => casesOf(tree, line.outcome?.cases), [tree, line.outcome]);
  const all = useMemo(() => strataOf(tree, size, 0, folded), [tree, size, folded]);
  // A smaller tree may have lost what was looked at: the last that is left on the way stands for it.
  const there = new Set(all.map(({ place }) => place));
  const within = (place: number) => wayTo(parents, place).findLast((one) => there.has(one))!;
  const selected = patient ? leafOf(tree, size, patient.cells) : within(chosenNode);
  const shownRoot = within(root);
  const says = (place: number) => saysOf(tree.nodes[place], isCase, unitOf(line));
  // What is shown of balanced patients is not what risks are.
  const isBalanced = line.warnings.some(({ code }) => code === 'balanced');
  const calls =
    costs && !isBalanced
      ? callsOf(tree, isCase, (place) => shareGiven(tree, place, isCase), cutoff, costs)
      : undefined;
  const asked = inputsAsked(all);
  const marked = new Set(
    all.flatMap(({ place, node, isLeaf }) => (!isLeaf && node.input === sought ? [place] : [])),
  );
  const rows = all
    .filter(({ isLeaf }) => isLeaf)
    .map(({ place }): LeafRow => {
      const node = tree.nodes[place];
      const rule = ruleOf(tree, wayTo(parents, place), detail);
      if (node.mean !== undefined)
        return { place, rule, patients: node.patients, given: showInUnit(node.mean, unitOf(line)) };
      const cases = casesIn(node, isCase);
      return {
        place,
        rule,
        patients: node.patients,
        cases,
        ...(calls && callWords(calls(place))),
        given: showPercent(shareGiven(tree, place, isCase)),
        share: shareGiven(tree, place, isCase),
        interval: wilsonInterval(cases, node.patients),
      };
    })
    .toSorted((a, b) => orderOf(tree, b, isCase) - orderOf(tree, a, isCase));
  const choose = (place: number) => {
    setPatient(undefined);
    setSelected(place);
  };
  const chosen = all.find(({ place }) => place === selected);
  const canFold = chosen?.isLeaf === false && selected !== shownRoot;
  const caption = captionOf(tree, rows, all.length - rows.length, asked.length);
  return (
    <div className={styles.tree}>
      <SizeRuler
        tree={tree}
        size={size}
        leaves={rows.length}
        onSize={setSize}
        onFit={(leaves) => onFitWith({ size: 'leaves', leaves })}
      />
      <div className={styles.bar}>
        <label>
          Questions about{' '}
          <select value={sought} onChange={({ target }) => setSought(target.value)}>
            <option value="">any predictor</option>
            {asked.map((input) => (
              <option key={input} value={input}>
                {nameOfTerm(input, detail)}
              </option>
            ))}
          </select>
        </label>
        {sought && <span className="quiet">{plural(marked.size, 'question')}, outlined</span>}
        {isAsTheyAre(detail) && (
          <PatientWay
            studyId={studyId}
            patient={patient}
            onPatient={(one) => {
              setPatient(one);
              setFolded(new Set());
              setRoot(0);
            }}
          />
        )}
        {canFold && (
          <Button look="link" onClick={() => setFolded(new Set([...folded, selected]))}>
            Fold up what is beneath
          </Button>
        )}
        {folded.size > 0 && (
          <Button look="link" onClick={() => setFolded(new Set())}>
            Unfold all
          </Button>
        )}
        {shownRoot !== 0 && (
          <>
            <Button look="link" onClick={() => setRoot(parents[shownRoot])}>
              One question back
            </Button>
            <Button look="link" onClick={() => setRoot(0)}>
              The whole tree
            </Button>
          </>
        )}
      </div>
      {shownRoot !== 0 && (
        <Overview
          tree={tree}
          size={size}
          root={shownRoot}
          fills={fillsOf(tree, isCase)}
          onRoot={(place) => {
            // What was folded up may be just what is pressed.
            setFolded(new Set());
            setRoot(place);
            choose(place);
          }}
        />
      )}
      <Strata
        tree={tree}
        detail={detail}
        size={size}
        root={shownRoot}
        folded={folded}
        selected={selected}
        marked={marked}
        fills={fillsOf(tree, isCase)}
        says={says}
        onSelect={choose}
        onRoot={(place) => {
          setRoot(place);
          choose(place);
        }}
      />
      <p className={styles.said}>
        {patient && <strong>{patient.who}: </strong>}
        <strong>{ruleOf(tree, wayTo(parents, selected), detail)}</strong>: {says(selected)}.{' '}
        {calls && costWords(calls(selected))}
        <span className="quiet">{caption} Press a stratum twice to let it fill the drawing.</span>
      </p>
      <Leaves
        rows={rows}
        heads={tree.kind === 'number' ? { given: 'Mean' } : { cases: 'Cases', given: 'Risk' }}
        selected={selected}
        onSelect={choose}
      />
    </div>
  );
}

const callWords = ({ isCalled, called, left }: NodeCalls) => ({
  call: isCalled ? 'call in' : 'leave alone',
  cost: showCost(isCalled ? called : left),
});

const costWords = ({ called, left }: NodeCalls) =>
  `Called in they cost ${showCost(called)}, left alone ${showCost(left)}. `;

/** Whether questions are about columns as they stand in the table, not about what steps made of them. */
const isAsTheyAre = ({ preparation, inputs, labels }: FacetProps<'tree'>['detail']): boolean =>
  preparation.steps.every(({ step }) => step === 'keep gaps') &&
  inputs.every(
    ({ kind, column }) =>
      kind === 'levels' || (kind === 'number' && labels[column]?.kind === 'number'),
  );

/** Which of the counted levels are cases. */
function casesOf(
  { kind, levels = [] }: TreeShown,
  cases: NonNullable<FacetProps<'tree'>['line']['outcome']>['cases'] | undefined,
): boolean[] {
  if (kind === 'event') return [false, true];
  return levels.map((level) => cases?.kind === 'levels' && cases.levels.includes(level));
}

/** The share of cases that whoever ends there is given: drawn to that of all. */
function shareGiven({ nodes, drawn }: TreeShown, place: number, isCase: boolean[]): number {
  const [own, whole] = [nodes[place], nodes[0]];
  const all = casesIn(whole, isCase) / whole.patients;
  return (casesIn(own, isCase) + drawn * all) / (own.patients + drawn);
}

const unitOf = (line: FacetProps<'tree'>['line']) => line.outcome?.unit ?? '';

function saysOf(node: ShownNode, isCase: boolean[], unit: string): string {
  const patients = showCount(Math.round(node.patients));
  if (node.mean !== undefined) return `${showInUnit(node.mean, unit)} in ${patients}`;
  return `${showPercent(casesIn(node, isCase) / node.patients)} of ${patients}`;
}

const event = 'var(--event)';
const steel = 'var(--none)';

/** Filled from the left by the share of cases, or by how far a mean lies between the least and the greatest. */
function fillsOf({ nodes, kind }: TreeShown, isCase: boolean[]) {
  const means = kind === 'number' ? nodes.map(({ mean }) => mean!) : [];
  const [least, most] = [Math.min(...means), Math.max(...means)];
  return (place: number) => {
    const node = nodes[place];
    return node.mean === undefined
      ? [{ share: casesIn(node, isCase) / node.patients, colour: event }]
      : [{ share: most > least ? (node.mean - least) / (most - least) : 0, colour: steel }];
  };
}

function orderOf(tree: TreeShown, { place }: LeafRow, isCase: boolean[]): number {
  return tree.nodes[place].mean ?? shareGiven(tree, place, isCase);
}

function inputsAsked(all: ReturnType<typeof strataOf>): string[] {
  const counts = new Map<string, number>();
  for (const { node, isLeaf } of all)
    if (!isLeaf) counts.set(node.input!, (counts.get(node.input!) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]).map(([input]) => input);
}

function captionOf(
  tree: TreeShown,
  rows: LeafRow[],
  questions: number,
  predictors: number,
): string {
  if (questions === 0) return 'No question is asked: everybody is given what all have.';
  const about = `${plural(questions, 'question')} about ${plural(predictors, 'predictor')} part ${plural(Math.round(tree.nodes[0].patients), 'patient')} into ${plural(rows.length, 'leaf', 'leaves')}`;
  return `${about}; ${tree.kind === 'number' ? 'means' : 'risks'} from ${rows.at(-1)!.given} to ${rows[0].given}.`;
}
