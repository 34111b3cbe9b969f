import { useState } from 'react';
import type { Basis } from '@rook-scale/core/design';
import type { SearchPlan } from '@rook-scale/core/search';
import { ask, messageOf } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { searchRoutes, type HowLong } from '../../contract/searches.ts';
import { Button, DialogActions, Notice } from '../../components/index.ts';
import { durationText } from './words.ts';
import styles from './Search.module.css';

/** What a form asks for, with how much that is; or why it cannot be asked for yet. */
export type FoundPlan = { plan: SearchPlan; said: string } | { why: string };

interface Props {
  studyId: string;
  asked: { family: string; basis: Basis };
  found: FoundPlan;
  problem?: string;
  adding: boolean;
  /** What the button says. */
  submit: string;
  onClose: () => void;
}

/** The foot of a form that asks for a search: how many fits, how long, and what can be done. */
export function SearchFoot({ studyId, asked, found, problem, adding, submit, onClose }: Props) {
  return (
    <div className={styles.foot}>
      <p role="status" className={styles.size}>
        {'plan' in found ? found.said : found.why}
        {'plan' in found && (
          <HowLongIsIt
            key={JSON.stringify([found.plan, asked])}
            ask={() =>
              ask(
                searchRoutes.howLong,
                { study: studyId },
                { body: { ...asked, plan: found.plan } },
              )
            }
          />
        )}
      </p>
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" type="submit" disabled={adding || !('plan' in found)}>
          {submit}
        </Button>
      </DialogActions>
    </div>
  );
}

/** Told by one of the fits, which is tried when it is asked for. */
function HowLongIsIt({ ask: wanted }: { ask: () => Promise<HowLong> }) {
  const [told, setTold] = useState<{ found?: HowLong; problem?: string }>();
  const begin = () => {
    setTold({});
    wanted().then(
      (found) => setTold({ found }),
      (error: unknown) => setTold({ problem: messageOf(error) }),
    );
  };
  if (!told)
    return (
      <Button look="link" onClick={begin}>
        How long will it take?
      </Button>
    );
  const { found, problem } = told;
  if (!found) return <> {problem ?? 'One fit is tried.'}</>;
  return (
    <>
      {' '}
      One fit took {durationText(found.one)}: about <strong>{durationText(found.all)}</strong> on{' '}
      {plural(found.cores, 'core')} like these; corrected as it runs.
    </>
  );
}
