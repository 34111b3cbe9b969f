import { useMemo, useState, type ReactNode, type SyntheticEvent } from 'react';
import type { Basis, Design } from '@rook-scale/core/design';
import type { FamilyDescription, SettingField, Settings } from '@rook-scale/core/families';
import {
  groupsOf,
  mostTried,
  SearchError,
  searchMeasures,
  settingsTried,
  type SearchPlan,
} from '@rook-scale/core/search';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { ask, messageOf } from '../../browser/api.ts';
import { plural, showCount } from '../../browser/format.ts';
import { searchRoutes } from '../../contract/searches.ts';
import { Field } from '../../components/index.ts';
import { MeasureField } from './MeasureField.tsx';
import { SearchFoot, type FoundPlan } from './SearchFoot.tsx';
import { ValuesField } from './ValuesField.tsx';
import { valuesOf, type Asked } from './asked-values.ts';
import styles from './Search.module.css';

interface Props {
  studyId: string;
  design: Pick<Design, 'seed'>;
  kind: OutcomeKind;
  /** Fits that one of the settings takes: folds, times they are dealt. */
  parts: number;
  /** Development patients; where they are few, there is nothing to be won by a race. */
  patients: number;
  family: FamilyDescription;
  first: Settings;
  basis: Basis;
  /** What candidates and searches are asked for alike. */
  children: ReactNode;
  onClose: () => void;
  onAdded: (search: string) => void;
}

type Way = SearchPlan['way']['kind'];

/** Patients from whom on a race is begun on a share of them. */
const fewestForRace = 900;

/** Settings of one family with several values, all fitted and compared. */
export function SearchForm(props: Props) {
  const { studyId, kind, family, first, basis, children, onClose, onAdded } = props;
  const [asked, setAsked] = useState<Record<string, Asked>>({});
  const [way, setWay] = useState<Way>('all');
  const [count, setCount] = useState('60');
  const [measure, setMeasure] = useState(searchMeasures[kind][0].id);
  const [problem, setProblem] = useState<string>();
  const [adding, setAdding] = useState(false);
  const fields = family.settings.filter(isAskable);
  const askedOf = (field: SettingField) => asked[field.name] ?? firstAsked(field, first);
  const shown = fields.filter((field) => isAskedFor(field, family, askedOf));
  const found = useMemo(
    () => planOf(props, asked, way, Number(count), measure),
    [props, asked, way, count, measure],
  );
  const add = async (event: SyntheticEvent) => {
    event.preventDefault();
    if (!('plan' in found)) return;
    setAdding(true);
    setProblem(undefined);
    try {
      const body = { family: family.id, plan: found.plan, basis };
      onAdded((await ask(searchRoutes.add, { study: studyId }, { body })).id);
    } catch (error) {
      setProblem(messageOf(error));
      setAdding(false);
    }
  };
  const field = (one: (typeof fields)[number]) => (
    <ValuesField
      key={one.name}
      field={one}
      asked={askedOf(one)}
      onChange={(next) => setAsked({ ...asked, [one.name]: next })}
    />
  );
  const further = shown.filter((one) => one.further);
  return (
    <form className={styles.form} noValidate onSubmit={(event) => void add(event)}>
      {shown.filter((one) => !one.further).map(field)}
      {further.length > 0 && (
        <details className={styles.further}>
          <summary>More settings</summary>
          <div className={styles.form}>{further.map(field)}</div>
        </details>
      )}
      <Field label="Tried" help={waysHelp[way]}>
        {(ids) => (
          <span className={styles.values}>
            <select {...ids} value={way} onChange={({ target }) => setWay(target.value as Way)}>
              <option value="all">all combinations</option>
              <option value="drawn">some, drawn at random</option>
              {(props.patients >= fewestForRace || way === 'race') && (
                <option value="race">a race</option>
              )}
            </select>
            {way === 'drawn' && (
              <input
                aria-label="How many are drawn"
                className={`figures ${styles.short}`}
                inputMode="numeric"
                value={count}
                onChange={({ target }) => setCount(target.value)}
              />
            )}
          </span>
        )}
      </Field>
      <MeasureField kind={kind} value={measure} onChange={setMeasure} />
      {children}
      <SearchFoot
        {...{ studyId, found, problem, adding, onClose }}
        asked={{ family: family.id, basis }}
        submit="Search"
      />
    </form>
  );
}

const waysHelp: Record<Way, string> = {
  all: 'Every combination is fitted in every fold.',
  drawn: 'So many of the combinations, drawn by the seed of the design.',
  race: 'All begin on a share of the patients; the better third goes on to three times as many, until the last are fitted on all.',
};

function planOf(
  { family, first, design, parts }: Props,
  asked: Record<string, Asked>,
  way: Way,
  count: number,
  measure: string,
): FoundPlan {
  const tried: SearchPlan['tried'] = {};
  const fixed: Settings = {};
  const askedOf = (field: SettingField) => asked[field.name] ?? firstAsked(field, first);
  for (const field of family.settings) {
    if (!isAskable(field)) {
      if (field.name in first) fixed[field.name] = first[field.name];
      continue;
    }
    if (!isAskedFor(field, family, askedOf)) continue;
    const found = valuesOf(field, askedOf(field));
    if ('error' in found) return { why: found.error };
    if (found.values.length > 1) tried[field.name] = found.values as SearchPlan['tried'][string];
    else fixed[field.name] = found.values[0];
  }
  if (Object.keys(tried).length === 0)
    return { why: 'Give at least one setting a list or a range of values.' };
  if (way === 'drawn' && !(Number.isInteger(count) && count >= 2 && count <= mostTried))
    return { why: `Say how many are drawn: from 2 to ${showCount(mostTried)}.` };
  const plan: SearchPlan = {
    tried,
    fixed,
    way: way === 'drawn' ? { kind: way, count } : { kind: way },
    measure,
  };
  try {
    const settings = settingsTried(family.settings, plan, design.seed);
    const fits = groupsOf(family, settings).length * parts;
    const shared =
      groupsOf(family, settings).length < settings.length
        ? `, for one fit gives several ${labelOf(family)}`
        : '';
    return {
      plan,
      said: `${plural(settings.length, 'combination')} in ${plural(parts, 'fold')}: ${plural(fits, 'fit')}${way === 'race' ? ' at most' : ''}${shared}. `,
    };
  } catch (error) {
    if (error instanceof SearchError) return { why: error.message };
    throw error;
  }
}

/** Whether a setting is asked for with any of the values of the one that it depends on. */
function isAskedFor(
  { when }: SettingField,
  { settings }: FamilyDescription,
  askedOf: (field: SettingField) => Asked,
): boolean {
  const asking = when && settings.find(({ name }) => name === when.setting);
  if (!when || !asking) return true;
  const found = valuesOf(asking, askedOf(asking));
  return 'values' in found && found.values.includes(when.value);
}

function labelOf({ along, settings }: FamilyDescription): string {
  const label = settings.find(({ name }) => name === along?.setting)?.label ?? 'values';
  return `values of “${label}”`;
}

const isAskable = (
  field: SettingField,
): field is Exclude<SettingField, { type: 'columns' | 'formula' }> =>
  field.type !== 'columns' && field.type !== 'formula';

function firstAsked(field: SettingField, first: Settings): Asked {
  const value = first[field.name] ?? ('default' in field ? field.default : '');
  return field.type === 'number'
    ? { as: 'one', value: String(value) }
    : { as: 'options', values: [value as string | boolean] };
}
