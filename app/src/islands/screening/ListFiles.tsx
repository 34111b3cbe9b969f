import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { type ListFile, screeningRoutes } from '../../contract/screenings.ts';
import { ask } from '../../browser/api.ts';
import { showCount } from '../../browser/format.ts';
import { secondsLeft } from '../../browser/progress.ts';
import { toastError } from '../../browser/toast.ts';
import { Button, Notice, Progress, saveAs } from '../../components/index.ts';
import styles from './Screening.module.css';

/** Steps of the progress bar. */
const steps = 20;

interface Props {
  id: string;
  /** The cutoff of the list, which is not named. */
  cutoff: number;
  showCutoff: (cutoff: number) => string;
  /** Files asked for on this page: each is saved as soon as it is whole. */
  wanted: string[];
  onSaved: (fileId: string) => void;
}

/** The files of a long list: how far each is written, or where it can be had. */
export function ListFiles({ id, cutoff, showCutoff, wanted, onSaved }: Props) {
  const { data: files = [], refetch } = useQuery({
    queryKey: ['files of a list', id],
    queryFn: () => ask(screeningRoutes.files, { screening: id }),
    refetchInterval: ({ state }) => (state.data?.some(isUnderWay) ? 500 : false),
  });
  // A file that was just asked for is not among those read before.
  useEffect(() => void refetch(), [wanted, refetch]);
  const saved = useRef(new Set<string>());
  useEffect(() => {
    for (const file of files) {
      if (file.state !== 'done' || !wanted.includes(file.id) || saved.current.has(file.id))
        continue;
      saved.current.add(file.id);
      saveAs(addressOf(id, file), '');
      onSaved(file.id);
    }
  }, [files, wanted, id, onSaved]);
  const remove = (file: ListFile) =>
    ask(screeningRoutes.deleteFile, { screening: id, file: file.id }).then(
      () => refetch(),
      toastError,
    );
  if (files.length === 0) return null;
  return (
    <ul className={styles.files} aria-label="Files of this list">
      {files.map((file) => (
        <li key={file.id}>
          <span>
            CSV {file.reasons ? 'with reasons' : 'without reasons'}
            {file.cutoff !== cutoff && ` at cutoff ${showCutoff(file.cutoff)}`}
          </span>
          {isUnderWay(file) && (
            <>
              <Progress
                done={Math.floor((steps * file.patientsDone) / Math.max(1, file.patients))}
                total={steps}
                label="Writing the file"
              />
              <span className="quiet">
                {file.state === 'waiting' ? 'waiting for a worker' : progressOf(file)}
              </span>
            </>
          )}
          {file.state === 'done' && (
            <a href={addressOf(id, file)} download>
              Download
            </a>
          )}
          {file.problem && <Notice>{file.problem}</Notice>}
          <Button look="link" onClick={() => void remove(file)}>
            {isUnderWay(file) ? 'Cancel' : 'Delete'}
          </Button>
        </li>
      ))}
    </ul>
  );
}

const isUnderWay = ({ state }: ListFile) => state === 'waiting' || state === 'running';

const progressOf = ({ patients, patientsDone, elapsed }: ListFile) =>
  `${showCount(patientsDone)} of ${showCount(patients)} patients written${secondsLeft(elapsed ?? 0, patientsDone, patients)}`;

const addressOf = (id: string, file: ListFile) => `/api/screenings/${id}/files/${file.id}`;
