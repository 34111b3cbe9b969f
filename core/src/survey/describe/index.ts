export { describeColumn, type ColumnDescription } from './column.ts';
export {
  describeNumbers,
  describeSorted,
  momentsOf,
  type Fences,
  type NumberDescription,
} from './numbers.ts';
export { histogramOf, type Histogram } from './histogram.ts';
export { densityOf, type Density } from './density.ts';
export { sharesAlong, type SharesAlong } from './shares-along.ts';
export { normalQuantilePlot, type QuantilePlot } from './quantile-plot.ts';
export { reshapings } from './reshape.ts';
export { findGaps, type Gaps } from './gaps.ts';
