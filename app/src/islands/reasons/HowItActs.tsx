import type { CandidateLine } from '../../contract/candidates.ts';
import type { EffectView } from '../../contract/reasons.ts';
import { messageOf } from '../../browser/api.ts';
import { useDictionary } from '../../browser/dictionary.ts';
import { plural, showCount, showNumber } from '../../browser/format.ts';
import { showDigits, showFixed } from '../../browser/numbers.ts';
import { Notice, SavedTable, Select } from '../../components/index.ts';
import { EffectFigure } from './EffectFigure.tsx';
import { turnOf } from './turn.ts';
import { useEffectView } from './use-effect-view.ts';
import styles from './Reasons.module.css';

interface Props {
  studyId: string;
  line: CandidateLine;
}

/** What is said along one predictor, beside what happened there. */
export function HowItActs({ studyId, line }: Props) {
  const { dictionary, labelOf } = useDictionary(studyId);
  const { order, name, found, error, setAsked } = useEffectView(line);
  const unit = dictionary.find((entry) => entry.name === found?.name)?.unit ?? '';
  return (
    <>
      <div className={styles.asked}>
        <Select
          label="Predictor"
          value={name}
          options={order.map((one) => ({ value: one, label: labelOf(one) }))}
          onChange={(one) => setAsked(one, 'replace')}
        />
      </div>
      {error && <Notice>{messageOf(error)}</Notice>}
      {!found && !error && <p role="status">Asking the candidate</p>}
      {found && (
        <div className={styles.effect}>
          <EffectFigure found={found} label={labelOf(found.name)} unit={unit} />
          <Beside found={found} label={labelOf(found.name)} />
        </div>
      )}
    </>
  );
}

const short = (value: number) => showDigits(value, 4);

/** The same in figures, band by band. */
function Beside({ found, label }: { found: EffectView; label: string }) {
  const isShare = found.outcome.choice.kind !== 'number';
  const figure = (value: number | undefined) =>
    value === undefined ? '–' : isShare ? showFixed(value, 3) : showNumber(value);
  const turn = turnOf(found);
  return (
    <div className={styles.words}>
      {turn && <p>{turn.sentence}</p>}
      <SavedTable fileName={`effect-of-${found.name}`}>
        <table className={styles.table} aria-label={`Said and observed by ${label}`}>
          <thead>
            <tr>
              <th scope="col">{label}</th>
              <th scope="col">Patients</th>
              <th scope="col">Told</th>
              <th scope="col">Observed</th>
            </tr>
          </thead>
          <tbody>
            {found.bands.map(({ from, to, level, patients, observed, said }) => (
              <tr key={level ?? from}>
                <th scope="row">
                  {level ?? (from === to ? short(from!) : `${short(from!)} to ${short(to!)}`)}
                </th>
                <td>{showCount(patients)}</td>
                <td>{figure(said)}</td>
                <td>{figure(observed)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </SavedTable>
      <p className="quiet">
        {isShare ? 'Shares of cases' : 'Means'} among{' '}
        {plural(found.patients, 'development patient')}, whom the candidate has learned from.
        {found.unknown > 0 &&
          ` Of ${showCount(found.unknown)} it is not known: they are in no band.`}
      </p>
    </div>
  );
}
