import { IntervalStrip } from './IntervalStrip.tsx';

interface Props {
  difference: number;
  interval: [number, number] | undefined;
  /** The farthest of its column from no difference. */
  reach: number;
}

/** A difference with its interval, beside none. */
export const DifferenceStrip = ({ difference, interval, reach }: Props) => (
  <IntervalStrip
    value={difference}
    interval={interval}
    from={-reach}
    to={reach}
    beside={0}
    ticks={[-reach, 0, reach]}
  />
);
