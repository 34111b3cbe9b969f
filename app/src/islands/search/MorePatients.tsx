import type { SearchMeasure } from '@rook-scale/core/search';
import type { SearchDetail, SearchLine } from '../../contract/searches.ts';
import { showCount } from '../../browser/format.ts';
import { showTried } from './words.ts';

interface Props {
  line: SearchLine;
  detail: SearchDetail;
  measure: SearchMeasure;
}

/** Whether more patients would help, in one sentence. */
export function MorePatients({ line, detail: { growth }, measure }: Props) {
  if (line.state !== 'done') return null;
  if (!growth)
    return (
      <p className="quiet">
        What more patients would bring cannot be told: too few numbers of them have a figure.
      </p>
    );
  const { patients, now, gain, interval } = growth;
  const signed = (value: number) =>
    `${value < 0 ? '−' : ''}${showTried(measure, Math.abs(value))}`.replace(/^−(?=[0.]+$)/, '');
  const helps = measure.better === 'higher' ? interval[0] > 0 : interval[1] < 0;
  return (
    <p>
      With all {showCount(patients)} patients that a fold learns from, {measure.name} is about{' '}
      {showTried(measure, now)} by the curve. Twice as many would be expected to change it by{' '}
      <strong>{signed(gain)}</strong> ({signed(interval[0])} to {signed(interval[1])}):{' '}
      {helps ? 'more patients would help.' : 'that more patients would help cannot be told.'}{' '}
      <span className="quiet">
        An inverse power of the number of patients, drawn anew from the standard errors; how it goes
        on beyond what there is, is a guess of the curve.
      </span>
    </p>
  );
}
