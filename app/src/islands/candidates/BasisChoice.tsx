import type { Basis, Design } from '@rook-scale/core/design';
import { Select } from '../../components/index.ts';

interface Props {
  design: Pick<Design, 'predictorSets' | 'preparations'>;
  value: Basis;
  onChange: (basis: Basis) => void;
}

/** Predictors and preparation: those kept under a name in Design, or what is in force there. */
export function BasisChoice({ design, value, onChange }: Props) {
  return (
    <>
      <KeptChoice
        label="Predictors"
        kept={design.predictorSets}
        value={value.predictors}
        onChange={(name) => onChange(withPart(value, 'predictors', name))}
      />
      <KeptChoice
        label="Preparation"
        kept={design.preparations}
        value={value.preparation}
        onChange={(name) => onChange(withPart(value, 'preparation', name))}
      />
    </>
  );
}

/** Not asked while nothing is kept. */
function KeptChoice({
  label,
  kept,
  value,
  onChange,
}: {
  label: string;
  kept: { name: string }[];
  value: string | undefined;
  onChange: (name: string | undefined) => void;
}) {
  if (kept.length === 0) return null;
  return (
    <Select
      label={label}
      value={value ?? ''}
      options={[
        { value: '', label: 'those in force in Design' },
        ...kept.map(({ name }) => ({ value: name, label: name })),
      ]}
      onChange={(name) => onChange(name || undefined)}
    />
  );
}

function withPart(basis: Basis, part: keyof Basis, name: string | undefined): Basis {
  const { [part]: _, ...rest } = basis;
  return name === undefined ? rest : { ...rest, [part]: name };
}
