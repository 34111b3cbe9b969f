import { useState } from 'react';
import type { CallRule, Calls } from '@rook-scale/core/screening';
import { plural, showCount } from '../../browser/format.ts';
import styles from './CutoffRules.module.css';

interface Props {
  /** Calls of the list as they are kept. */
  calls: Calls & { rule: CallRule };
  /** Cutoff that the list was scored with. */
  own: number;
  /** Patients of the list that are scored. */
  patients: number;
  /** A cutoff in words. */
  show: (cutoff: number) => string;
  /** A score in words. */
  showScore: (score: number) => string;
  /** Where the marker stands. */
  cutoff: number;
  onCalls: (rule: CallRule) => void;
  onMove: (cutoff: number) => void;
}

/** Chooses who of one list is called in. The candidate's cutoff and other lists stay as they are. */
export function ListCalls(props: Props) {
  const { calls, own, patients, show, showScore, cutoff, onCalls, onMove } = props;
  const { rule, tied } = calls;
  const [room, setRoom] = useState(
    String(rule.by === 'capacity' ? rule.patients : Math.max(1, calls.called)),
  );
  const wanted = Number(room);
  const valid = room.trim() !== '' && Number.isInteger(wanted) && wanted >= 0;
  const take = () =>
    valid &&
    onCalls({
      by: 'capacity',
      patients: wanted,
      ties: rule.by === 'capacity' ? rule.ties : 'leave',
    });
  if (cutoff !== calls.cutoff)
    return (
      <div className={styles.rules}>
        <p>The marker was moved.</p>
        <p>
          <button type="button" className="link" onClick={() => onCalls({ by: 'cutoff', cutoff })}>
            Use {show(cutoff)} for this list
          </button>
        </p>
        <p>
          <button type="button" className="link" onClick={() => onMove(calls.cutoff)}>
            Back to {show(calls.cutoff)}
          </button>
        </p>
      </div>
    );
  const mark = (by: CallRule['by']) => (rule.by === by ? styles.inForce : undefined);
  return (
    <div className={styles.rules} role="group" aria-label="Call in from this list">
      <p>{rule.by === 'cutoff' ? 'Cutoff set for this list. Call in' : 'Call in from this list'}</p>
      <p className={mark('candidate')}>
        <button
          type="button"
          className="link"
          aria-pressed={rule.by === 'candidate'}
          onClick={() => onCalls({ by: 'candidate' })}
        >
          all at the model’s cutoff {show(own)}
        </button>
      </p>
      <p className={mark('capacity')}>
        <button
          type="button"
          className="link"
          aria-pressed={rule.by === 'capacity'}
          disabled={!valid}
          onClick={take}
        >
          the
        </button>
        <input
          aria-label="Patients to call in from this list"
          inputMode="numeric"
          style={{ width: `max(40px, ${room.length + 2.5}ch)` }}
          value={room}
          aria-invalid={!valid}
          onChange={(event) => setRoom(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && take()}
        />
        <button type="button" className="link" disabled={!valid} onClick={take}>
          most at risk
        </button>{' '}
        <span className="quiet">of {showCount(patients)}</span>
      </p>
      {rule.by === 'capacity' && tied && (
        <p className={styles.ties}>
          {plural(tied.patients, 'patient')} at {showScore(tied.score)}:{' '}
          <button
            type="button"
            className="link"
            aria-pressed={rule.ties === 'leave'}
            onClick={() => onCalls({ ...rule, ties: 'leave' })}
          >
            call {showCount(tied.left)}
          </button>{' '}
          or{' '}
          <button
            type="button"
            className="link"
            aria-pressed={rule.ties === 'call'}
            onClick={() => onCalls({ ...rule, ties: 'call' })}
          >
            {showCount(tied.called)}
          </button>
        </p>
      )}
    </div>
  );
}
