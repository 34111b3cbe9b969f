import { useEffect } from 'react';
import { isTyping } from '../../browser/typing.ts';
import { roundTo } from '../../browser/numbers.ts';
import type { ScoreScale } from './score-scale.ts';

/** `,` and `.` move the cutoff by a step of the scale, with Shift by a tenth of it. */
export function useCutoffKeys(cutoff: number, scale: ScoreScale, onMove: (cutoff: number) => void) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const down = event.code === 'Comma' || event.key === ',';
      const up = event.code === 'Period' || event.key === '.';
      if (!down && !up) return;
      onMove(step(cutoff, scale, up ? 1 : -1, event.shiftKey));
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [cutoff, scale, onMove]);
}

/** Lands on whole steps, so that repeated presses do not collect rounding. */
export function step(cutoff: number, scale: ScoreScale, way: 1 | -1, fine: boolean): number {
  const grid = fine ? scale.step / 10 : scale.step;
  const next = Math.round(Math.min(cutoff, scale.to) / grid + way) * grid;
  return within(next, scale);
}

/** On the scale, with no more digits than a fine step has. */
export function within(cutoff: number, { from, to, step: width }: ScoreScale): number {
  const digits = Math.max(0, 1 - Math.floor(Math.log10(width) + 1e-9));
  return roundTo(Math.min(to, Math.max(from, cutoff)), digits);
}
