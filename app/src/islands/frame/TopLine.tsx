import { History, Layers, Redo2, Search, Undo2 } from 'lucide-react';
import type { Overview, Step as ActStep } from '../../contract/studies.ts';
import { Sentence } from './Sentence.tsx';
import { StudySwitcher, type StudyAct } from './StudySwitcher.tsx';
import styles from './TopLine.module.css';

interface Props {
  overview: Overview;
  asking: StudyAct | undefined;
  onAsk: (what: StudyAct | undefined) => void;
  onStep: (direction: 'undo' | 'redo', act: number) => void;
  onHistory: () => void;
  onQueue: () => void;
  onSearch: () => void;
}

export function TopLine({ overview, asking, onAsk, onStep, onHistory, onQueue, onSearch }: Props) {
  const { history, candidates } = overview;
  return (
    <header className={styles.top}>
      <a className={styles.brand} href="/">
        <svg viewBox="0 0 16 16" width="18" height="18" aria-hidden="true">
          <path d="M1 2h3.2v3h2V2h3.6v3h2V2H15v6.2h-2V14H3V8.2H1z" />
        </svg>
        Rook Scale
      </a>
      <StudySwitcher overview={overview} asking={asking} onAsk={onAsk} />
      <Sentence overview={overview} />
      <div className={styles.acts}>
        <Step
          direction="undo"
          of={history.undo}
          without={
            history.blocked
              ? `Cannot be undone: ${history.blocked}`
              : 'You have done nothing to undo'
          }
          onStep={onStep}
        />
        <Step
          direction="redo"
          of={history.redo}
          without="You have undone nothing to redo"
          onStep={onStep}
        />
        <button
          type="button"
          className={styles.act}
          onClick={onHistory}
          aria-label="History"
          title="History of this study"
        >
          <History size={16} aria-hidden="true" />
        </button>
        <button
          type="button"
          className={styles.act}
          onClick={onQueue}
          aria-label={candidates.atWork > 0 ? `Queue, ${candidates.atWork} at work` : 'Queue'}
          title="Queue of fits"
        >
          <Layers size={16} aria-hidden="true" />
          {candidates.atWork > 0 && <span className="figures">{candidates.atWork}</span>}
        </button>
        <button type="button" className={styles.find} onClick={onSearch}>
          <Search size={14} aria-hidden="true" /> Find <kbd>/</kbd>
        </button>
      </div>
    </header>
  );
}

const steps = {
  undo: { Icon: Undo2, verb: 'Undo', keys: 'Ctrl+Z' },
  redo: { Icon: Redo2, verb: 'Redo', keys: 'Ctrl+Shift+Z' },
};

interface StepProps {
  direction: 'undo' | 'redo';
  /** The act that it goes back or forward. */
  of: ActStep | null;
  /** Why there is none. */
  without: string;
  onStep: (direction: 'undo' | 'redo', act: number) => void;
}

function Step({ direction, of, without, onStep }: StepProps) {
  const { Icon, verb, keys } = steps[direction];
  const name = of ? `${verb}: ${of.what}` : without;
  return (
    <button
      type="button"
      className={styles.act}
      disabled={of === null}
      aria-label={name}
      title={of ? `${name} (${keys})` : name}
      onClick={() => of && onStep(direction, of.id)}
    >
      <Icon size={16} aria-hidden="true" />
    </button>
  );
}
