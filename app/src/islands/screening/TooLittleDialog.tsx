import { display } from '@rook-scale/core/table';
import type { CohortCheck } from '../../contract/screenings.ts';
import { plural, showCount, showPercent } from '../../browser/format.ts';
import { showDigits } from '../../browser/numbers.ts';
import { Button, Dialog, DialogActions } from '../../components/index.ts';
import styles from './Match.module.css';

interface Props {
  check: CohortCheck;
  onScore: () => void;
  onClose: () => void;
}

/** Asks before patients are scored on what hardly any development patient had. */
export function TooLittleDialog({ check, onScore, onClose }: Props) {
  const { unfamiliarPatients: count, rowCount, predictors } = check;
  return (
    <Dialog title="Some risks would rest on too little" onClose={onClose}>
      <p>
        Of {plural(rowCount, 'patient')} {showCount(count)} {count === 1 ? 'has' : 'have'} what no
        or hardly any development patient had. The model has not learned what it means there:
      </p>
      <ul className={styles.reasons}>
        {predictors.flatMap((one) =>
          one.unfamiliar.map((what) => (
            <li key={`${one.name} ${what.what} ${what.level ?? what.besides ?? ''}`}>
              {unfamiliarText(one, what)}: {plural(what.rows, 'patient')} here,{' '}
              {what.then === 0 ? 'none' : showCount(what.then)} then
            </li>
          )),
        )}
      </ul>
      <p>They are marked in the list and in the file if you score them all the same.</p>
      <DialogActions>
        <Button onClick={onClose} data-first>
          Cancel
        </Button>
        <Button look="main" onClick={onScore}>
          Score all the same
        </Button>
      </DialogActions>
    </Dialog>
  );
}

type Predictor = CohortCheck['predictors'][number];

/** "Copper not known, though chol is", "Edema 0.75", "Bilirubin far beyond 0.3 to 28". */
export function unfamiliarText(
  one: Pick<Predictor, 'name' | 'label'> & Partial<Pick<Predictor, 'range'>>,
  { what, level, besides, displaced }: Predictor['unfamiliar'][number],
): string {
  const name = display(one);
  if (what === 'level') return `${name} ${level ?? ''}`;
  if (what === 'gap') return `${name} not known${besides ? `, though ${besides} is` : ''}`;
  if (displaced) {
    const { medianThen, medianNow, outside } = displaced;
    return `${name} may be in another unit (median ${short(medianNow)}, in development ${short(medianThen)}; ${showPercent(outside)} outside the development range)`;
  }
  return `${name} far beyond ${one.range?.map((end) => short(end)).join(' to ') ?? 'the development patients'}`;
}

const short = (value: number): string => showDigits(value, 4);
