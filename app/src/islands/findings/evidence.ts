import type { Finding } from '@rook-scale/core/survey';
import { plural, showArea, showCount, showValue } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';

/** AUC of one column from which a marker known in time is hardly to be expected (common practice). */
const clearArea = 0.99;

/** What speaks for a finding, in a few words. */
export function evidenceOf({ code, figures, values }: Finding): string {
  switch (code) {
    case 'gives the answer away':
      return values.length > 0
        ? `${showCount(figures.events)} of ${plural(figures.patients, 'development patient')} with “${values[0]}” are cases`
        : `AUC alone ${showArea(figures.area)}`;
    case 'missing by outcome':
      return `missing in ${showCount(figures.missingCases)} of ${plural(figures.cases, 'case')} and ${showCount(figures.missingOthers)} of ${plural(figures.others, 'non-case')}`;
    case 'later by name':
      return `the name says “${values[0]}”`;
    case 'near-duplicates':
      return figures.correlation === undefined
        ? `one follows from the other in ${Math.round(100 * figures.agreement)}% of patients`
        : `rank correlation ${showFixed(figures.correlation, 2)}`;
    case 'identifier-like':
      return `${showCount(figures.different)} different values in ${plural(figures.patients, 'patient')}`;
    case 'constant':
      return `one value in all ${plural(figures.patients, 'patient')}`;
    case 'code for missing':
    case 'spelled twice':
      return values.join(', ');
    case 'implausible zeros':
      return plural(figures.patients, 'zero');
    case 'units differ by group':
      return `median ${showValue(figures.median)} in ${values.join(', ')}, ${showValue(figures.otherMedian)} elsewhere`;
    default:
      return plural(figures.patients ?? figures.rows ?? figures.runs, 'row');
  }
}

/** Whether the evidence alone is reason enough to set the columns aside. */
export function isClear({ code, figures }: Finding): boolean {
  if (code === 'later by name') return false;
  return code !== 'gives the answer away' || figures.area >= clearArea;
}
