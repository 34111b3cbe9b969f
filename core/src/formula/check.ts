import type { DictionaryEntry } from '../table/index.ts';
import { FormulaError } from './error.ts';
import { bandNames, functions, plainNumber } from './functions.ts';
import { isConstant, parse, type Node } from './parse.ts';
import { dayOfText, typeOfEntry, type ValueType } from './vector.ts';

/** A formula that is understood: what it is made of, what it gives, and which columns it reads. */
export interface Formula {
  node: Node;
  type: ValueType;
  /** Names of the columns it reads. */
  uses: string[];
}

export type Known = Pick<DictionaryEntry, 'name' | 'kind' | 'levels'>;

/** Understands a formula over these columns, or throws a FormulaError that says where it fails. */
export function readFormula(text: string, columns: Known[]): Formula {
  const node = parse(text);
  if (operationsIn(node) > mostOperations)
    throw new FormulaError(
      `A formula can have at most ${mostOperations} operations. Derive a column for a part of it first.`,
      0,
      text.length,
    );
  const checker = new Checker(columns);
  const type = checker.typeOf(node);
  return { node, type, uses: [...checker.uses] };
}

/** Each goes over all patients once; values of a list behind "in" do not count. */
const mostOperations = 1000;
/** Operations times patients: some seconds of one processor. */
const mostWork = 5e8;

/** Refuses a formula that would take too long on this number of patients. */
export function mindWork({ node }: Formula, rows: number): void {
  if (operationsIn(node) * rows > mostWork)
    throw new FormulaError(
      'This formula takes too long on this number of patients. Derive a column for a part of it first.',
      node.from,
      node.to,
    );
}

function operationsIn(node: Node): number {
  const parts =
    node.node === 'unary'
      ? [node.operand]
      : node.node === 'binary'
        ? [node.left, node.right]
        : node.node === 'in'
          ? [node.operand, ...node.choices.filter((choice) => !isConstant(choice))]
          : node.node === 'call'
            ? node.given
            : [];
  return parts.reduce((sum, part) => sum + operationsIn(part), 1);
}

class Checker {
  readonly uses = new Set<string>();
  private readonly byName: Map<string, Known>;

  constructor(columns: Known[]) {
    this.byName = new Map(columns.map((column) => [column.name, column]));
  }

  typeOf(node: Node): ValueType {
    switch (node.node) {
      case 'number':
        return 'number';
      case 'text':
        return 'levels';
      case 'column':
        return this.column(node);
      case 'unary':
        return node.operator === '-'
          ? this.need(node.operand, 'number', 'A minus')
          : this.need(node.operand, 'yes/no', 'not');
      case 'binary':
        return this.binary(node);
      case 'in':
        for (const choice of node.choices) this.comparable(node.operand, choice, false);
        return 'yes/no';
      case 'call':
        return node.name === 'if'
          ? this.choice(node)
          : node.name === 'firstknown'
            ? this.firstKnown(node)
            : this.call(node);
    }
  }

  private column(node: Extract<Node, { node: 'column' }>): ValueType {
    const found = this.byName.get(node.name);
    if (found) {
      this.uses.add(node.name);
      return typeOfEntry(found);
    }
    const near = nearest(node.name, [...this.byName.keys()]);
    throw new FormulaError(
      `There is no column ${node.name}.${near ? ` Did you mean ${near}?` : ''}`,
      node.from,
      node.to,
    );
  }

  private binary(node: Extract<Node, { node: 'binary' }>): ValueType {
    const { operator, left, right } = node;
    if (operator === 'and' || operator === 'or') {
      this.need(left, 'yes/no', operator);
      return this.need(right, 'yes/no', operator);
    }
    if (['=', '<>', '<', '<=', '>', '>='].includes(operator)) {
      this.comparable(left, right, operator !== '=' && operator !== '<>');
      return 'yes/no';
    }
    this.need(left, 'number', `“${operator}”`);
    return this.need(right, 'number', `“${operator}”`);
  }

  private need(node: Node, wanted: ValueType, who: string): ValueType {
    const type = this.typeOf(node);
    if (type === wanted) return type;
    const hint =
      type === 'date' && wanted === 'number' ? ' Days between two dates come from days(a, b).' : '';
    throw new FormulaError(
      `${who} needs ${names[wanted]}; this is ${names[type]}.${hint}`,
      node.from,
      node.to,
    );
  }

  /** Two sides of a comparison: of one kind, or a text that can be read as the other's. */
  private comparable(left: Node, right: Node, ordered: boolean): void {
    const [a, b] = [this.typeOf(left), this.typeOf(right)];
    this.literal(left, right, b);
    this.literal(right, left, a);
    const withText = (other: ValueType, node: Node) =>
      node.node === 'text' && (other === 'date' || other === 'yes/no');
    if (a !== b && !withText(a, right) && !withText(b, left))
      throw new FormulaError(
        `${capital(names[a])} cannot be compared with ${names[b]}.`,
        left.from,
        right.to,
      );
    const measured = [a, b].some((type) => type === 'number' || type === 'date');
    if (ordered && !measured && !this.isOrdered(left) && !this.isOrdered(right))
      throw new FormulaError(
        'Less and more have no meaning between these: their levels have no order.',
        left.from,
        right.to,
      );
  }

  /** A written text must be something that the other side can be. */
  private literal(text: Node, other: Node, type: ValueType): void {
    if (text.node !== 'text') return;
    const { value, from, to } = text;
    if (type === 'date' && Number.isNaN(dayOfText(value)))
      throw new FormulaError(`“${value}” is not a date; write it as 2024-12-31.`, from, to);
    if (type === 'yes/no' && value !== 'yes' && value !== 'no')
      throw new FormulaError(`It is yes or no, never “${value}”.`, from, to);
    const levels = other.node === 'column' ? this.byName.get(other.name)?.levels : undefined;
    if (type === 'levels' && levels && !levels.includes(value))
      throw new FormulaError(
        `${other.node === 'column' ? other.name : 'It'} has no level “${value}”. It has ${levels.slice(0, 8).join(', ')}${levels.length > 8 ? ' …' : ''}.`,
        from,
        to,
      );
  }

  private isOrdered(node: Node): boolean {
    return (
      (node.node === 'column' && this.byName.get(node.name)?.kind === 'ordered category') ||
      (node.node === 'call' && node.name === 'bands')
    );
  }

  private choice(node: Extract<Node, { node: 'call' }>): ValueType {
    if (node.given.length !== 3)
      throw new FormulaError(
        'if takes a condition, what is given where it holds, and what is given where not.',
        node.from,
        node.to,
      );
    const [condition, yes, no] = node.given;
    this.need(condition, 'yes/no', 'The first part of if');
    return this.alike(yes, no, 'Both outcomes of if');
  }

  private firstKnown(node: Extract<Node, { node: 'call' }>): ValueType {
    if (node.given.length < 2)
      throw new FormulaError('firstknown takes two or more.', node.from, node.to);
    return node.given
      .slice(1)
      .reduce<ValueType>(
        (_, part) => this.alike(node.given[0], part, 'All of firstknown'),
        'number',
      );
  }

  private alike(a: Node, b: Node, who: string): ValueType {
    const [first, second] = [this.typeOf(a), this.typeOf(b)];
    if (first === second) return first;
    throw new FormulaError(
      `${who} must be of one kind: one is ${names[first]}, the other ${names[second]}.`,
      a.from,
      b.to,
    );
  }

  private call(node: Extract<Node, { node: 'call' }>): ValueType {
    const found = functions.find(({ name }) => name === node.name);
    if (!found) {
      const near = nearest(node.name, [...functions.map(({ name }) => name), 'if', 'firstknown']);
      throw new FormulaError(
        `There is no function ${node.name}.${near ? ` Did you mean ${near}?` : ''}`,
        node.from,
        node.to,
      );
    }
    const [least, most] = found.takes;
    const { given } = node;
    if (given.length < least || given.length > most)
      throw new FormulaError(
        `${found.name} takes ${least === most ? least : `${least} to ${most}`} values, not ${given.length}; for example ${found.example}.`,
        node.from,
        node.to,
      );
    given.forEach((part, i) => {
      const wanted = found.given[Math.min(i, found.given.length - 1)];
      if (wanted === 'any') this.typeOf(part);
      else this.need(part, wanted, found.name);
      if (found.plainNumbers && i > 0 && plainNumber(part) === undefined)
        throw new FormulaError(`${found.name} needs a plain number here.`, part.from, part.to);
    });
    if (found.name === 'bands') this.ascending(given.slice(1));
    return found.gives;
  }

  private ascending(edges: Node[]): void {
    edges.forEach((edge, i) => {
      if (i > 0 && plainNumber(edge)! <= plainNumber(edges[i - 1])!)
        throw new FormulaError('The edges of bands must go up.', edge.from, edge.to);
    });
  }
}

const names: Record<ValueType, string> = {
  number: 'a number',
  'yes/no': 'a condition',
  date: 'a date',
  levels: 'a level or text',
};

const capital = (text: string) => text[0].toUpperCase() + text.slice(1);

/** The levels of what a formula gives, in their order, where they can be told beforehand. */
export function levelsOfNode(node: Node, columns: Known[]): string[] {
  if (node.node === 'text') return [node.value];
  if (node.node === 'column') return columns.find(({ name }) => name === node.name)?.levels ?? [];
  if (node.node !== 'call') return [];
  if (node.name === 'bands')
    return bandNames(node.given.slice(1).map((edge) => plainNumber(edge)!));
  const parts = node.name === 'if' ? node.given.slice(1) : node.given;
  return [...new Set(parts.flatMap((part) => levelsOfNode(part, columns)))];
}

/** The known name that differs least, if it differs little: Levenshtein (1966), Soviet Physics Doklady 10:707-710. */
function nearest(name: string, known: string[]): string | undefined {
  const scored = known.map((other) => ({
    other,
    away: distance(name.toLowerCase(), other.toLowerCase()),
  }));
  const best = scored.sort((a, b) => a.away - b.away)[0];
  return best && best.away <= Math.max(1, Math.floor(name.length / 3)) ? best.other : undefined;
}

function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next[j] = Math.min(row[j] + 1, next[j - 1] + 1, row[j - 1] + Number(a[i - 1] !== b[j - 1]));
    row = next;
  }
  return row[b.length];
}
