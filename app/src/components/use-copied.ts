import { useState } from 'react';

/** Milliseconds in which it is said that something was copied. */
const saidFor = 2000;

/** Copies rows as tab-separated text; `copied` for a moment afterwards. */
export function useCopied(rows: () => (string | number)[][]): {
  copied: boolean;
  copy: () => void;
} {
  const [copied, setCopied] = useState(false);
  const copy = () => {
    const text = rows()
      .map((row) => row.join('\t'))
      .join('\n');
    void navigator.clipboard.writeText(text).then(() => {
      setCopied(true);
      setTimeout(() => setCopied(false), saidFor);
    });
  };
  return { copied, copy };
}
