import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { designRoutes } from '../../../contract/designs.ts';
import type { UploadReview } from '../../../contract/uploads.ts';
import { ask, messageOf } from '../../../browser/api.ts';
import { uploadFile } from '../../../browser/upload.ts';
import { Button, FileDrop, Notice } from '../../../components/index.ts';
import type { SectionProps } from '../DesignPage.tsx';
import { SecondFileDialog } from './SecondFileDialog.tsx';

interface Props extends SectionProps {
  studyId: string;
  /** Whether patients are set aside, or are to be, by a second file. */
  asked: boolean;
  onDone: () => void;
}

/** A file whose patients are all held out: brought in, exchanged, taken out again. */
export function SecondFile({ studyId, cohort, design, asked, onDone }: Props) {
  const client = useQueryClient();
  const [review, setReview] = useState<UploadReview>();
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const { second } = cohort;
  const work = async (asking: () => Promise<unknown>) => {
    setBusy(true);
    setProblem(undefined);
    try {
      await asking();
      await client.invalidateQueries();
      setReview(undefined);
      onDone();
    } catch (error) {
      setProblem(messageOf(error));
    }
    setBusy(false);
  };
  const study = { study: studyId };
  return (
    <>
      {second && (
        <p className="quiet">
          {second.name} stands below the first file, from row {second.from} to {cohort.storedRows}
          {asked ? '.' : ', and its patients are divided like the others.'}{' '}
          <Button
            look="link"
            disabled={busy}
            onClick={() => void work(() => ask(designRoutes.takeOutSecondFile, study))}
          >
            Take it out again
          </Button>
        </p>
      )}
      {asked && (
        <FileDrop
          verb={second ? 'Choose another file' : 'Choose the file'}
          compact
          onFile={async (file, progress, signal) => {
            setProblem(undefined);
            setReview(await uploadFile(file, progress, signal));
          }}
        >
          <p className="quiet">
            {second
              ? 'Another file would take its place.'
              : 'It needs the outcome and the predictors; what it calls otherwise you say in the next step.'}
          </p>
        </FileDrop>
      )}
      {problem && !review && <Notice>{problem}</Notice>}
      {review && (
        <SecondFileDialog
          review={review}
          cohort={cohort}
          design={design}
          busy={busy}
          problem={problem}
          onClose={() => setReview(undefined)}
          onTake={(columns) =>
            void work(() =>
              ask(designRoutes.bringInSecondFile, study, {
                body: { uploadId: review.id, columns },
              }),
            )
          }
        />
      )}
    </>
  );
}
