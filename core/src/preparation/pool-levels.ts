import { hasSupport, type Support } from './support.ts';
import type { WorkingColumn } from './working.ts';

/** Levels of one column that too few patients have, and what each is taken for instead. */
export interface PooledColumn {
  column: string;
  /** Name of the level that each stands for from here on; levels that stay are not named. */
  into: Record<string, string>;
  /** The levels as they were, with who had them. */
  thin: ({ level: string } & Support)[];
}

/**
 * Pools levels that too few patients (or too few with or without the event) have. Of an ordered
 * column each joins its neighbour, the one whose share of events is nearer. Of another, the thin
 * levels become one where they are enough together, or else join the level whose share of events is
 * nearest to theirs.
 *
 * @param events 1 or 0 a patient
 */
export function learnPooling(columns: WorkingColumn[], events: ArrayLike<number>): PooledColumn[] {
  return columns.flatMap((column): PooledColumn[] => {
    if (column.type !== 'coded') return [];
    const blocks = countLevels(column, events);
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
        thin: thin.map(({ levels, patients, events: withEvent }) => ({
          level: levels[0],
          patients,
          events: withEvent,
        })),
      },
    ];
  });
}

/** The columns with their thin levels under the names they were pooled into. */
export function poolLevels(fitted: PooledColumn[], columns: WorkingColumn[]): WorkingColumn[] {
  const known = new Map(fitted.map((entry) => [entry.column, entry]));
  return columns.map((column) => {
    const entry = known.get(column.source);
    if (!entry || column.type !== 'coded') return column;
    const names = new Map(Object.entries(entry.into));
    const levels: string[] = [];
    const codeOf = column.levels.map((level) => {
      const name = names.get(level) ?? level;
      if (!levels.includes(name)) levels.push(name);
      return levels.indexOf(name);
    });
    const codes = new Int32Array(column.codes.length);
    for (let i = 0; i < codes.length; i++)
      codes[i] = column.codes[i] < 0 ? -1 : codeOf[column.codes[i]];
    return { ...column, codes, levels };
  });
}

interface Block extends Support {
  levels: string[];
  name: string;
}

function countLevels(column: WorkingColumn & { type: 'coded' }, events: ArrayLike<number>) {
  const patients = new Int32Array(column.levels.length);
  const withEvent = new Int32Array(column.levels.length);
  for (let i = 0; i < column.codes.length; i++) {
    const code = column.codes[i];
    if (code < 0) continue;
    patients[code]++;
    withEvent[code] += events[i];
  }
  return column.levels.flatMap((level, code): Block[] =>
    patients[code] > 0
      ? [{ levels: [level], name: level, patients: patients[code], events: withEvent[code] }]
      : [],
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

/** The block whose share of events is nearest; of equals the one with more patients. */
function mostLike(block: Support, others: Block[]): Block {
  const distance = (other: Block) => Math.abs(share(other) - share(block));
  return others.reduce((best, other) =>
    distance(other) < distance(best) ||
    (distance(other) === distance(best) && other.patients > best.patients)
      ? other
      : best,
  );
}

/** Drawn a little towards a half, so that one patient alone is not taken for certain. */
function share({ patients, events }: Support): number {
  return (events + 0.5) / (patients + 1);
}

function join(a: Block, b: Block): Block {
  const levels = [...a.levels, ...b.levels];
  return {
    levels,
    name: levels.join(' or '),
    patients: a.patients + b.patients,
    events: a.events + b.events,
  };
}
