import { predictorsOffered, preparedBy, type Basis, type Design } from '@rook-scale/core/design';
import { Select } from '../../components/index.ts';
import { OwnSteps, stepsTogether } from './OwnSteps.tsx';
import { PredictorPicks } from './PredictorPicks.tsx';

interface Props {
  studyId: string;
  design: Pick<Design, 'predictors' | 'predictorSets' | 'preparation' | 'preparations'>;
  value: Basis;
  onChange: (basis: Basis) => void;
}

// Names of what is kept are of the analyst's choosing, so these are none that can be typed.
const inForce = '\0in force';
const ownOnes = '\0own';

/** Predictors and preparation: what is in force in Design, what is kept there under a name, or some of its own. */
export function BasisChoice({ studyId, design, value, onChange }: Props) {
  const { predictorSets, preparations } = design;
  const offered = [...predictorsOffered(design)];
  const { predictors, own, preparation, steps } = value;
  const stepsOffered = stepsTogether([design.preparation, steps ?? []]);
  const setPredictors = (choice: string) => {
    const rest = preparedBy(value);
    if (choice === ownOnes) onChange({ ...rest, own: design.predictors });
    else onChange(choice === inForce ? rest : { ...rest, predictors: choice });
  };
  const setPreparation = (choice: string) => {
    const { preparation: _, steps: __, ...rest } = value;
    if (choice === ownOnes) onChange({ ...rest, steps: stepsOffered });
    else onChange(choice === inForce ? rest : { ...rest, preparation: choice });
  };
  return (
    <>
      <Select
        label="Predictors"
        value={own ? ownOnes : (predictors ?? inForce)}
        options={[
          { value: inForce, label: 'those in force in Design' },
          ...predictorSets.map(({ name }) => ({ value: name, label: name })),
          { value: ownOnes, label: 'some of its own' },
        ]}
        onChange={setPredictors}
      />
      {own && (
        <PredictorPicks
          studyId={studyId}
          label="Predictors of its own"
          offered={offered}
          value={own}
          onChange={(next) => onChange({ ...value, own: next })}
        />
      )}
      {(preparations.length > 0 || stepsOffered.length > 0) && (
        <Select
          label="Preparation"
          value={steps ? ownOnes : (preparation ?? inForce)}
          options={[
            { value: inForce, label: 'the steps in force in Design' },
            ...preparations.map(({ name }) => ({ value: name, label: name })),
            ...(stepsOffered.length > 0 ? [{ value: ownOnes, label: 'some of these steps' }] : []),
          ]}
          onChange={setPreparation}
        />
      )}
      {steps && (
        <OwnSteps
          studyId={studyId}
          offered={stepsOffered}
          value={steps}
          onChange={(next) => onChange({ ...value, steps: next })}
        />
      )}
    </>
  );
}
