import * as z from 'zod';
import {
  count,
  hasSupport,
  joined,
  nobody,
  supportOf,
  supportSchema,
  unlikeness,
  type Backing,
  type Standing,
} from '../support.ts';
import { isCodes, type WorkingColumn } from '../working.ts';
import { byName } from './by-name.ts';
import { changeEach } from './chosen-columns.ts';
import { relevelled } from './rename-levels.ts';
import type { Step } from './step.ts';

const pooledColumn = z.object({
  column: z.string(),
  /** Name of the level that each stands for from here on; levels that stay are not named. */
  into: byName<string>(),
  /** The levels as they were, with who had them. */
  thin: z.array(supportSchema.extend({ level: z.string() })),
});
/** Levels of one column that too few patients have, and what each is taken for instead. */
type PooledColumn = z.infer<typeof pooledColumn>;

export const poolLevels: Step<PooledColumn[]> = {
  name: 'Pool levels',
  about: 'Levels that too few patients have are taken together.',
  learned: z.array(pooledColumn),
  learn: (columns, { backing }) => learn(columns, backing),
  apply: (fitted, columns) => apply(fitted, columns),
  effects: (pooled) =>
    pooled.flatMap(({ column, into, thin }) =>
      thin.map(({ level, ...support }) => ({
        what: 'level pooled' as const,
        column,
        level,
        into: into[level],
        ...support,
      })),
    ),
};

/**
 * Pools levels that too few patients (or too few of one outcome or the other) have. Of an ordered
 * column each joins its neighbour, the one whose outcomes are more alike. Of another, the thin
 * levels become one where they are enough together, or else join the level whose outcomes are most
 * like theirs.
 */
function learn(columns: WorkingColumn[], backing: Backing): PooledColumn[] {
  return columns.flatMap((column): PooledColumn[] => {
    if (column.type !== 'coded') return [];
    const blocks = countLevels(column, backing);
    const thin = blocks.filter((block) => !hasSupport(block));
    if (thin.length === 0 || blocks.length < 2) return [];
    const pooled = column.ordered ? poolNeighbours(blocks) : poolOthers(blocks);
    const into: Record<string, string> = Object.create(null) as Record<string, string>;
    for (const block of pooled)
      if (block.levels.length > 1) for (const level of block.levels) into[level] = block.name;
    return [
      {
        column: column.source,
        into: { ...into },
        thin: thin.map((block) => ({ level: block.levels[0], ...supportOf(backing, block) })),
      },
    ];
  });
}

/** The columns with their thin levels under the names they were pooled into. */
const apply = (fitted: PooledColumn[], columns: WorkingColumn[]): WorkingColumn[] =>
  changeEach(fitted, columns, isCodes, (column, { into }) => relevelled(column, into));

interface Block extends Standing {
  levels: string[];
  name: string;
}

function countLevels(column: WorkingColumn & { type: 'coded' }, backing: Backing): Block[] {
  const standings = column.levels.map(() => nobody(backing));
  for (let i = 0; i < column.codes.length; i++) {
    const code = column.codes[i];
    if (code >= 0) count(standings[code], backing, i);
  }
  return column.levels.flatMap((level, code): Block[] =>
    standings[code].patients > 0 ? [{ levels: [level], name: level, ...standings[code] }] : [],
  );
}

function poolNeighbours(levels: Block[]): Block[] {
  const blocks = [...levels];
  for (;;) {
    const at = blocks.findIndex((block) => !hasSupport(block));
    if (at < 0 || blocks.length === 1) return blocks;
    const beside = [at - 1, at + 1].filter((place) => place >= 0 && place < blocks.length);
    const nearest = mostLike(
      blocks[at],
      beside.map((place) => blocks[place]),
    );
    const other = beside.find((place) => blocks[place] === nearest)!;
    const [first, second] = at < other ? [at, other] : [other, at];
    blocks.splice(first, 2, join(blocks[first], blocks[second]));
  }
}

function poolOthers(blocks: Block[]): Block[] {
  const thin = blocks.filter((block) => !hasSupport(block));
  const standing = blocks.filter(hasSupport);
  const all = thin.reduce(join);
  const together = thin.length > 1 ? { ...all, name: `other (${all.levels.join(', ')})` } : all;
  if (hasSupport(together) || standing.length === 0) return [...standing, together];
  const nearest = mostLike(together, standing);
  return standing.map((block) => (block === nearest ? join(block, together) : block));
}

/** The block whose outcomes are most alike; of equals the one with more patients. */
function mostLike(block: Standing, candidates: Block[]): Block {
  return candidates.reduce((best, other) => {
    const [distance, least] = [unlikeness(other, block), unlikeness(best, block)];
    return distance < least || (distance === least && other.patients > best.patients)
      ? other
      : best;
  });
}

function join(a: Block, b: Block): Block {
  const levels = [...a.levels, ...b.levels];
  return { levels, name: levels.join(' or '), ...joined(a, b) };
}
