import { useState } from 'react';
import { setAddress } from '../../browser/address.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { surveyRoutes } from '../../contract/surveys.ts';
import { Button, Dialog, DialogActions, Notice } from '../../components/index.ts';
import { useSurvey } from './context.ts';

/** Lets held-out patients into the survey, after saying what that costs. */
export function HeldOutSwitch() {
  const { studyId, look } = useSurvey();
  const [asking, setAsking] = useState(false);
  const [problem, setProblem] = useState<string>();
  if (look)
    return (
      <Button onClick={() => setAddress({ look: undefined })}>Development patients only</Button>
    );
  const include = async () => {
    try {
      const taken = await ask(surveyRoutes.takeLook, { study: studyId });
      setAsking(false);
      setAddress({ look: String(taken.look) });
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <>
      <Button onClick={() => setAsking(true)}>Include held-out patients</Button>
      {asking && (
        <Dialog title="Include held-out patients?" onClose={() => setAsking(false)}>
          <p>
            This counts as a look. What you decide after seeing them is no longer proven on patients
            nobody has looked at.
          </p>
          {problem && <Notice>{problem}</Notice>}
          <DialogActions>
            <Button onClick={() => setAsking(false)} data-first>
              Leave them out
            </Button>
            <Button look="main" onClick={() => void include()}>
              Count a look and include them
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}
