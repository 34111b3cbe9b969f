import { FormulaError } from './error.ts';

export interface Token {
  kind: 'number' | 'text' | 'column' | 'word' | 'sign' | 'end';
  /** What it says: the number, the text without its quotes, the name without its braces. */
  value: string;
  from: number;
  to: number;
}

const patterns: [Token['kind'] | 'space', RegExp][] = [
  ['space', /\s+/y],
  ['number', /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/y],
  ['text', /'[^']*'|"[^"]*"|“[^”]*”/y],
  ['column', /\{[^{}]*\}/y],
  ['word', /[\p{L}_][\p{L}\p{N}_]*/uy],
  ['sign', /<=|>=|<>|≤|≥|≠|[-+*/^=<>(),−×÷]/y],
];

/** Other spellings of the same sign. */
const same = new Map([
  ['≤', '<='],
  ['≥', '>='],
  ['≠', '<>'],
  ['−', '-'],
  ['×', '*'],
  ['÷', '/'],
]);

/** The words of a formula, in order, closed by an `end`. */
export function tokensOf(text: string): Token[] {
  const tokens: Token[] = [];
  let at = 0;
  while (at < text.length) {
    const found = match(text, at);
    if (!found) throw unreadable(text, at);
    const { kind, raw } = found;
    const to = at + raw.length;
    if (kind !== 'space') tokens.push({ kind, value: valueOf(kind, raw), from: at, to });
    at = to;
  }
  tokens.push({ kind: 'end', value: '', from: text.length, to: text.length });
  return tokens;
}

function match(text: string, at: number) {
  for (const [kind, pattern] of patterns) {
    pattern.lastIndex = at;
    const raw = pattern.exec(text)?.[0];
    if (raw) return { kind, raw };
  }
  return undefined;
}

function valueOf(kind: Token['kind'], raw: string): string {
  if (kind === 'text') return raw.slice(1, -1);
  if (kind === 'column') return raw.slice(1, -1).trim();
  return same.get(raw) ?? raw;
}

function unreadable(text: string, at: number): FormulaError {
  const sign = text[at];
  if (sign === "'" || sign === '"' || sign === '“')
    return new FormulaError('A text begins here but does not end.', at, text.length);
  if (sign === '{')
    return new FormulaError('A column name begins here but does not end.', at, text.length);
  return new FormulaError(`“${sign}” has no meaning here.`, at, at + 1);
}
