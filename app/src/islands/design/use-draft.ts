import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { Design } from '@rook-scale/core/design';
import type { DesignState } from '../../contract/designs.ts';
import { ApiError, messageOf } from '../../browser/api.ts';
import { putDesign, wasEditedElsewhere, whileSaving } from '../../browser/edits.ts';

export interface SaveProblem {
  sentence: string;
  /** Another tab changed the same thing meanwhile. */
  elsewhere: boolean;
}

/** The design as edited on this page: shown at once, saved one change after another. */
export function useDraft(studyId: string, state: DesignState) {
  const client = useQueryClient();
  const [draft, setDraft] = useState<Design>();
  const [problem, setProblem] = useState<SaveProblem>();
  /** What the draft began from: the server carries over only what was changed since. */
  const base = useRef(state.choices);
  const save = useInTurn(async ({ design, insist }: { design: Design; insist: boolean }) => {
    try {
      const saved = await putDesign(studyId, base.current, design, insist);
      base.current = saved.choices;
      // A read that began before the change must not overwrite its result.
      await client.cancelQueries({ queryKey: ['design', studyId] });
      client.setQueryData(['design', studyId], saved);
      setProblem(undefined);
      setDraft((latest) => (latest === design ? undefined : latest));
      void client.invalidateQueries({ queryKey: ['preparation', studyId] });
    } catch (error) {
      // Whoever did not agree is shown what is in force.
      if (error instanceof ApiError && error.code === 'not-agreed') setDraft(undefined);
      else setProblem({ sentence: messageOf(error), elsewhere: wasEditedElsewhere(error) });
    }
  });
  const design = draft ?? state.choices;
  const change = (part: Partial<Design>) => {
    if (!draft) base.current = state.choices;
    const next = { ...design, ...part };
    setDraft(next);
    save({ design: next, insist: false });
  };
  const keepMine = () => {
    if (draft) save({ design: draft, insist: true });
  };
  const takeOther = () => {
    setDraft(undefined);
    setProblem(undefined);
    void client.invalidateQueries();
  };
  return { design, change, problem, keepMine, takeOther };
}

/** Carries the work out one after another, and of several waiting only the last. */
function useInTurn<T>(work: (what: T) => Promise<void>): (what: T) => void {
  const latest = useRef(work);
  const busy = useRef(false);
  const waiting = useRef<T>(undefined);
  useEffect(() => {
    latest.current = work;
  });
  const run = async (what: T) => {
    if (busy.current) {
      waiting.current = what;
      return;
    }
    busy.current = true;
    await latest.current(what);
    busy.current = false;
    const next = waiting.current;
    waiting.current = undefined;
    if (next !== undefined) await run(next);
  };
  return (what) => whileSaving(run(what));
}
