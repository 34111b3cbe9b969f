import type { Design } from '@rook-scale/core/design';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { isAboutRows, display, isCoded, type DictionaryEntry } from '@rook-scale/core/table';
import { showCount, showPercent } from '../../browser/format.ts';
import type { SectionProps } from './DesignPage.tsx';
import { CodesToLevels, mayBeCodes } from './CodesToLevels.tsx';
import styles from './Design.module.css';
import { NumberField } from '../../components/index.ts';

/** What is predicted, as what, and in words what a case is. */
export function Outcome(props: SectionProps) {
  const { cohort, design, change } = props;
  const offered = (wanted: (entry: DictionaryEntry) => boolean) =>
    cohort.dictionary.filter((entry) => !isAboutRows(entry) && wanted(entry));
  const coded = offered(({ kind }) => isCoded(kind));
  const numbers = offered(({ kind }) => kind === 'number');
  const unusable = cohort.dictionary.filter(
    (entry) => !coded.includes(entry) && !numbers.includes(entry),
  );
  const position = cohort.dictionary.findIndex((entry) => entry.name === design.outcome);
  const outcome = cohort.dictionary[position];
  const Case = outcome ? choices[design.kind] : undefined;
  return (
    <section className={styles.section} aria-labelledby="outcome">
      <h2 id="outcome">What is predicted</h2>
      <div className={styles.outcome}>
        <label>
          Predict
          <select
            value={design.outcome}
            onChange={(event) => change(chosen(event.target.value, props))}
          >
            <option value="">choose a column</option>
            {coded.map((entry) => (
              <Offer key={entry.name} entry={entry} />
            ))}
            {numbers.length > 0 && (
              <optgroup label="Numbers">
                {numbers.map((entry) => (
                  <Offer key={entry.name} entry={entry} />
                ))}
              </optgroup>
            )}
            {unusable.length > 0 && (
              <optgroup label="Cannot be predicted">
                {unusable.map((entry) => (
                  <option key={entry.name} disabled>
                    {display(entry)}: {whyNot(entry)}
                  </option>
                ))}
              </optgroup>
            )}
          </select>
        </label>
        {outcome && (outcome.levels?.length ?? 0) > 2 && (
          <label>
            as
            <select
              aria-label="Predicted as"
              value={design.kind}
              onChange={(event) => change(predictedAs(event.target.value as OutcomeKind, outcome))}
            >
              <option value="event">one level against the rest</option>
              <option value="levels">
                {outcome.kind === 'ordered category' ? 'levels in their order' : 'several levels'}
              </option>
            </select>
          </label>
        )}
        {outcome && Case && (
          <Case {...props} outcome={outcome} counts={cohort.summaries[position]?.counts ?? []} />
        )}
      </div>
      {outcome && design.kind === 'event' && !design.event && (
        <p className={styles.ask}>
          Which level is the event, the one to find? Nothing can be fitted before this is said.
        </p>
      )}
      {outcome && design.kind === 'levels' && design.cases.length === 0 && (
        <p className={styles.ask}>
          Which levels are cases, to be called in? Nothing can be fitted before this is said.
        </p>
      )}
      {outcome && design.kind === 'number' && design.caseFrom === null && (
        <p className={styles.ask}>
          From which value on is a patient a case, to be called in? Nothing can be fitted before
          this is said.
        </p>
      )}
    </section>
  );
}

interface CaseProps extends SectionProps {
  outcome: DictionaryEntry;
  /** Patients of each level. */
  counts: number[];
}

/** How it is said what a case is, by kind. */
const choices: { [K in OutcomeKind]: (props: CaseProps) => React.JSX.Element } = {
  event: EventChoice,
  levels: LevelChoice,
  number: NumberChoice,
};

function EventChoice({ design, change, outcome, counts }: CaseProps) {
  return (
    <fieldset className={styles.levels}>
      <legend className="hidden">The event: the level to find</legend>
      {(outcome.levels ?? []).map((level, i) => (
        <label key={level} className={level === design.event ? styles.event : undefined}>
          <input
            type="radio"
            name="event"
            checked={level === design.event}
            onChange={() => change({ event: level })}
          />
          = {level}
          <Share counts={counts} place={i} />
        </label>
      ))}
    </fieldset>
  );
}

function LevelChoice({ design, change, outcome, counts }: CaseProps) {
  const levels = outcome.levels ?? [];
  const toggle = (level: string) =>
    change({
      cases: levels.filter((one) => design.cases.includes(one) !== (one === level)),
    });
  return (
    <table className={styles.levelTable}>
      <caption className="hidden">
        Which levels are cases, and what the others are compared with
      </caption>
      <thead>
        <tr>
          <th scope="col">Level</th>
          <th scope="col">Patients</th>
          <th scope="col">Is a case</th>
          <th scope="col">Compared with</th>
        </tr>
      </thead>
      <tbody>
        {levels.map((level, i) => {
          const isCase = design.cases.includes(level);
          return (
            <tr key={level}>
              <th scope="row" className={isCase ? styles.event : undefined}>
                {level}
              </th>
              <td>
                <Share counts={counts} place={i} />
              </td>
              <td>
                <input
                  type="checkbox"
                  aria-label={`${level} is a case`}
                  checked={isCase}
                  onChange={() => toggle(level)}
                />
              </td>
              <td>
                <input
                  type="radio"
                  name="reference"
                  aria-label={`Compare the others with ${level}`}
                  checked={level === design.reference}
                  onChange={() => change({ reference: level })}
                />
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function NumberChoice({ design, change, state, cohort, outcome }: CaseProps) {
  const { counts } = state;
  const summary = cohort.summaries[cohort.dictionary.indexOf(outcome)];
  return (
    <div className={styles.caseValue}>
      <NumberField
        label={`A case is${outcome.unit ? `, in ${outcome.unit}` : ''}`}
        value={design.caseFrom ?? undefined}
        least={-1e300}
        most={1e300}
        onChange={(value) => change({ caseFrom: value })}
      />
      <label>
        <span className="hidden">Which side of it</span>
        <select
          value={design.caseSide}
          onChange={(event) => change({ caseSide: event.target.value as Design['caseSide'] })}
        >
          <option value="from">or more</option>
          <option value="up to">or less</option>
        </select>
      </label>
      {counts && (
        <span className="quiet">
          {showCount(counts.development.events + counts.heldOut.events)} of{' '}
          {showCount(counts.development.patients + counts.heldOut.patients)} patients
        </span>
      )}
      {summary && mayBeCodes(outcome, summary) && (
        <CodesToLevels cohort={cohort} outcome={outcome} />
      )}
    </div>
  );
}

const Offer = ({ entry }: { entry: DictionaryEntry }) => (
  <option value={entry.name}>{display(entry)}</option>
);

function Share({ counts, place }: { counts: number[]; place: number }) {
  const known = counts.reduce((sum, count) => sum + count, 0);
  const own = counts[place] ?? 0;
  return (
    <span className="quiet">
      {showCount(own)} of {showCount(known)}, {showPercent(own / Math.max(1, known))}
    </span>
  );
}

/** Another column: what was said of the one before is not carried over. */
function chosen(name: string, { cohort, design }: SectionProps): Partial<Design> {
  const entry = cohort.dictionary.find((one) => one.name === name);
  return {
    outcome: name,
    kind: entry?.kind === 'number' ? 'number' : 'event',
    event: '',
    reference: '',
    cases: [],
    caseFrom: null,
    predictors: design.predictors.filter((one) => one !== name),
  };
}

/** Several levels begin with the first as the one that the others are compared with. */
function predictedAs(kind: OutcomeKind, { levels = [] }: DictionaryEntry): Partial<Design> {
  return kind === 'levels' ? { kind, reference: levels[0] } : { kind };
}

/** Why a column is not offered as the outcome, and what would make it one. */
function whyNot({ role, kind }: DictionaryEntry): string {
  if (role === 'identifier') return 'says who the patient is';
  if (role === 'number of patients') return 'says how many patients a row is';
  return `${kind === 'date' ? 'a date' : 'text'} has no levels; make it a category in Records`;
}
