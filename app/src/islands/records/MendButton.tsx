import { useState } from 'react';
import { messageOf } from '../../browser/api.ts';
import { Button } from '../../components/index.ts';

/** The button that opens the review again. */
export function MendButton({ onMend }: { onMend: () => Promise<void> }) {
  const [problem, setProblem] = useState<string>();
  return (
    <>
      {problem && <span role="alert">{problem}</span>}
      <Button onClick={() => void onMend().catch((error: unknown) => setProblem(messageOf(error)))}>
        Mend the dictionary
      </Button>
    </>
  );
}
