import { useState } from 'react';
import { useWatch } from 'react-hook-form';
import {
  dependsOnCosts,
  familyDescriptions,
  type FamilyDescription,
  type HowMoved,
  type Settings,
} from '@rook-scale/core/families';
import { predictorsOffered, type Basis, type Design } from '@rook-scale/core/design';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { ask, messageOf } from '../../browser/api.ts';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import { Button, Dialog, DialogActions, Notice } from '../../components/index.ts';
import { BlendForm } from './BlendForm.tsx';
import { BasisChoice } from './BasisChoice.tsx';
import { FewerForm } from './FewerForm.tsx';
import { GrowingForm } from './GrowingForm.tsx';
import { LeakNotice } from '../findings/index.ts';
import { SearchForm } from '../search/index.ts';
import { RuleForm } from './RuleForm.tsx';
import { RecalibrateForm } from './RecalibrateForm.tsx';
import { SettingFields, useSettings } from './SettingFields.tsx';
import { SeveralForm } from './SeveralForm.tsx';
import styles from './Candidates.module.css';

interface Props {
  studyId: string;
  design: Pick<Design, 'predictors' | 'predictorSets' | 'preparation' | 'preparations' | 'seed'>;
  /** What is to be predicted. */
  outcome: Predicted;
  /** All candidates, which can be blended or recalibrated. */
  lines: CandidateLine[];
  /** Ids of those that it is to be made of. */
  blended?: string[];
  /** The candidate of which a copy is changed. */
  from?: CandidateLine;
  /** What a search fits: patients, in so many folds. */
  development: { patients: number; parts: number };
  onClose: () => void;
  onAdded: (id: string) => void;
  /** A search was made. */
  onSearch: (id: string) => void;
}

interface Predicted {
  kind: OutcomeKind;
  ordered: boolean;
}

/** What can be added: the reference candidate is there already. */
function familiesFor({ kind, ordered }: Predicted): FamilyDescription[] {
  return familyDescriptions.filter(
    ({ id, outcomes, orderedOnly }) =>
      id !== 'reference' && outcomes.includes(kind) && (ordered || !orderedOnly),
  );
}

/** Offers the families of the core's list, each with a form made from its own description. */
export function AddCandidate(props: Props) {
  const { studyId, design, outcome, from, onClose, onAdded } = props;
  const offered = familiesFor(outcome);
  const [family, setFamily] = useState(
    offered.find(({ id, composed }) =>
      props.blended ? composed === 'of several' : id === from?.family,
    ) ?? offered[0],
  );
  const [isSeveral, setSeveral] = useState(false);
  const [what, setWhat] = useState<What>('one');
  const forms = { studyId, design, onClose, onAdded };
  // What compares fits with one value of each setting.
  const ofOneFit = {
    ...{ studyId, design, family, onClose },
    kind: outcome.kind,
    parts: props.development.parts,
    first: from?.settings,
    firstBasis: keptOf(from?.basis, design),
    onAdded: props.onSearch,
  };
  return (
    <Dialog
      title={from ? `Change a copy of ${from.name}` : 'Add candidate'}
      wide={isSeveral || !from || family.fixed || what !== 'one'}
      onClose={onClose}
    >
      <LeakNotice studyId={studyId} predictors={[...predictorsOffered(design)]} />
      {!from && (
        <label className={styles.several}>
          <input
            type="checkbox"
            checked={isSeveral}
            onChange={({ target }) => setSeveral(target.checked)}
          />
          Several at once, each with its usual settings
        </label>
      )}
      {isSeveral ? (
        <SeveralForm
          {...forms}
          families={offered.filter(({ fixed, composed }) => !fixed && !composed)}
        />
      ) : (
        <div className={from ? undefined : styles.beside}>
          {!from && (
            <fieldset className={styles.families}>
              <legend className="hidden">Model family</legend>
              {offered.map((one) => (
                <label key={one.id}>
                  <input
                    type="radio"
                    name="family"
                    data-first={one.id === family.id || undefined}
                    checked={one.id === family.id}
                    onChange={() => setFamily(one)}
                  />
                  {one.name}
                </label>
              ))}
            </fieldset>
          )}
          <div className={styles.form}>
            <p className="quiet">{family.about}</p>
            {family.composed === 'of one' ? (
              <RecalibrateForm
                {...{ studyId, onClose, onAdded }}
                lines={props.lines}
                first={from?.parts?.[0].candidate}
                firstHow={from?.settings.how as HowMoved | undefined}
              />
            ) : family.composed ? (
              <BlendForm
                {...{ studyId, onClose, onAdded }}
                lines={props.lines}
                first={props.blended ?? from?.parts?.map(({ candidate }) => candidate) ?? []}
                firstWeights={from?.settings.weights === 'equal' ? 'equal' : 'learned'}
              />
            ) : family.fixed ? (
              <RuleForm {...forms} family={family} first={String(from?.settings.formula ?? '')} />
            ) : (
              <>
                <WhatIsFitted family={family} value={what} onChange={setWhat} />
                {what === 'search' && canBeSearched(family) ? (
                  <SettingsSearch {...props} key={family.id} family={family} />
                ) : what === 'fewer' && !family.blind ? (
                  <FewerForm {...ofOneFit} key={family.id} />
                ) : what === 'growing' && !family.blind ? (
                  <GrowingForm {...ofOneFit} key={family.id} />
                ) : (
                  <SettingsForm {...forms} key={family.id} family={family} from={from} />
                )}
              </>
            )}
          </div>
        </div>
      )}
    </Dialog>
  );
}

type What = 'one' | 'search' | 'fewer' | 'growing';

const canBeSearched = ({ settings }: FamilyDescription): boolean =>
  settings.some(({ type }) => type !== 'columns' && type !== 'formula');

/** One candidate, or several fits that are compared first. */
function WhatIsFitted({
  family,
  value,
  onChange,
}: {
  family: FamilyDescription;
  value: What;
  onChange: (what: What) => void;
}) {
  const offered: [What, string][] = [
    ['one', 'One candidate'],
    ...(canBeSearched(family)
      ? [['search', 'Search: several values of its settings, all compared'] as [What, string]]
      : []),
    ...(family.blind
      ? []
      : ([
          ['fewer', 'Fewer predictors: selected anew in every fold'],
          ['growing', 'More patients: whether they would help'],
        ] as [What, string][])),
  ];
  if (offered.length === 1) return null;
  const shown = offered.some(([what]) => what === value) ? value : 'one';
  return (
    <fieldset className={styles.what}>
      <legend className="hidden">What is fitted</legend>
      {offered.map(([what, label]) => (
        <label key={what}>
          <input
            type="radio"
            name="what"
            checked={what === shown}
            onChange={() => onChange(what)}
          />
          {label}
        </label>
      ))}
    </fieldset>
  );
}

function SettingsSearch(props: Props & { family: FamilyDescription }) {
  const { studyId, design, outcome, family, from, development, onClose, onSearch } = props;
  const [basis, setBasis] = useState<Basis>(keptOf(from?.basis, design));
  return (
    <SearchForm
      {...{ studyId, design, family, basis, onClose }}
      {...development}
      kind={outcome.kind}
      first={from?.settings ?? {}}
      onAdded={onSearch}
    >
      <BasisChoice studyId={studyId} design={design} value={basis} onChange={setBasis} />
    </SearchForm>
  );
}

function SettingsForm({
  studyId,
  design,
  family,
  from,
  onClose,
  onAdded,
}: Pick<Props, 'studyId' | 'design' | 'from' | 'onClose' | 'onAdded'> & {
  family: FamilyDescription;
}) {
  const form = useSettings(family, from?.settings);
  const { handleSubmit, formState, control } = form;
  const [problem, setProblem] = useState<string>();
  const [basis, setBasis] = useState<Basis>(keptOf(from?.basis, design));
  const values = useWatch({ control });
  const add = async (settings: Settings) => {
    try {
      const body = { family: family.id, settings, basis };
      onAdded((await ask(candidateRoutes.add, { study: studyId }, { body })).id);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <form className={styles.form} noValidate onSubmit={(event) => void handleSubmit(add)(event)}>
      <SettingFields {...{ studyId, family, form }} predictors={design.predictors} />
      <BasisChoice studyId={studyId} design={design} value={basis} onChange={setBasis} />
      <p className="quiet">
        {dependsOnCosts(family, values as Settings)
          ? 'What errors cost enters this fit, and sets the cutoff.'
          : 'What errors cost does not enter this fit: it sets the cutoff alone.'}
      </p>
      {problem && <Notice>{problem}</Notice>}
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          look="main"
          type="submit"
          disabled={formState.isSubmitting || basis.own?.length === 0}
        >
          Fit it
        </Button>
      </DialogActions>
    </form>
  );
}

/** What a candidate names of what is kept still, for names can go. */
function keptOf(basis: Basis = {}, design: Props['design']): Basis {
  const { predictorSets, preparations } = design;
  const offered = predictorsOffered(design);
  const own = basis.own?.filter((name) => offered.has(name)) ?? [];
  const isIn = (kept: { name: string }[], name?: string) => kept.some((one) => one.name === name);
  return {
    ...(isIn(predictorSets, basis.predictors) && { predictors: basis.predictors }),
    ...(isIn(preparations, basis.preparation) && { preparation: basis.preparation }),
    ...(own.length > 0 && { own }),
    ...(basis.steps && { steps: basis.steps }),
  };
}
