import { useState } from 'react';
import { display, type Dictionary } from '@rook-scale/core/table';
import { Button } from '../../components/index.ts';
import styles from './Formula.module.css';

interface Props {
  dictionary: Dictionary;
  onTake: (column: string, edges: number[]) => void;
}

/** Cutting a number into bands without writing the formula. */
export function BandsHelp({ dictionary, onTake }: Props) {
  const numbers = dictionary.filter(({ kind }) => kind === 'number');
  const [column, setColumn] = useState(numbers[0]?.name ?? '');
  const [text, setText] = useState('');
  const edges = text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map(Number);
  const rising = edges.every((edge, i) => !Number.isNaN(edge) && (i === 0 || edge > edges[i - 1]));
  if (numbers.length === 0) return null;
  return (
    <div className={styles.bands}>
      <span>Or cut</span>
      <select
        aria-label="Number to cut into bands"
        value={column}
        onChange={(event) => setColumn(event.target.value)}
      >
        {numbers.map((entry) => (
          <option key={entry.name} value={entry.name}>
            {display(entry)}
          </option>
        ))}
      </select>
      <span>into bands at</span>
      <input
        aria-label="Edges of the bands"
        placeholder="50 65 80"
        value={text}
        aria-invalid={!rising}
        onChange={(event) => setText(event.target.value)}
      />
      <Button disabled={edges.length === 0 || !rising} onClick={() => onTake(column, edges)}>
        Write it
      </Button>
      {!rising && <span role="alert">Numbers that go up, please.</span>}
    </div>
  );
}
