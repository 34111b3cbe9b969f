import type { FitWarning } from '@rook-scale/core/families';
import { Notice } from '../../components/index.ts';

interface Props {
  /** Of the candidate. */
  name: string;
  warnings: FitWarning[];
}

/** Says beside every risk of a separated fit that it cannot be believed; nothing for others. */
export function SeparationNotice({ name, warnings }: Props) {
  const separation = warnings.find(({ code }) => code === 'separation');
  if (!separation) return null;
  return (
    <Notice>
      <strong>The risks of {name} are not to be relied on.</strong> {separation.sentence}
    </Notice>
  );
}
