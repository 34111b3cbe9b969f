import { isCoded, display, type DictionaryEntry } from '@rook-scale/core/table';
import { setAddress, useAddress } from '../../browser/address.ts';
import { Select } from '../../components/index.ts';
import { entryOf, useSurvey } from './context.ts';

/** Levels that can still be told apart on a page. */
const mostGroups = 12;

/** Whether patients can be parted by the levels of this column. */
export function canGroup({ kind, levels, role }: DictionaryEntry): boolean {
  return (
    isCoded(kind) &&
    role !== 'identifier' &&
    (levels?.length ?? 0) > 1 &&
    (levels?.length ?? 0) <= mostGroups
  );
}

/** Whether there is anything to draw of this column. */
export function canDraw({ kind, role }: DictionaryEntry): boolean {
  return kind !== 'text' && role !== 'identifier';
}

/** The column named in the address, or the one to begin with. */
export function useColumnChoice(
  part: string,
  allowed: (entry: DictionaryEntry) => boolean,
  first: string | undefined,
): DictionaryEntry | undefined {
  const { cohort } = useSurvey();
  const [asked] = useAddress(part);
  const usable = (name: string | undefined) => {
    const entry = name === undefined ? undefined : entryOf(cohort, name);
    return entry && allowed(entry) ? entry : undefined;
  };
  return usable(asked) ?? usable(first) ?? cohort.dictionary.find(allowed);
}

/** The column the patients are parted by: the outcome unless another is asked for; none on demand. */
export function useGroupChoice(): DictionaryEntry | undefined {
  const { cohort, design } = useSurvey();
  const [asked] = useAddress('by');
  if (asked === '-') return undefined;
  const entry = entryOf(cohort, asked ?? design?.outcome ?? '');
  return entry && canGroup(entry) ? entry : undefined;
}

interface Props {
  label: string;
  part: string;
  value: string | undefined;
  allowed: (entry: DictionaryEntry) => boolean;
  /** Offers to choose none, under this name. */
  none?: string;
}

/** A choice of a column that stands in the address, so that the view can be linked to. */
export function ColumnSelect({ label, part, value, allowed, none }: Props) {
  const { cohort } = useSurvey();
  const offered = cohort.dictionary.filter(allowed);
  return (
    <Select
      label={label}
      value={value ?? '-'}
      options={[
        ...(none ? [{ value: '-', label: none }] : []),
        ...offered.map((entry) => ({ value: entry.name, label: display(entry) })),
      ]}
      onChange={(name) => setAddress({ [part]: name }, 'replace')}
    />
  );
}
