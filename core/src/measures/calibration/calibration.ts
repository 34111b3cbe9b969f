import { chiSquareUpperTail, sortedQuantile } from '../../numeric/index.ts';
import type { Clusters } from '../clusters.ts';
import type { RankedRisks } from '../ranked.ts';
import { calibrationGroups, joinedGroups, type CalibrationGroup } from './groups.ts';
import { localCurve } from './local-curve.ts';
import { recalibration, type Recalibration } from './recalibration.ts';

/** Whether risks are what they say. */
export interface Calibration {
  patients: number;
  /** Share of cases, and mean risk. */
  share: number;
  told: number;
  /** Mean risk of the cases and of the others, where there are such. */
  toldCases?: number;
  toldOthers?: number;
  /** Mean squared distance of risk and outcome: Brier (1950), Monthly Weather Review 78:1-3. */
  brier: number;
  /** Share by which it is less than if all had the share of cases; absent where outcomes do not vary. */
  scaledBrier?: number;
  /** Infinite where a risk of 0 or 1 was wrong. */
  logLoss: number;
  groups: CalibrationGroup[];
  /**
   * Hosmer & Lemeshow (1980), Communications in Statistics A 9:1043-1069; degrees of freedom are the number of
   * groups, as the patients are not training patients. Groups with few expected cases or others are joined;
   * absent where fewer than three are left, and where patients have several rows.
   */
  hosmerLemeshow?: { chiSquare: number; degrees: number; p: number };
  /** Absent where risks of 0 or 1 leave none, or nothing varies. */
  moved?: Recalibration;
  /** Patients with a risk of 0 or 1. */
  certain: number;
  /** Smooth share of cases along the risks; absent of few patients. */
  smooth?: { told: number; found: number }[];
  /** Mean, median, ninth decile and greatest distance of risk and smooth share: Austin & Steyerberg (2019), Statistics in Medicine 38:4051-4065. */
  distance?: { mean: number; median: number; ninety: number; greatest: number };
}

/** Fewer patients, or fewer cases, draw no smooth curve. */
const fewest = { patients: 40, cases: 10 };
/** Beyond so many patients the curve is worked out at as many places, with straight lines between. */
const mostPlaces = 1000;
/** At these of very many: each place looks at three of four patients. */
const many = { patients: 20_000, places: 200 };
const drawn = 100;

/** Share of rows that are clusters of their own, above which a test may take them as independent. */
const mostly = 0.99;

/** @param ranked of patients predicted once, with scores that are risks */
export function calibrationOf(ranked: RankedRisks): Calibration {
  const { risks: descending, events: cases, eventsAbove } = ranked;
  const risks = descending.slice().reverse();
  const { length } = risks;
  const events = risks.map((_, i) => eventsAbove[length - i] - eventsAbove[length - i - 1]);
  const share = cases / length;
  const sum = (of: (risk: number, event: number) => number) =>
    risks.reduce((total, risk, i) => total + of(risk, events[i]), 0);
  const brier = sum((risk, event) => (risk - event) ** 2) / length;
  const groups = calibrationGroups(ranked);
  const clusters = ranked.clusters && reversed(ranked.clusters);
  const moved = recalibration(risks, events, clusters);
  const isRepeated = clusters !== undefined && clusters.count < mostly * length;
  const isSmooth = length >= fewest.patients && Math.min(cases, length - cases) >= fewest.cases;
  return {
    patients: length,
    share,
    told: sum((risk) => risk) / length,
    ...(cases > 0 && { toldCases: sum((risk, event) => risk * event) / cases }),
    ...(cases < length && {
      toldOthers: sum((risk, event) => risk * (1 - event)) / (length - cases),
    }),
    brier,
    ...(share > 0 && share < 1 && { scaledBrier: 1 - brier / (share * (1 - share)) }),
    logLoss: -sum((risk, event) => Math.log(event === 1 ? risk : 1 - risk)) / length,
    groups,
    // The test takes rows as independent.
    ...(!isRepeated && hosmerLemeshow(joinedGroups(groups))),
    ...(moved && { moved }),
    certain: risks.filter((risk) => risk <= 0 || risk >= 1).length,
    ...(isSmooth && smoothOf(risks, events)),
  };
}

const reversed = ({ codes, count }: Clusters): Clusters => ({
  codes: codes.slice().reverse(),
  count,
});

/** The test of Hosmer & Lemeshow on groups of patients who are not training patients; nothing for fewer than three. */
export function hosmerLemeshow(groups: CalibrationGroup[]): Pick<Calibration, 'hosmerLemeshow'> {
  if (groups.length < 3) return {};
  const chiSquare = groups.reduce((sum, { patients, told, found }) => {
    const off = patients * (found - told);
    // A group of which nobody, or everybody, was told so: right where it was so, else beyond any bound.
    return off === 0 ? sum : sum + off ** 2 / (patients * told * (1 - told));
  }, 0);
  const degrees = groups.length;
  return {
    hosmerLemeshow: { chiSquare, degrees, p: chiSquareUpperTail(chiSquare, degrees) },
  };
}

function smoothOf(risks: Float64Array, events: Float64Array) {
  const different = new Set(risks).size;
  if (different < 3) return {};
  const count = risks.length > many.patients ? many.places : mostPlaces;
  const places =
    risks.length <= count
      ? risks
      : Float64Array.from({ length: count }, (_, i) => sortedQuantile(risks, i / (count - 1)));
  const curve = localCurve(risks, events, places);
  const found = risks.length <= count ? curve : between(places, curve, risks);
  const off = found.map((value, i) => Math.abs(value - risks[i])).sort();
  const every = Math.max(1, Math.floor(places.length / drawn));
  return {
    smooth: Array.from(places, (told, i) => ({ told, found: curve[i] })).filter(
      (_, i) => i % every === 0 || i === places.length - 1,
    ),
    distance: {
      mean: off.reduce((sum, one) => sum + one, 0) / off.length,
      median: sortedQuantile(off, 0.5),
      ninety: sortedQuantile(off, 0.9),
      greatest: off[off.length - 1],
    },
  };
}

/** Straight lines between the places. All ascending. */
function between(places: Float64Array, values: Float64Array, at: Float64Array): Float64Array {
  let k = 0;
  return at.map((one) => {
    while (k < places.length - 2 && places[k + 1] < one) k++;
    const step = places[k + 1] - places[k];
    const part = step > 0 ? (one - places[k]) / step : 0;
    return values[k] + part * (values[k + 1] - values[k]);
  });
}
