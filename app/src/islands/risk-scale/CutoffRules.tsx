import { useState } from 'react';
import type { CutoffRule } from '@rook-scale/core/measures';
import { readNumber } from '../../browser/numbers.ts';
import styles from './CutoffRules.module.css';

interface Props {
  rule: CutoffRule;
  /** A cutoff in words. */
  show: (cutoff: number) => string;
  /** Where the marker stands, and where the candidate's cutoff is. */
  cutoff: number;
  chosen: number;
  onRule: (rule: CutoffRule) => void;
  onMove: (cutoff: number) => void;
}

/** Puts the cutoff where it should be. Every rule is carried out on out-of-fold predictions. */
export function CutoffRules({ rule, show, cutoff, chosen, onRule, onMove }: Props) {
  const [find, setFind] = useState(rule.rule === 'find' ? String(100 * rule.share) : '90');
  const [call, setCall] = useState(rule.rule === 'call' ? String(rule.perThousand) : '200');
  const moved = cutoff !== chosen;
  const findShare = within(find, 1, 100);
  const callCount = within(call, 1, 1000);
  const mark = (name: CutoffRule['rule']) => (rule.rule === name ? styles.inForce : undefined);
  if (moved)
    return (
      <div className={styles.rules}>
        <p>The marker was moved by hand.</p>
        <p>
          <button type="button" className="link" onClick={() => onRule({ rule: 'hand', cutoff })}>
            Keep {show(cutoff)} as the cutoff
          </button>
        </p>
        <p>
          <button type="button" className="link" onClick={() => onMove(chosen)}>
            Back to {show(chosen)}
          </button>
        </p>
      </div>
    );
  return (
    <div className={styles.rules} role="group" aria-label="Put the cutoff where it">
      <p>
        {rule.rule === 'hand' ? 'Cutoff put by hand. Put it where it' : 'Put the cutoff where it'}
      </p>
      <p className={mark('cheapest')}>
        <button
          type="button"
          className="link"
          aria-pressed={rule.rule === 'cheapest'}
          onClick={() => onRule({ rule: 'cheapest' })}
        >
          costs least
        </button>
      </p>
      <p className={mark('find')}>
        <button
          type="button"
          className="link"
          aria-pressed={rule.rule === 'find'}
          disabled={findShare === undefined}
          onClick={() => findShare && onRule({ rule: 'find', share: findShare / 100 })}
        >
          finds at least
        </button>
        <input
          aria-label="Per cent of the cases to find"
          inputMode="decimal"
          value={find}
          aria-invalid={findShare === undefined}
          onChange={(event) => setFind(event.target.value)}
          onKeyDown={(event) =>
            event.key === 'Enter' && findShare && onRule({ rule: 'find', share: findShare / 100 })
          }
        />
        %
      </p>
      <p className={mark('call')}>
        <button
          type="button"
          className="link"
          aria-pressed={rule.rule === 'call'}
          disabled={callCount === undefined}
          onClick={() => callCount && onRule({ rule: 'call', perThousand: callCount })}
        >
          calls in at most
        </button>
        <input
          aria-label="Patients to call in, per 1,000"
          inputMode="numeric"
          value={call}
          aria-invalid={callCount === undefined}
          onChange={(event) => setCall(event.target.value)}
          onKeyDown={(event) =>
            event.key === 'Enter' && callCount && onRule({ rule: 'call', perThousand: callCount })
          }
        />
        per 1,000
      </p>
    </div>
  );
}

function within(text: string, least: number, most: number): number | undefined {
  const value = readNumber(text);
  return text.trim() !== '' && value >= least && value <= most ? value : undefined;
}
