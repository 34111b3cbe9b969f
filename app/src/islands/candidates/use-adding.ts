import { useState, type SyntheticEvent } from 'react';
import { messageOf } from '../../browser/api.ts';

/** Has a candidate made when a form is sent: what went wrong is said, and the form stays. */
export function useAdding(make: () => Promise<{ id: string }>, onAdded: (id: string) => void) {
  const [adding, setAdding] = useState(false);
  const [problem, setProblem] = useState<string>();
  const add = async (event: SyntheticEvent) => {
    event.preventDefault();
    setAdding(true);
    setProblem(undefined);
    try {
      onAdded((await make()).id);
    } catch (error) {
      setProblem(messageOf(error));
      setAdding(false);
    }
  };
  return { adding, problem, onSubmit: (event: SyntheticEvent) => void add(event) };
}
