import type { Design } from '@rook-scale/core/design';
import type { CallRule, Match } from '@rook-scale/core/screening';
import type { CutoffRule } from '@rook-scale/core/measures';
import type { Dictionary } from '@rook-scale/core/table';

/** Values that an act changes in one place, by what they are of. */
export interface Changed {
  /** Cutoff rule of a candidate. */
  cutoff: CutoffRule;
  /** Name, note and group of a candidate. */
  words: { title: string | null; note: string; group: string };
  /** The chosen candidate of a study. */
  chosen: string | null;
  /** Who of a list is called in. */
  calls: CallRule;
  /** How the columns of a list are read and matched. */
  columns: { dictionary: Dictionary; matching: Match[] };
  /** Name of a study. */
  name: string;
  /** A dismissed note, by study and note; null while it is not dismissed. */
  note: { title: string; reason: string } | null;
  /** A design that is kept under a name, by study and id; null where it is not. */
  version: { name: string; choices: Design } | null;
}
type Value = {
  [Of in keyof Changed]: {
    kind: 'value';
    of: Of;
    id: string;
    before: Changed[Of];
    after: Changed[Of];
  };
}[keyof Changed];

/** What can be made and deleted. */
export type Thing = 'candidate' | 'cohort' | 'search';

/** How an act is taken back, and done again. */
export type Undo =
  /** Dictionary, selection and design went from one revision to another, by their ids. */
  | { kind: 'state'; before: number; after: number }
  /** Something came to be, or was deleted. */
  | { kind: 'presence'; made: boolean; things: { what: Thing; id: string }[] }
  | Value;
