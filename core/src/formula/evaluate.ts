import type { Column, Kind, Table } from '../table/index.ts';
import { levelsOfNode, mindWork, readFormula, type Formula } from './check.ts';
import { FormulaError } from './error.ts';
import { functions, isKnown, numbers, valuesOf } from './functions.ts';
import { isConstant, type BinaryOperator, type Node } from './parse.ts';
import { columnOf, dayOfText, vectorOf, type Vector } from './vector.ts';

/** The column that a formula gives on a table, and of which kind it is. */
export function evaluateFormula(text: string, table: Table): { column: Column; kind: Kind } {
  const formula = readFormula(text, table.dictionary);
  mindWork(formula, table.rowCount);
  const vector = new Evaluation(table).valueOf(formula.node);
  return { column: columnOf(vector), kind: kindOf(formula, table) };
}

/** The rows in which a condition holds; where it is not known it does not. */
export function rowsWhere(text: string, table: Table): Int32Array {
  const formula = readFormula(text, table.dictionary);
  if (formula.type !== 'yes/no')
    throw new FormulaError(
      'A condition is needed, such as age < 18; this gives a value.',
      0,
      text.length,
    );
  mindWork(formula, table.rowCount);
  const values = valuesOf(new Evaluation(table).valueOf(formula.node));
  const rows: number[] = [];
  values.forEach((value, row) => value === 1 && rows.push(row));
  return Int32Array.from(rows);
}

/** The kind of column that a formula gives: bands and ordered levels keep their order. */
export function kindOf({ node, type }: Formula, { dictionary }: Pick<Table, 'dictionary'>): Kind {
  if (type !== 'levels') return type;
  if (node.node === 'call' && node.name === 'bands') return 'ordered category';
  if (node.node === 'column') {
    const kind = dictionary.find(({ name }) => name === node.name)?.kind;
    return kind === 'ordered category' ? kind : 'category';
  }
  return 'category';
}

class Evaluation {
  private readonly rows: number;

  constructor(private readonly table: Table) {
    this.rows = table.rowCount;
  }

  valueOf(node: Node): Vector {
    switch (node.node) {
      case 'number':
        return { type: 'number', values: new Float64Array(this.rows).fill(node.value) };
      case 'text':
        return { type: 'levels', codes: new Int32Array(this.rows), levels: [node.value] };
      case 'column': {
        const place = this.table.dictionary.findIndex(({ name }) => name === node.name);
        return vectorOf(this.table.columns[place], this.table.dictionary[place]);
      }
      case 'unary':
        return this.unary(node);
      case 'binary':
        return this.binary(node.operator, this.valueOf(node.left), this.valueOf(node.right), node);
      case 'in':
        return this.among(node);
      case 'call':
        return this.call(node);
    }
  }

  /** The operand is worked out once; written values are looked up, whatever their number. */
  private among(node: Extract<Node, { node: 'in' }>): Vector {
    const operand = this.valueOf(node.operand);
    const [written, others] = [true, false].map((constant) =>
      node.choices.filter((choice) => isConstant(choice) === constant),
    );
    const found = others.map((choice) => this.binary('=', operand, this.valueOf(choice), node));
    if (written.length > 0) found.push(this.amongWritten(operand, written));
    return found.reduce((all, next) => this.logic('or', all, next));
  }

  private amongWritten(operand: Vector, written: Node[]): Vector {
    const single = new Evaluation({ ...this.table, rowCount: 1 });
    const values = written.map((choice) => single.valueOf(choice));
    if (operand.type === 'levels') {
      const texts = new Set(values.flatMap((value) => ('levels' in value ? value.levels : [])));
      const isIn = operand.levels.map((level) => Number(texts.has(level)));
      return {
        type: 'yes/no',
        values: Float64Array.from(operand.codes, (code) => (code < 0 ? NaN : isIn[code])),
      };
    }
    const scale = new Set(
      values.map((value) => {
        if (value.type !== 'levels') return value.values[0];
        const [text] = value.levels;
        return operand.type === 'date' ? dayOfText(text) : Number(text === 'yes');
      }),
    );
    return {
      type: 'yes/no',
      values: operand.values.map((value) => (Number.isNaN(value) ? NaN : Number(scale.has(value)))),
    };
  }

  private unary(node: Extract<Node, { node: 'unary' }>): Vector {
    const values = valuesOf(this.valueOf(node.operand));
    return node.operator === '-'
      ? { type: 'number', values: values.map((value) => -value) }
      : { type: 'yes/no', values: values.map((value) => 1 - value) };
  }

  private binary(operator: BinaryOperator, a: Vector, b: Vector, node: Node): Vector {
    if (operator === 'and' || operator === 'or') return this.logic(operator, a, b);
    const arithmetic = arithmetics[operator];
    if (arithmetic) {
      const [x, y] = [valuesOf(a), valuesOf(b)];
      return numbers(this.rows, (i) => arithmetic(x[i], y[i]));
    }
    return this.compare(operator, ...this.comparable(a, b, node));
  }

  /** Three-valued, after Kleene (1952): one no decides and, one yes decides or. */
  private logic(operator: 'and' | 'or', a: Vector, b: Vector): Vector {
    const decides = operator === 'and' ? 0 : 1;
    const [x, y] = [valuesOf(a), valuesOf(b)];
    const values = Float64Array.from({ length: this.rows }, (_, i) => {
      if (x[i] === decides || y[i] === decides) return decides;
      return Number.isNaN(x[i]) || Number.isNaN(y[i]) ? NaN : 1 - decides;
    });
    return { type: 'yes/no', values };
  }

  /** Both sides on one scale of numbers: levels by their place in the order of the left side. */
  private comparable(a: Vector, b: Vector, node: Node): [Float64Array, Float64Array] {
    if (a.type !== 'levels' && b.type !== 'levels') return [a.values, b.values];
    if (a.type === 'levels' && b.type === 'levels') {
      // The side that has an order sets it; a written text is only a level of the other.
      const levels = [
        ...new Set(
          a.levels.length >= b.levels.length
            ? [...a.levels, ...b.levels]
            : [...b.levels, ...a.levels],
        ),
      ];
      const place = new Map(levels.map((level, i) => [level, i]));
      const onScale = ({ codes, levels: own }: typeof a) =>
        Float64Array.from(codes, (code) => (code < 0 ? NaN : place.get(own[code])!));
      return [onScale(a), onScale(b)];
    }
    const [typed, written] = a.type === 'levels' ? [b, a] : [a, b];
    if (typed.type === 'levels' || written.type !== 'levels') throw new Error(node.node);
    const text = written.levels[0];
    const value = typed.type === 'date' ? dayOfText(text) : Number(text === 'yes');
    const values = new Float64Array(this.rows).fill(value);
    return a.type === 'levels' ? [values, typed.values] : [typed.values, values];
  }

  private compare(operator: BinaryOperator, x: Float64Array, y: Float64Array): Vector {
    const holds = comparisons[operator]!;
    const values = Float64Array.from({ length: this.rows }, (_, i) =>
      Number.isNaN(x[i]) || Number.isNaN(y[i]) ? NaN : Number(holds(x[i], y[i])),
    );
    return { type: 'yes/no', values };
  }

  private call(node: Extract<Node, { node: 'call' }>): Vector {
    const given = node.given.map((part) => this.valueOf(part));
    if (node.name === 'if') {
      const condition = valuesOf(given[0]);
      return this.pick([given[1], given[2]], node, (i) =>
        Number.isNaN(condition[i]) ? -1 : condition[i] === 1 ? 0 : 1,
      );
    }
    if (node.name === 'firstknown')
      return this.pick(given, node, (i) => given.findIndex((vector) => isKnown(vector, i)));
    return functions.find(({ name }) => name === node.name)!.apply(given, this.rows, node.given);
  }

  /** In each row the value of the vector that `which` names; -1 for not known. */
  private pick(vectors: Vector[], node: Node, which: (row: number) => number): Vector {
    if (vectors[0].type !== 'levels') {
      const columns = vectors.map(valuesOf);
      const values = Float64Array.from({ length: this.rows }, (_, i) => {
        const place = which(i);
        return place < 0 ? NaN : columns[place][i];
      });
      return { type: vectors[0].type, values };
    }
    const parts = vectors as Extract<Vector, { type: 'levels' }>[];
    const levels = [
      ...new Set([
        ...levelsOfNode(node, this.table.dictionary),
        ...parts.flatMap((part) => part.levels),
      ]),
    ];
    const place = new Map(levels.map((level, i) => [level, i]));
    const codes = Int32Array.from({ length: this.rows }, (_, i) => {
      const chosen = which(i);
      const code = chosen < 0 ? -1 : parts[chosen].codes[i];
      return code < 0 ? -1 : place.get(parts[chosen].levels[code])!;
    });
    return { type: 'levels', codes, levels };
  }
}

const arithmetics: Partial<Record<BinaryOperator, (a: number, b: number) => number>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  // Anything to the power 0 is 1 in JavaScript, even what is not known.
  '^': (a, b) => (Number.isNaN(a) ? NaN : a ** b),
};

const comparisons: Partial<Record<BinaryOperator, (a: number, b: number) => boolean>> = {
  '=': (a, b) => a === b,
  '<>': (a, b) => a !== b,
  '<': (a, b) => a < b,
  '<=': (a, b) => a <= b,
  '>': (a, b) => a > b,
  '>=': (a, b) => a >= b,
};
