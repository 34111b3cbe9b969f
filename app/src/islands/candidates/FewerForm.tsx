import { useState, type SyntheticEvent } from 'react';
import { predictorsFor, predictorsOffered, type Basis } from '@rook-scale/core/design';
import {
  fewerFits,
  fewerTried,
  fewerWays,
  SearchError,
  usualHalves,
  type FewerPlan,
  type FewerWay,
} from '@rook-scale/core/search';
import { plural } from '../../browser/format.ts';
import { readNumber } from '../../browser/numbers.ts';
import { Field } from '../../components/index.ts';
import { MeasureField, SearchFoot, type FoundPlan } from '../search/index.ts';
import { BasisChoice } from './BasisChoice.tsx';
import { useComparedForm, type ComparedFormProps } from './compared-form.ts';
import { OwnSets, type OwnSet } from './OwnSets.tsx';
import { PredictorPicks } from './PredictorPicks.tsx';
import { SettingFields } from './SettingFields.tsx';
import styles from './Candidates.module.css';

/** Predictors are selected inside every fold, and their numbers compared. */
export function FewerForm(props: ComparedFormProps) {
  const { studyId, design, family, kind, parts, onClose } = props;
  const { form, basis, setBasis, measure, setMeasure, problem, submit } = useComparedForm(props);
  const [way, setWay] = useState<FewerWay>('backward');
  const [most, setMost] = useState('10');
  const [halves, setHalves] = useState(String(usualHalves));
  const [pinned, setPinned] = useState<string[]>([]);
  const [sets, setSets] = useState<OwnSet[]>([]);
  const isOwn = way === 'sets';
  // Sets of one's own are of whatever can be a predictor.
  const offered = [...predictorsOffered(design)];
  const from = isOwn ? offered : predictorsFor(design, basis);
  const asked: Basis = isOwn ? { ...withoutPredictors(basis), own: offered } : basis;
  const fewer = fewerOf({
    way,
    most,
    halves,
    sets,
    pinned: pinned.filter((one) => from.includes(one)),
  });
  const found = foundOf(fewer, from, parts, measure);
  const number = (label: string, value: string, set: (value: string) => void, help: string) => (
    <Field label={label} help={help}>
      {(ids) => (
        <input
          {...ids}
          className="figures"
          inputMode="numeric"
          value={value}
          onChange={({ target }) => set(target.value)}
        />
      )}
    </Field>
  );
  return (
    <form
      className={styles.form}
      noValidate
      onSubmit={(event: SyntheticEvent) => void submit(found, asked)(event)}
    >
      <Field label="Selected" help={fewerWays.find((one) => one.way === way)?.about}>
        {(ids) => (
          <select {...ids} value={way} onChange={({ target }) => setWay(target.value as FewerWay)}>
            {fewerWays.map((one) => (
              <option key={one.way} value={one.way}>
                {one.name}
              </option>
            ))}
          </select>
        )}
      </Field>
      {way === 'forward' &&
        number('At most', most, setMost, 'Predictors that are taken in; all of them stand beside.')}
      {isOwn ? (
        <OwnSets {...{ studyId, offered, sets }} kept={design.predictorSets} onChange={setSets} />
      ) : (
        <>
          <BasisChoice studyId={studyId} design={design} value={basis} onChange={setBasis} />
          <PredictorPicks
            studyId={studyId}
            label="Pinned"
            help="Predictors that stay in any case."
            offered={from}
            value={pinned.filter((one) => from.includes(one))}
            onChange={setPinned}
          />
          {number(
            'Half samples',
            halves,
            setHalves,
            'The selection is made in so many halves of the patients too, to see how steady it is. 0 leaves that out.',
          )}
        </>
      )}
      <MeasureField kind={kind} value={measure} onChange={setMeasure} />
      {family.settings.length > 0 && (
        <details className={styles.further} open={hasErrors(form.formState.errors) || undefined}>
          <summary>Settings of each fit</summary>
          <div className={styles.form}>
            <SettingFields {...{ studyId, family, form }} predictors={design.predictors} />
          </div>
        </details>
      )}
      <SearchFoot
        {...{ studyId, found, problem, onClose }}
        adding={form.formState.isSubmitting}
        asked={{ family: family.id, basis: asked }}
        submit="Select"
      />
    </form>
  );
}

const hasErrors = (errors: object) => Object.keys(errors).length > 0;

const withoutPredictors = ({ preparation }: Basis): Basis =>
  preparation === undefined ? {} : { preparation };

interface Asked {
  way: FewerWay;
  most: string;
  halves: string;
  sets: OwnSet[];
  pinned: string[];
}

/** What was typed as a plan, or why it is none. */
function fewerOf({ way, most, halves, sets, pinned }: Asked): FewerPlan | string {
  if (way === 'sets') {
    const unnamed = sets.find(({ name }) => name.trim() === '');
    if (unnamed) return 'Give each set a name.';
    const empty = sets.find(({ predictors }) => predictors.length === 0);
    if (empty) return `Tick the predictors of “${empty.name.trim()}”.`;
    return {
      way,
      pinned: [],
      sets: sets.map(({ name, predictors }) => ({ name: name.trim(), predictors })),
      halves: 0,
    };
  }
  const many = wholeIn(halves, 0, 200);
  if (many === undefined) return 'Half samples: a whole number from 0 to 200.';
  if (way !== 'forward') return { way, pinned, sets: [], halves: many };
  const upTo = wholeIn(most, 1, 200);
  if (upTo === undefined) return 'At most: a whole number from 1 to 200.';
  return { way, pinned, sets: [], halves: many, most: upTo };
}

function wholeIn(typed: string, least: number, most: number): number | undefined {
  const value = readNumber(typed);
  return Number.isInteger(value) && value >= least && value <= most ? value : undefined;
}

function foundOf(
  fewer: FewerPlan | string,
  predictors: string[],
  parts: number,
  measure: string,
): FoundPlan {
  if (typeof fewer === 'string') return { why: fewer };
  try {
    const tried = fewerTried(fewer, predictors);
    const { fold, all, half } = fewerFits(fewer, predictors.length);
    const fits = fold * parts + all + half * fewer.halves;
    const what =
      fewer.way === 'sets'
        ? plural(tried.length, 'set')
        : `${plural(tried.length, 'number')} of predictors`;
    const samples = fewer.halves > 0 ? ` and ${plural(fewer.halves, 'half sample')}` : '';
    return {
      plan: { tried: {}, fixed: {}, way: { kind: 'all' }, measure, fewer },
      said: `${what} in ${plural(parts, 'fold')}${samples}: ${plural(fits, 'fit')}. `,
    };
  } catch (error) {
    if (error instanceof SearchError) return { why: error.message };
    throw error;
  }
}
