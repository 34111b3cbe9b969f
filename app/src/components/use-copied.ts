import { useState } from 'react';
import { harmlessCell } from '@rook-scale/core/table';

/** Milliseconds in which it is said that something was copied. */
const saidFor = 2000;

/** Copies rows as tab-separated text, of which no cell is a formula; `copied` for a moment afterwards. */
export function useCopied(rows: () => (string | number)[][]): {
  copied: boolean;
  copy: () => void;
} {
  const [copied, setCopied] = useState(false);
  const copy = () => {
    const text = rows()
      .map((row) => row.map(plainCell).join('\t'))
      .join('\n');
    void navigator.clipboard.writeText(text).then(() => {
      setCopied(true);
      setTimeout(() => setCopied(false), saidFor);
    });
  };
  return { copied, copy };
}

/** A tab or a line break inside would be the end of the cell. */
const plainCell = (cell: string | number): string =>
  typeof cell === 'number' ? String(cell) : harmlessCell(cell.replace(/[\t\r\n]+/g, ' '));
