import { ratesOf } from '../measures/index.ts';
import { ofKind, predictionsOf } from '../outcome/index.ts';
import { partOf } from './judge.ts';
import type { Scored, SearchMeasure } from './measures.ts';

/** A measure of patients who count several times, or not at all. */
export interface Counter {
  /** Where it is counted in one pass, without patients being put together anew. */
  isQuick: boolean;
  /** With the place of the cheapest cutoff among these patients, for `outside`. */
  inside(counts: Float64Array): { value: number; cutoff: number } | undefined;
  /** At a cutoff that others gave. */
  outside(counts: Float64Array, cutoff: number): number | undefined;
}

/** What each patient adds to a measure that is a mean, and what is made of that. */
interface Adding {
  adds: Float64Array;
  of: (mean: number) => number;
}

export function counterOf(scored: Scored, measure: SearchMeasure): Counter {
  const adding = addingOf(scored, measure.id);
  if (adding) return meanCounter(adding);
  if (measure.id === 'auc') return areaCounter(scored);
  if (['cost', 'f1', 'kappa', 'accuracy'].includes(measure.id))
    return callCounter(scored, measure.id as CallMeasure);
  return anyCounter(scored, measure);
}

function addingOf({ judged }: Scored, id: string): Adding | undefined {
  const { predictions, outcome } = judged;
  const plain = (mean: number) => mean;
  if (predictions.kind === 'event') {
    const { risks } = predictionsOf(predictions, 'event');
    const { values } = ofKind(outcome, 'event');
    if (id === 'brier') return { adds: risks.map((risk, i) => (risk - values[i]) ** 2), of: plain };
    if (id === 'log loss')
      return {
        adds: risks.map((risk, i) => -Math.log(Math.max(1e-15, values[i] ? risk : 1 - risk))),
        of: plain,
      };
  }
  if (predictions.kind === 'number') {
    const { values } = ofKind(outcome, 'number');
    const errors = predictionsOf(predictions, 'number').values.map((said, i) => said - values[i]);
    if (id === 'rmse') return { adds: errors.map((error) => error ** 2), of: Math.sqrt };
    if (id === 'mae') return { adds: errors.map(Math.abs), of: plain };
  }
  return undefined;
}

function meanCounter({ adds, of }: Adding): Counter {
  const valueOf = (counts: Float64Array) => {
    let [sum, count] = [0, 0];
    for (let i = 0; i < adds.length; i++) {
      sum += counts[i] * adds[i];
      count += counts[i];
    }
    return count > 0 ? of(sum / count) : undefined;
  };
  return {
    isQuick: true,
    inside(counts) {
      const value = valueOf(counts);
      return value === undefined ? undefined : { value, cutoff: 0 };
    },
    outside: valueOf,
  };
}

/** Patients with the highest scores first, and where in that order those with the same score end. */
function ranking({ scores }: Scored) {
  const order = Int32Array.from(scores, (_, i) => i);
  order.sort((a, b) => scores[b] - scores[a]);
  const isLast = Uint8Array.from(order, (row, i) =>
    Number(i === order.length - 1 || scores[order[i + 1]] !== scores[row]),
  );
  return { order, isLast };
}

function areaCounter(scored: Scored): Counter {
  const { cases } = scored;
  const { order, isLast } = ranking(scored);
  const valueOf = (counts: Float64Array) => {
    let [found, called, area, tiedCases, tiedOthers] = [0, 0, 0, 0, 0];
    for (let i = 0; i < order.length; i++) {
      const row = order[i];
      if (cases[row]) tiedCases += counts[row];
      else tiedOthers += counts[row];
      if (!isLast[i]) continue;
      area += tiedOthers * (found + tiedCases / 2);
      found += tiedCases;
      called += tiedOthers;
      tiedCases = 0;
      tiedOthers = 0;
    }
    return found > 0 && called > 0 ? area / (found * called) : undefined;
  };
  return {
    isQuick: true,
    inside(counts) {
      const value = valueOf(counts);
      return value === undefined ? undefined : { value, cutoff: 0 };
    },
    outside: valueOf,
  };
}

type CallMeasure = 'cost' | 'f1' | 'kappa' | 'accuracy';

function callCounter(scored: Scored, id: CallMeasure): Counter {
  const { cases, costs } = scored;
  const { order, isLast } = ranking(scored);
  const cost = Float64Array.from(cases, (isCase, row) => {
    if (costs.own) return isCase ? costs.own.missed[row] : costs.own.falseAlarm[row];
    return isCase ? costs.missedCost : costs.falseAlarmCost;
  });
  /** @param called so many in the order of their scores are called in */
  const valueAt = (counts: Float64Array, called: number) => {
    const table = { found: 0, missed: 0, falseAlarms: 0, rightlyLeft: 0 };
    let [sum, all] = [0, 0];
    for (let i = 0; i < order.length; i++) {
      const row = order[i];
      const count = counts[row];
      const isCalled = i < called;
      all += count;
      if (cases[row]) table[isCalled ? 'found' : 'missed'] += count;
      else table[isCalled ? 'falseAlarms' : 'rightlyLeft'] += count;
      if ((cases[row] === 1) !== isCalled) sum += count * cost[row];
    }
    if (all === 0) return undefined;
    if (id === 'cost') return (1000 * sum) / all;
    if (id === 'f1') {
      const either = 2 * table.found + table.missed + table.falseAlarms;
      return either > 0 ? (2 * table.found) / either : undefined;
    }
    return ratesOf(table)[id].value;
  };
  return {
    isQuick: true,
    inside(counts) {
      // Of what nobody costs who is called in the change is enough.
      let [called, least, change] = [0, 0, 0];
      for (let i = 0; i < order.length; i++) {
        const row = order[i];
        change += (cases[row] ? -1 : 1) * counts[row] * cost[row];
        // Of equally cheap cutoffs the highest, among those that these patients can give.
        if (isLast[i] && change < least - 1e-9) [called, least] = [i + 1, change];
      }
      const value = valueAt(counts, called);
      return value === undefined ? undefined : { value, cutoff: called };
    },
    outside: valueAt,
  };
}

/** Any measure, of patients put together anew. */
function anyCounter(scored: Scored, measure: SearchMeasure): Counter {
  const valueOf = (counts: Float64Array) => {
    const places: number[] = [];
    counts.forEach((count, row) => {
      for (let i = 0; i < count; i++) places.push(row);
    });
    return places.length > 0 ? measure.of(partOf(scored, Int32Array.from(places))) : undefined;
  };
  return {
    isQuick: false,
    inside(counts) {
      const value = valueOf(counts);
      return value === undefined ? undefined : { value, cutoff: 0 };
    },
    outside: valueOf,
  };
}
