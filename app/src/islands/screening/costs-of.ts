import type { ErrorCosts } from '@rook-scale/core/measures';
import type { ScreeningView } from '../../contract/screenings.ts';

/** What errors cost as the list was scored. */
export const costsOf = ({ version: { costs } }: ScreeningView): ErrorCosts => ({
  missedCost: costs.missed,
  falseAlarmCost: costs.falseAlarm,
});
