import { useState } from 'react';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { Button, Dialog, DialogActions, Select } from '../../components/index.ts';

const formats = [
  { value: 'csv', label: 'CSV' },
  { value: 'xlsx', label: 'workbook, with the dictionary on a sheet of its own' },
  { value: 'parquet', label: 'Parquet, with the dictionary in its metadata' },
];

interface Props {
  cohort: CohortInfo;
  /** Whether there are sides, and a sealed one. */
  split: boolean;
  sealed: boolean;
}

/** The cohort as a file: all patients or one side of the split. */
export function TakeOut({ cohort, split, sealed }: Props) {
  const [open, setOpen] = useState(false);
  const [format, setFormat] = useState('csv');
  const [side, setSide] = useState('all');
  const [marks, setMarks] = useState(false);
  const address = `/api/cohorts/${cohort.id}/file?${new URLSearchParams({ format, side, ...(split && marks && { marks: 'yes' }) }).toString()}`;
  return (
    <>
      <Button look="link" onClick={() => setOpen(true)}>
        Save the patients as a file
      </Button>
      {open && (
        <Dialog title={`Save ${cohort.name} as a file`} onClose={() => setOpen(false)}>
          <Select label="As" value={format} options={formats} onChange={setFormat} />
          <Select
            label="Who"
            value={side}
            options={[
              { value: 'all', label: 'all patients' },
              ...(split
                ? [
                    { value: 'development', label: 'development patients' },
                    { value: 'held out', label: 'held-out patients' },
                    ...(sealed ? [{ value: 'sealed', label: 'sealed patients' }] : []),
                  ]
                : []),
            ]}
            onChange={setSide}
          />
          {split && (
            <label>
              <input
                type="checkbox"
                checked={marks}
                onChange={({ target }) => setMarks(target.checked)}
              />{' '}
              with a column each for side and fold
            </label>
          )}
          <p className="quiet">
            As they are read here: not known is empty, levels by their names, derived columns as
            columns. For CSV the dictionary is saved on its own.
            {sealed && ' Outcomes of sealed patients are left out until they are opened.'}
          </p>
          <DialogActions>
            <Button onClick={() => setOpen(false)}>Cancel</Button>
            <a href={address} download onClick={() => setOpen(false)}>
              Save the file
            </a>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}
