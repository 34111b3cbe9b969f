import { useState } from 'react';
import { screeningRoutes } from '../../contract/screenings.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { Button, Dialog, DialogActions, Notice } from '../../components/index.ts';
import styles from './Screening.module.css';

/** Patients from which a file is a wait: a worker writes it. */
export const largeList = 20_000;

interface Props {
  id: string;
  rowCount: number;
  cutoff: number | undefined;
  /** Whether the model can give reasons. */
  hasReasons: boolean;
  onAsked: (fileId: string) => void;
  onClose: () => void;
}

/** Asks for the file of a long list, with reasons or without. */
export function DownloadDialog({ id, rowCount, cutoff, hasReasons, onAsked, onClose }: Props) {
  const [reasons, setReasons] = useState(hasReasons);
  const [asking, setAsking] = useState(false);
  const [problem, setProblem] = useState<string>();
  const start = async () => {
    setAsking(true);
    setProblem(undefined);
    try {
      const body = { reasons, ...(cutoff !== undefined && { cutoff }) };
      const file = await ask(screeningRoutes.askFile, { screening: id }, { body });
      onAsked(file.id);
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
      setAsking(false);
    }
  };
  return (
    <Dialog title={`Download ${plural(rowCount, 'patient')}`} onClose={onClose}>
      {hasReasons && (
        <label className={styles.reasonsChoice}>
          <input
            type="checkbox"
            checked={reasons}
            onChange={({ target }) => setReasons(target.checked)}
          />
          <span>
            With the three strongest reasons for each patient
            <br />
            <span className="quiet">
              Without reasons the file is ready sooner; its columns stay the same.
            </span>
          </span>
        </label>
      )}
      <p className="quiet">
        The file is written in the background. You can leave this page; the file stays available for
        a day.
      </p>
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" data-first disabled={asking} onClick={() => void start()}>
          Download CSV
        </Button>
      </DialogActions>
    </Dialog>
  );
}
