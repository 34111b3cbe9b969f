import { useEffect } from 'react';
import { isTyping } from '../../browser/typing.ts';

/** `,` and `.` move the cutoff by 0.01, with Shift by 0.001. */
export function useCutoffKeys(cutoff: number, onMove: (cutoff: number) => void) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const down = event.code === 'Comma' || event.key === ',';
      const up = event.code === 'Period' || event.key === '.';
      if (!down && !up) return;
      onMove(step(cutoff, (up ? 1 : -1) * (event.shiftKey ? 0.001 : 0.01)));
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [cutoff, onMove]);
}

/** Lands on whole steps, so that repeated presses do not collect rounding. */
export function step(cutoff: number, by: number): number {
  const grid = Math.abs(by);
  const next = Math.round(Math.min(cutoff, 1) / grid + Math.sign(by)) * grid;
  return Number(Math.min(1, Math.max(0, next)).toFixed(3));
}
