import type { CandidateLine } from '../../contract/candidates.ts';
import styles from './HeldOut.module.css';

interface Props {
  lines: CandidateLine[];
  chosen?: string;
  onChoose: (id: string) => void;
}

/** Which candidate is judged; each choice is a look of its own. */
export function CandidateChoice({ lines, chosen, onChoose }: Props) {
  if (lines.length === 0) return null;
  if (lines.length > 4)
    return (
      <select
        className={styles.select}
        aria-label="Candidate"
        value={chosen}
        onChange={(event) => onChoose(event.target.value)}
      >
        {lines.map((line) => (
          <option key={line.id} value={line.id}>
            {nameOf(line)}
          </option>
        ))}
      </select>
    );
  return (
    <div className={styles.choice} role="group" aria-label="Candidate">
      {lines.map((line) => (
        <button
          key={line.id}
          type="button"
          aria-pressed={line.id === chosen}
          onClick={() => line.id !== chosen && onChoose(line.id)}
        >
          {nameOf(line)}
        </button>
      ))}
    </div>
  );
}

const nameOf = (line: CandidateLine) => `${line.name}${line.outOfDate ? ' (out of date)' : ''}`;
