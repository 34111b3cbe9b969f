import { useQuery } from '@tanstack/react-query';
import type { DivisionCounts } from '@rook-scale/core/design';
import {
  coxSnellOfArea,
  enoughForEvents,
  enoughForNumbers,
  hardest,
  largestCoxSnell,
  type Criterion,
} from '@rook-scale/core/planning';
import type { ColumnSummary } from '@rook-scale/core/table';
import { designRoutes } from '../../contract/designs.ts';
import { useAddress } from '../../browser/address.ts';
import { ask } from '../../browser/api.ts';
import { plural, showCount } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import { Field, NumberField } from '../../components/index.ts';
import type { SectionProps } from './DesignPage.tsx';
import styles from './Design.module.css';

/** How many development patients it takes, for as many inputs and as good a model as is expected. */
export function Enough({ studyId, ...props }: SectionProps & { studyId: string }) {
  const { design, state } = props;
  const { data: fitted } = useQuery({
    queryKey: ['preparation', studyId, state.fitKey, 0],
    queryFn: () => ask(designRoutes.preparation, { study: studyId }, { query: { without: 0 } }),
    enabled: state.divisionId !== null,
  });
  const inputs = fitted?.inputs.length ?? 0;
  return (
    <section className={styles.section} aria-labelledby="enough">
      <h2 id="enough">How many patients are enough</h2>
      {state.counts && fitted ? (
        <>
          <p>{haveText(state.counts, inputs, design.kind === 'event' ? 'event' : 'case')}</p>
          {inputs > 0 && <Needed {...props} counts={state.counts} inputs={inputs} />}
        </>
      ) : (
        <p className="quiet">Counted as soon as patients are divided.</p>
      )}
    </section>
  );
}

function haveText({ development }: DivisionCounts, inputs: number, what: string): string {
  const { patients, events } = development;
  const rarer = Math.min(events, patients - events);
  const name = rarer === events ? `${what}s` : `patients without the ${what}`;
  const each =
    inputs > 0
      ? `: ${showFixed(rarer / inputs, 1)} ${name} for each of ${plural(inputs, 'model input')}`
      : '';
  return `${plural(patients, 'development patient')}, ${showCount(events)} of them ${what}s${each}.`;
}

interface NeededProps extends SectionProps {
  counts: DivisionCounts;
  inputs: number;
}

function Needed({ design, cohort, counts, inputs }: NeededProps) {
  const { patients, events } = counts.development;
  const share = events / patients;
  const [expected, setExpected] = useAddress('expected');
  if (design.kind === 'levels')
    return (
      <p className="quiet">
        For several levels no least number is worked out here: think of the rarest level, of which{' '}
        {showCount(Math.min(...(counts.levels ?? [0])))} are for development.
      </p>
    );
  if (design.kind === 'number') {
    const r2 = Number(expected ?? 0.2);
    const place = cohort.dictionary.findIndex(({ name }) => name === design.outcome);
    const numbers = (cohort.summaries[place] as ColumnSummary | undefined)?.numbers;
    if (!numbers) return null;
    const { mean, sd } = numbers;
    return (
      <>
        <div className={styles.fields}>
          <NumberField
            label="Expected R²"
            help="Adjusted, in new patients"
            value={r2}
            least={0.01}
            most={0.95}
            onChange={(value) => setExpected(String(value), 'replace')}
          />
        </div>
        <Criteria
          criteria={enoughForNumbers({ parameters: inputs, r2, mean, sd })}
          have={patients}
        />
      </>
    );
  }
  const { by, value } = readExpected(expected);
  const most = largestCoxSnell(share);
  const coxSnell = by === 'area' ? coxSnellOfArea(value, share) : value * most;
  return (
    <>
      <div className={styles.fields}>
        <Field label="Expected of the model">
          {(ids) => (
            <select
              {...ids}
              value={by}
              onChange={({ target }) => {
                const next = target.value === 'share' ? 'share' : 'area';
                setExpected(`${next} ${firstGuess[next]}`, 'replace');
              }}
            >
              <option value="area">an AUC</option>
              <option value="share">a share of the possible R²</option>
            </select>
          )}
        </Field>
        <NumberField
          key={by}
          label={by === 'area' ? 'AUC' : 'Nagelkerke’s R²'}
          value={value}
          least={by === 'area' ? 0.51 : 0.01}
          most={by === 'area' ? 0.99 : 0.95}
          onChange={(next) => setExpected(`${by} ${next}`, 'replace')}
        />
      </div>
      <Criteria
        criteria={enoughForEvents({ parameters: inputs, share, coxSnell })}
        have={patients}
      />
    </>
  );
}

type Expectation = 'area' | 'share';
/** Where nothing is known: a middling AUC, or the share that Riley et al. (2020) suggest. */
const firstGuess: { [By in Expectation]: number } = { area: 0.75, share: 0.15 };

function readExpected(text = ''): { by: Expectation; value: number } {
  const [by, value] = text.split(' ');
  const known = by === 'share' ? 'share' : 'area';
  const number = Number(value);
  const most = known === 'area' ? 0.99 : 0.95;
  const least = known === 'area' ? 0.51 : 0.01;
  return { by: known, value: number >= least && number <= most ? number : firstGuess[known] };
}

function Criteria({ criteria, have }: { criteria: Criterion[]; have: number }) {
  const { patients: needed } = hardest(criteria);
  return (
    <>
      <table className={styles.enough}>
        <thead>
          <tr>
            <th scope="col">So that …</th>
            <th scope="col" className={styles.right}>
              Patients
            </th>
          </tr>
        </thead>
        <tbody>
          {criteria.map(({ id, patients }) => (
            <tr key={id} data-short={patients > have}>
              <th scope="row">{words[id]}</th>
              <td className={styles.number}>{showCount(patients)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        {needed > have ? (
          <>
            <strong>{showCount(needed)} patients would be needed</strong>,{' '}
            {showCount(needed - have)} more than there are: expect figures out of fold to fall short
            of what the fit promises, use fewer predictors, or hold out fewer.
          </>
        ) : (
          <>{showCount(needed)} patients are needed: there are enough for this many inputs.</>
        )}{' '}
        <span className="quiet">Riley et al. 2020, BMJ 368:m441.</span>
      </p>
    </>
  );
}

const words: { [Id in Criterion['id']]: string } = {
  shrinkage: 'coefficients need shrinking by 10% at most',
  optimism: 'R² in these patients is at most 0.05 above what it is in others',
  'overall risk': 'the overall risk is known to within 5 points',
  'error of risks': 'risks are off by 5 points on average at most',
  'residual SD': 'the residual SD is known to within 10%',
  'overall mean': 'the overall mean is known to within 10%',
};
