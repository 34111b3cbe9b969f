import type { TreeShown } from '@rook-scale/core/families';
import { plural } from '../../../browser/format.ts';
import { strataOf } from './shape.ts';
import styles from './Tree.module.css';

interface Props {
  tree: TreeShown;
  size: number;
  /** The node that fills the drawing beneath. */
  root: number;
  fills: (place: number) => { share: number; colour: string }[];
  onRoot: (place: number) => void;
}

const width = 760;
const height = 64;

/** The whole tree without words, with a frame around what fills the drawing; a press goes elsewhere. */
export function Overview({ tree, size, root, fills, onRoot }: Props) {
  const strata = strataOf(tree, size, 0);
  const depth = Math.max(...strata.map((one) => one.depth)) + 1;
  const column = width / depth;
  const scale = height / tree.nodes[0].patients;
  const shown = strata.find(({ place }) => place === root) ?? strata[0];
  const leaves = strata.filter(({ isLeaf }) => isLeaf).length;
  return (
    <svg
      viewBox={`0 -1 ${width} ${height + 2}`}
      className={styles.strata}
      role="img"
      aria-label={`The whole tree, ${plural(leaves, 'leaf', 'leaves')}; framed, ${plural(Math.round(shown.node.patients), 'patient')} at question ${shown.depth + 1}`}
    >
      {strata.map(({ place, node, depth: at, above, isLeaf }) => {
        const x = at * column;
        const wide = (isLeaf ? width - x : column) - 1;
        const y = above * scale;
        const high = Math.max(node.patients * scale - 0.3, 0.2);
        let from = x;
        return (
          <g
            key={place}
            className={styles.small}
            onClick={() => !isLeaf && onRoot(place)}
            data-node={place}
          >
            <rect x={x} y={y} width={wide} height={high} className={styles.ground} />
            {fills(place).map(({ share, colour }, i) => {
              const own = share * wide;
              from += own;
              return <rect key={i} x={from - own} y={y} width={own} height={high} fill={colour} />;
            })}
          </g>
        );
      })}
      <rect
        x={shown.depth * column}
        y={shown.above * scale}
        width={width - shown.depth * column - 1}
        height={Math.max(shown.node.patients * scale, 2)}
        className={styles.frame}
      />
    </svg>
  );
}
