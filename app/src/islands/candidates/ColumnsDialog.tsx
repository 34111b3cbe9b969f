import type { OutcomeKind } from '@rook-scale/core/outcome';
import { Button, Dialog, DialogActions } from '../../components/index.ts';
import { keepColumns, useKeptColumns } from './kept-columns.ts';
import { ledgerColumns } from './ledger-columns.ts';
import styles from './Candidates.module.css';

/** Which columns the table of candidates has; each change is seen at once, and kept in this browser. */
export function ColumnsDialog({ kind, onClose }: { kind: OutcomeKind; onClose: () => void }) {
  const shown = new Set(useKeptColumns(kind).map(({ key }) => key));
  const offered = ledgerColumns(kind).filter(({ key }) => key !== 'name');
  const turn = (key: string, isShown: boolean) =>
    keepColumns(
      kind,
      offered.map((column) => column.key).filter((one) => (one === key ? isShown : shown.has(one))),
    );
  return (
    <Dialog title="Columns of the table" onClose={onClose}>
      <fieldset className={styles.families}>
        <legend className="hidden">Shown</legend>
        {offered.map(({ key, head, beside, help }) => (
          <label key={key}>
            <input
              type="checkbox"
              checked={shown.has(key)}
              // The last one stays: a table of names alone says nothing.
              disabled={shown.size === 2 && shown.has(key)}
              onChange={({ target }) => turn(key, target.checked)}
            />
            <span>
              {head}
              {beside && `, with the ${beside}`}
              {help && (
                <>
                  <br />
                  <span className="quiet">{help}</span>
                </>
              )}
            </span>
          </label>
        ))}
      </fieldset>
      <DialogActions>
        <Button onClick={() => keepColumns(kind, undefined)}>As usual</Button>
        <Button look="main" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}
