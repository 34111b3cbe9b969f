import type { ShownNode, TreeShown } from '@rook-scale/core/families';
import type { CandidateDetail } from '../../../contract/candidates.ts';
import { showValue } from '../../../browser/format.ts';
import { nameOfTerm } from '../input-words.ts';

/** By what questions are put in words. */
export type TreeWords = Pick<CandidateDetail, 'inputs' | 'labels' | 'preparation'>;

/** What whoever goes to one side of a question has, in words. */
export function answerOf(
  { input = '', below, levels, gapsLeft }: ShownNode,
  side: 'left' | 'right',
  detail: TreeWords,
): string {
  const name = nameOfTerm(input, detail);
  const meaning = detail.inputs.find((one) => one.name === input);
  const isLeft = side === 'left';
  // Where nobody lacked it, which way a gap goes is no news.
  const gaps = isLeft === gapsLeft && hadGaps(meaning?.column, detail) ? ' or not known' : '';
  if (levels) {
    const others = (meaning?.levels ?? []).filter((level) => !levels.includes(level));
    const own = isLeft ? levels : others;
    return own.length === 0 ? `${name} not known` : `${name} ${listed(own)}${gaps}`;
  }
  if (below === undefined) return isLeft ? `${name} known` : `${name} not known`;
  const unit = meaning && !meaning.scale ? detail.labels[meaning.column]?.unit : '';
  const value = `${showValue(below)}${unit ? ` ${unit}` : ''}`;
  return isLeft ? `${name} below ${value}${gaps}` : `${name} ${value} or more${gaps}`;
}

function hadGaps(column: string | undefined, { preparation }: TreeWords): boolean {
  return preparation.steps.some(
    (one) =>
      one.step === 'keep gaps' &&
      one.learned.columns.some((own) => own.column === column && own.gaps > 0),
  );
}

function listed(levels: string[]): string {
  if (levels.length > 4) return `one of ${levels.length} levels`;
  return levels.length > 1
    ? `${levels.slice(0, -1).join(', ')} or ${levels.at(-1)!}`
    : (levels[0] ?? 'none');
}

/** The answers on the way to a node; those to one input that follow from another are left out. */
export function ruleOf(tree: TreeShown, way: number[], detail: TreeWords): string {
  const answers = way.slice(1).map((place, i) => {
    const parent = tree.nodes[way[i]];
    const side = parent.left === place ? ('left' as const) : ('right' as const);
    return { parent, side, text: answerOf(parent, side, detail) };
  });
  // A later "below 60" says more than "below 80" before it.
  const said = answers.filter(
    ({ parent, side }, i) =>
      !answers
        .slice(i + 1)
        .some(
          (later) =>
            later.parent.input === parent.input &&
            later.side === side &&
            parent.below !== undefined &&
            later.parent.below !== undefined,
        ),
  );
  return said.map(({ text }) => text).join(', ') || 'All patients';
}
