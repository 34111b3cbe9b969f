import { useEffect, useRef, useState } from 'react';
import { messageOf } from '../../browser/api.ts';
import { plural, showCount } from '../../browser/format.ts';
import { secondsLeft } from '../../browser/progress.ts';
import { Button, Dialog, DialogActions, Notice, Progress } from '../../components/index.ts';
import { downloadLines } from './download-lines.ts';
import styles from './Screening.module.css';

/** Patients from which a file is a wait: its progress is shown then. */
export const largeList = 20_000;
/** Steps of the progress bar. */
const steps = 20;

interface Props {
  id: string;
  rowCount: number;
  cutoff: number | undefined;
  /** Whether the model can give reasons. */
  hasReasons: boolean;
  onClose: () => void;
}

/** The file of a long list, with reasons or without, and how far it has come. */
export function DownloadDialog({ id, rowCount, cutoff, hasReasons, onClose }: Props) {
  const [reasons, setReasons] = useState(hasReasons);
  const [done, setDone] = useState<number>();
  const [left, setLeft] = useState('');
  const [problem, setProblem] = useState<string>();
  const underWay = useRef<AbortController>(undefined);
  useEffect(() => () => underWay.current?.abort(), []);
  const start = async () => {
    const control = new AbortController();
    underWay.current = control;
    setProblem(undefined);
    setDone(0);
    setLeft('');
    const begun = Date.now();
    const hear = (lines: number) => {
      setDone(lines);
      setLeft(secondsLeft(Date.now() - begun, lines, rowCount));
    };
    const query = new URLSearchParams({
      reasons: reasons ? 'yes' : 'no',
      ...(cutoff !== undefined && { cutoff: String(cutoff) }),
    });
    try {
      await downloadLines(`/api/screenings/${id}/file?${query}`, control.signal, hear);
      onClose();
    } catch (error) {
      if (control.signal.aborted) return;
      setDone(undefined);
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog title={`Download ${plural(rowCount, 'patient')}`} onClose={onClose}>
      {hasReasons && (
        <label className={styles.reasonsChoice}>
          <input
            type="checkbox"
            checked={reasons}
            disabled={done !== undefined}
            onChange={({ target }) => setReasons(target.checked)}
          />
          <span>
            With the three strongest reasons of each patient
            <br />
            <span className="quiet">
              Without them the file comes sooner; its columns stay the same.
            </span>
          </span>
        </label>
      )}
      {done !== undefined && (
        <div className={styles.downloading} role="status">
          <Progress
            done={Math.floor((steps * done) / rowCount)}
            total={steps}
            label="Writing the file"
          />
          <span>
            {showCount(done)} of {plural(rowCount, 'patient')} written
            {left}
          </span>
        </div>
      )}
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" data-first disabled={done !== undefined} onClick={() => void start()}>
          Download CSV
        </Button>
      </DialogActions>
    </Dialog>
  );
}
