import { describe, expect, it } from 'vitest';
import { harmlessCell, withoutApostrophe } from '../../src/table/index.ts';

// Beginnings that spreadsheets take for a formula: common practice.
describe('a cell for a file that a spreadsheet may open', () => {
  it.each(['=1+1', '+cmd', '-2+3', '@sum', '\t=1', '\r=1', '|x', '%y', '=HYPERLINK("x")'])(
    'is made text where it would be run: %s',
    (cell) => {
      expect(harmlessCell(cell)).toBe(`'${cell}`);
      expect(withoutApostrophe(harmlessCell(cell))).toBe(cell);
    },
  );

  it.each(['-5', '+3.5', '-1e-7', '.5', '-.5', '12', '', 'a=b', 'yes', "'quoted'", '2024-01-01'])(
    'stays as it is otherwise: %s',
    (cell) => {
      expect(harmlessCell(cell)).toBe(cell);
      expect(withoutApostrophe(cell)).toBe(cell);
    },
  );

  it('come back as they were, whatever they begin with', () => {
    const starts = ["'", '=', '+', '-', '@', '%', '|', '\t', '1', 'a', '', ' '];
    for (const a of starts)
      for (const b of starts)
        for (const c of starts) {
          const cell = `${a}${b}${c}x1`;
          expect(withoutApostrophe(harmlessCell(cell))).toBe(cell);
          expect(harmlessCell(cell)).not.toMatch(/^[=+\-@\t|%]x?[^0-9.]/);
        }
  });
});
