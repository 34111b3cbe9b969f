import { useState } from 'react';
import { canBePart, choiceOffered, type HowMoved } from '@rook-scale/core/families';
import { ask, messageOf } from '../../../browser/api.ts';
import { candidateRoutes } from '../../../contract/candidates.ts';
import { Button, Notice, Select } from '../../../components/index.ts';
import type { SectionProps } from './section.ts';
import styles from './Sections.module.css';

const howOffered = choiceOffered('recalibrated', 'how');

/** Makes a candidate of the same with its risks moved, from development patients alone. */
export function Recalibrate({ studyId, line }: Pick<SectionProps, 'studyId' | 'line'>) {
  const [how, setHow] = useState<HowMoved>('line');
  const [isAsked, setAsked] = useState(false);
  const [made, setMade] = useState<string>();
  const [problem, setProblem] = useState<string>();
  if (line.outcome?.choice.kind !== 'event' || !canBePart(line.family)) return null;
  const make = async () => {
    setAsked(true);
    setProblem(undefined);
    try {
      const body = { candidate: line.id, how };
      setMade((await ask(candidateRoutes.recalibrate, { study: studyId }, { body })).id);
    } catch (error) {
      setProblem(messageOf(error));
    }
    setAsked(false);
  };
  return (
    <div className={styles.aside}>
      <p>
        If risks are off, they can be recalibrated: a new candidate learns from development
        patients, out of fold, how to move them, and nothing from those held out. Made because of
        what these patients show, its figures in them are no longer quite a test.
      </p>
      <div className={styles.asked}>
        <Select
          label={howOffered.label}
          value={how}
          options={howOffered.options}
          onChange={(value) => setHow(value as HowMoved)}
        />
        <Button disabled={isAsked} onClick={() => void make()}>
          Recalibrate as a new candidate
        </Button>
        {made && (
          <span role="status">
            Made, and being fitted.{' '}
            <a href={`/studies/${studyId}/candidates?candidate=${made}`}>See it in Candidates</a>
          </span>
        )}
      </div>
      {problem && <Notice>{problem}</Notice>}
    </div>
  );
}
