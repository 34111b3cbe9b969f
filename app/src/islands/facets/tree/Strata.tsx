import { useRef, type KeyboardEvent } from 'react';
import type { TreeShown } from '@rook-scale/core/families';
import { answerOf, type TreeWords } from './words.ts';
import { parentsOf, strataOf, wayTo, type Stratum } from './shape.ts';
import styles from './Tree.module.css';

interface Props {
  tree: TreeShown;
  detail: TreeWords;
  size: number;
  /** The node that fills the drawing. */
  root: number;
  /** Nodes of which nothing beneath is drawn. */
  folded: ReadonlySet<number>;
  selected: number;
  /** Nodes that are told apart: those that ask about the input that is searched for. */
  marked: ReadonlySet<number>;
  /** Parts of a stratum from the left, which add up to 1: those that are filled come with their colour. */
  fills: (place: number) => { share: number; colour: string }[];
  /** What a stratum says of its patients. */
  says: (place: number) => string;
  onSelect: (place: number) => void;
  onRoot: (place: number) => void;
}

const width = 760;
const height = 300;
const gap = 2;
/** Below it words do not fit. */
const line = 13;

/** A tree as strata: a column for each question, as high as its patients, filled by who they are. */
export function Strata(props: Props) {
  const { tree, detail, size, root, folded, selected, marked, fills, says, onSelect, onRoot } =
    props;
  const group = useRef<SVGGElement>(null);
  const strata = strataOf(tree, size, root, folded);
  const depth = Math.max(...strata.map((one) => one.depth)) + 1;
  const column = width / depth;
  const scale = height / tree.nodes[root].patients;
  const parents = parentsOf(tree);
  const way = new Set(wayTo(parents, selected));
  const move = (event: KeyboardEvent, { place, isLeaf, node }: Stratum) => {
    const parent = parents[place];
    const sibling = () => {
      if (place === root) return undefined;
      const { left, right } = tree.nodes[parent];
      return left === place ? right : left;
    };
    const to: Record<string, number | undefined> = {
      ArrowRight: isLeaf ? undefined : node.left,
      ArrowLeft: place === root ? undefined : parent,
      ArrowDown: sibling(),
      ArrowUp: sibling(),
    };
    if (event.key in to) {
      event.preventDefault();
      const next = to[event.key];
      if (next === undefined) return;
      onSelect(next);
      requestAnimationFrame(() =>
        group.current?.querySelector<SVGElement>(`[data-node="${next}"]`)?.focus(),
      );
    } else if (event.key === 'Enter' && !isLeaf) onRoot(place);
    else if (event.key === 'Escape' && root !== 0) {
      event.stopPropagation();
      onRoot(parents[root]);
    }
  };
  const inside = strata.some(({ place }) => place === selected) ? selected : root;
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className={styles.strata}>
      <g ref={group} role="tree" aria-label="The tree, one question after another">
        {strata.map((one) => {
          const { place, node, above, isLeaf } = one;
          const x = one.depth * column;
          const wide = (isLeaf ? width - x : column) - gap;
          const y = above * scale;
          const high = Math.max(node.patients * scale - (node.patients * scale > 3 ? 1 : 0), 0.4);
          let from = x;
          const words = wordsOf(tree, parents, one, detail);
          return (
            <g
              key={place}
              role="treeitem"
              aria-level={one.depth + 1}
              aria-selected={place === selected}
              aria-expanded={folded.has(place) ? false : isLeaf ? undefined : true}
              aria-label={`${words}: ${says(place)}`}
              tabIndex={place === inside ? 0 : -1}
              data-node={place}
              className={styles.stratum}
              onClick={() => (place === selected && !isLeaf ? onRoot(place) : onSelect(place))}
              onKeyDown={(event) => move(event, one)}
            >
              <title>{`${words}\n${says(place)}`}</title>
              <rect x={x} y={y} width={wide} height={high} className={styles.ground} />
              {fills(place).map(({ share, colour }, i) => {
                const own = share * wide;
                const rect = (
                  <rect key={i} x={from} y={y} width={own} height={high} fill={colour} />
                );
                from += own;
                return rect;
              })}
              {(way.has(place) || marked.has(place)) && (
                <rect
                  x={x + 0.75}
                  y={y + 0.75}
                  width={Math.max(wide - 1.5, 1)}
                  height={Math.max(high - 1.5, 0.5)}
                  className={marked.has(place) ? styles.marked : styles.way}
                />
              )}
              {high >= line && (
                <text x={x + 6} y={y + Math.min(high / 2 + 4, 16)} className={styles.words}>
                  {fitting(says(place), words, wide - 12)}
                </text>
              )}
            </g>
          );
        })}
      </g>
    </svg>
  );
}

function wordsOf(
  tree: TreeShown,
  parents: Int32Array,
  { place }: Stratum,
  detail: TreeWords,
): string {
  const parent = parents[place];
  if (parent < 0) return 'All';
  return answerOf(tree.nodes[parent], tree.nodes[parent].left === place ? 'left' : 'right', detail);
}

/** Figures first, then as much of the words as there is room for, at about six units a letter. */
function fitting(figures: string, words: string, room: number): string {
  const letters = Math.floor(room / 5.9);
  const all = `${figures} · ${words}`;
  if (all.length <= letters) return all;
  if (letters > figures.length + 8) return `${all.slice(0, letters - 1)}…`;
  const [share] = figures.split(' ');
  return share.length <= letters ? share : '';
}
