import { FormulaError } from './error.ts';
import { tokensOf, type Token } from './tokens.ts';

/** A part of a formula and where it stands in the text. */
export type Node = { from: number; to: number } & (
  | { node: 'number'; value: number }
  | { node: 'text'; value: string }
  | { node: 'column'; name: string }
  | { node: 'unary'; operator: '-' | 'not'; operand: Node }
  | { node: 'binary'; operator: BinaryOperator; left: Node; right: Node }
  | { node: 'in'; operand: Node; choices: Node[] }
  | { node: 'call'; name: string; given: Node[] }
);

export type BinaryOperator =
  | 'or'
  | 'and'
  | '='
  | '<>'
  | '<'
  | '<='
  | '>'
  | '>='
  | '+'
  | '-'
  | '*'
  | '/'
  | '^';

/** How tightly an operator binds; the power binds from the right. */
const strength = new Map([
  ['or', 1],
  ['and', 2],
  ...['=', '<>', '<', '<=', '>', '>=', 'in'].map((sign): [string, number] => [sign, 4]),
  ['+', 5],
  ['-', 5],
  ['*', 6],
  ['/', 6],
  ['^', 8],
]);
const notStrength = 3;
const minusStrength = 7;
/** Parts within parts: far more than anybody writes, far fewer than would exhaust the machine. */
const deepest = 200;

/** The structure of a formula, by precedence climbing (Richards & Whitby-Strevens 1979, BCPL). */
export function parse(text: string): Node {
  const reader = new Reader(tokensOf(text));
  if (reader.next.kind === 'end')
    throw new FormulaError('Write a formula, such as creatinine / 88.4.', 0, text.length);
  const node = reader.expression(0);
  const { next } = reader;
  if (next.kind !== 'end')
    throw new FormulaError(
      `“${next.value}” is not expected here: the formula could end before it.`,
      next.from,
      next.to,
    );
  return node;
}

/** A value that is written in the formula, the same for every patient. */
export const isConstant = (node: Node): boolean =>
  node.node === 'number' ||
  node.node === 'text' ||
  (node.node === 'unary' && node.operator === '-' && node.operand.node === 'number');

class Reader {
  private at = 0;
  private depth = 0;

  constructor(private readonly tokens: Token[]) {}

  get next(): Token {
    return this.tokens[this.at];
  }

  expression(least: number): Node {
    if (++this.depth > deepest)
      throw new FormulaError('The formula is nested too deeply.', this.next.from, this.next.to);
    let left = this.operand();
    for (;;) {
      const operator = operatorOf(this.next);
      const binds = strength.get(operator) ?? -1;
      if (binds < least) break;
      this.at++;
      left = operator === 'in' ? this.choices(left) : this.binary(left, operator, binds);
    }
    this.depth--;
    return left;
  }

  private binary(left: Node, operator: string, binds: number): Node {
    const compares = binds === 4;
    const right = this.expression(operator === '^' ? binds : binds + 1);
    if (compares && strength.get(operatorOf(this.next)) === 4)
      throw new FormulaError(
        'Two comparisons in a row say nothing: join them with and.',
        this.next.from,
        this.next.to,
      );
    return {
      node: 'binary',
      operator: operator as BinaryOperator,
      left,
      right,
      from: left.from,
      to: right.to,
    };
  }

  private choices(operand: Node): Node {
    this.take('(', 'The choices of in stand in brackets, such as in (1, 2).');
    const { given, to } = this.list();
    if (given.length === 0)
      throw new FormulaError('in needs at least one choice.', operand.from, to);
    return { node: 'in', operand, choices: given, from: operand.from, to };
  }

  private operand(): Node {
    const token = this.next;
    this.at++;
    const { from, to, value } = token;
    if (token.kind === 'number') return { node: 'number', value: Number(value), from, to };
    if (token.kind === 'text') return { node: 'text', value, from, to };
    if (token.kind === 'column') return { node: 'column', name: value, from, to };
    if (token.kind === 'word') return this.word(token);
    if (value === '-') {
      const operand = this.expression(minusStrength);
      return { node: 'unary', operator: '-', operand, from, to: operand.to };
    }
    if (value === '(') {
      const inner = this.expression(0);
      const end = this.take(')', 'A bracket that is opened here is never closed.', from);
      return { ...inner, from, to: end.to };
    }
    this.at--;
    throw new FormulaError(
      token.kind === 'end'
        ? 'The formula breaks off: something is missing here.'
        : `A value is missing before “${value}”.`,
      from,
      Math.max(to, from + 1),
    );
  }

  private word({ value, from, to }: Token): Node {
    if (value.toLowerCase() === 'not') {
      const operand = this.expression(notStrength);
      return { node: 'unary', operator: 'not', operand, from, to: operand.to };
    }
    if (this.next.value === '(' && this.next.kind === 'sign') {
      this.at++;
      const { given, to: end } = this.list();
      return { node: 'call', name: value.toLowerCase(), given, from, to: end };
    }
    return { node: 'column', name: value, from, to };
  }

  /** What stands between brackets, parted by commas; the opening one is read already. */
  private list(): { given: Node[]; to: number } {
    const opened = this.tokens[this.at - 1].from;
    const given: Node[] = [];
    if (this.next.value === ')' && this.next.kind === 'sign') return { given, to: this.skip().to };
    for (;;) {
      given.push(this.expression(0));
      if (this.next.kind === 'sign' && this.next.value === ',') this.skip();
      else break;
    }
    const end = this.take(')', 'A bracket that is opened here is never closed.', opened);
    return { given, to: end.to };
  }

  private take(sign: string, otherwise: string, from = this.next.from): Token {
    if (this.next.kind === 'sign' && this.next.value === sign) return this.skip();
    throw new FormulaError(otherwise, from, Math.max(from + 1, this.next.to));
  }

  private skip(): Token {
    return this.tokens[this.at++];
  }
}

/** The operator that a token is between two operands; empty when it is none. */
function operatorOf({ kind, value }: Token): string {
  const word = value.toLowerCase();
  if (kind === 'word') return word === 'and' || word === 'or' || word === 'in' ? word : '';
  return kind === 'sign' && strength.has(value) ? value : '';
}
