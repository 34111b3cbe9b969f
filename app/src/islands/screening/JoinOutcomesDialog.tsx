import { useState } from 'react';
import { ask, messageOf } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { uploadRoutes, type UploadReview } from '../../contract/uploads.ts';
import { Button, Dialog, DialogActions, Notice, Select } from '../../components/index.ts';
import type { Joinable } from './looks-like-outcomes.ts';

interface Props {
  upload: UploadReview;
  /** What the file calls its columns. */
  columns: string[];
  joinable: Joinable[];
  /** The file with the outcomes beside the list. */
  onJoined: (joined: UploadReview, to: Joinable) => Promise<void>;
  /** Takes the file as a list all the same. */
  onList: () => void;
  onClose: () => void;
}

/** Offers to join a file of outcomes to the list that it is about. */
export function JoinOutcomesDialog(props: Props) {
  const { upload, columns, joinable, onJoined, onList, onClose } = props;
  const [chosen, setChosen] = useState(joinable[0].list.id);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string>();
  const to = joinable.find(({ list }) => list.id === chosen) ?? joinable[0];
  const join = async () => {
    setBusy(true);
    setProblem(undefined);
    try {
      const joined = await ask(
        uploadRoutes.combine,
        {},
        {
          body: {
            how: 'join',
            first: to.list.uploadId,
            second: upload.id,
            on: to.on,
            onSecond: to.on,
            several: 'refuse',
          },
        },
      );
      await onJoined(joined, to);
    } catch (error) {
      setProblem(messageOf(error));
      setBusy(false);
    }
  };
  return (
    <Dialog title="Join these outcomes to a list?" onClose={onClose}>
      <p>
        {upload.fileName} has {columns.join(', ')} of {plural(upload.rowCount, 'row')} and none of
        the predictors. It seems to hold the outcomes of a list.
      </p>
      <Select
        label="List"
        value={to.list.id}
        options={joinable.map(({ list }) => ({ value: list.id, label: list.name }))}
        onChange={setChosen}
      />
      <p className="quiet">
        Patients are matched by {to.on}. The list with its outcomes becomes a new list; the old one
        stays.
      </p>
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button onClick={onList}>Bring it in as a list</Button>
        <Button look="main" data-first disabled={busy} onClick={() => void join()}>
          {busy ? 'Joining' : `Join to ${to.list.name}`}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
