import { predictorsOffered, type Basis, type Design } from '@rook-scale/core/design';
import { Select } from '../../components/index.ts';
import { PredictorPicks } from './PredictorPicks.tsx';

interface Props {
  studyId: string;
  design: Pick<Design, 'predictors' | 'predictorSets' | 'preparations'>;
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
  const { predictors, own, preparation } = value;
  const setPredictors = (choice: string) => {
    const rest = preparation === undefined ? {} : { preparation };
    if (choice === ownOnes) onChange({ ...rest, own: design.predictors });
    else onChange(choice === inForce ? rest : { ...rest, predictors: choice });
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
      {preparations.length > 0 && (
        <Select
          label="Preparation"
          value={preparation ?? inForce}
          options={[
            { value: inForce, label: 'those in force in Design' },
            ...preparations.map(({ name }) => ({ value: name, label: name })),
          ]}
          onChange={(name) => {
            const { preparation: _, ...rest } = value;
            onChange(name === inForce ? rest : { ...rest, preparation: name });
          }}
        />
      )}
    </>
  );
}
