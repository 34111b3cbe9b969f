import { useMemo } from 'react';
import { benefitCurve, netBenefit, ratiosWorth } from '@rook-scale/core/measures';
import { showCost } from '../../../browser/format.ts';
import { showDigits, showFixed } from '../../../browser/numbers.ts';
import { Axes, frame, pathThrough, placesIn, SvgFigure } from '../../../components/index.ts';
import type { SectionProps } from './section.ts';
import styles from './Sections.module.css';

/** Whether calls by the model beat calling everybody or nobody in, and how sure one must be of the costs. */
export function Worth(props: SectionProps) {
  return (
    <div className={styles.figures}>
      {props.patients.scale.what === 'risk' && <DecisionFigure {...props} />}
      <RatioFigure {...props} />
    </div>
  );
}

function DecisionFigure({ patients, costs }: SectionProps) {
  const { ranked } = patients;
  const { missedCost, falseAlarmCost } = costs!;
  const asked = falseAlarmCost / (falseAlarmCost + missedCost);
  const share = ranked.events / ranked.patients;
  const to = Math.min(0.99, Math.max(0.1, Math.ceil(10 * Math.max(asked, 2 * share)) / 10));
  const points = useMemo(() => benefitCurve(ranked, to), [ranked, to]);
  const least = -Math.max(0.02, share / 4);
  const [across, up] = [
    { name: 'risk from which on patients are called in', from: 0, to },
    { name: 'net benefit: found cases per patient', from: least, to: Math.max(0.05, share * 1.1) },
  ];
  const places = placesIn(across, up);
  const at = netBenefit(ranked, asked);
  const best = Math.max(0, at.everybody);
  const gain = at.model - best;
  const per = (value: number) => showFixed(1000 * value, 1);
  return (
    <SvgFigure
      title="Decision curve"
      caption={`With ${showRatio(missedCost / falseAlarmCost)} false alarms for a missed case one calls in from a risk of ${showFixed(asked, 3)} on (upright). There the model is worth ${per(at.model)} found cases per 1,000 patients, ${per(Math.abs(gain))} ${gain >= 0 ? 'more' : 'fewer'} than the better of calling everybody (dashed) and nobody in (dotted).`}
      fileName="decision-curve"
      width={frame.width}
      height={frame.height}
      numbers={() => [
        ['risk', 'model', 'everybody', 'nobody'],
        ...points.map((point) => [point.threshold, point.model, point.everybody, 0]),
      ]}
    >
      <Axes across={across} up={up} />
      <path
        d={pathThrough(
          [
            [0, 0],
            [to, 0],
          ],
          places,
        )}
        className={styles.plain}
      />
      <path
        d={pathThrough(
          points
            .filter(({ everybody }) => everybody >= least)
            .map((point) => [point.threshold, point.everybody]),
          places,
        )}
        className={styles.steps}
      />
      <path
        d={pathThrough(
          points
            .filter(({ model }) => model >= least)
            .map((point) => [point.threshold, point.model]),
          places,
        )}
        className={styles.curve}
      />
      <path
        d={pathThrough(
          [
            [asked, up.from],
            [asked, up.to],
          ],
          places,
        )}
        className={styles.marker}
      />
    </SvgFigure>
  );
}

/** Decades of the ratio that are drawn to both sides of the asked one. */
const decades = 1;

function RatioFigure({ table, costs }: SectionProps) {
  const { missedCost, falseAlarmCost } = costs!;
  const asked = missedCost / falseAlarmCost;
  const range = ratiosWorth(table);
  const ends = [asked, range.from, range.to].flatMap((one) => (one ? [Math.log10(one)] : []));
  const [from, to] = [Math.min(...ends) - decades / 2, Math.max(...ends) + decades / 2];
  const cases = table.found + table.missed;
  const others = table.falseAlarms + table.rightlyLeft;
  const all = cases + others;
  // In false alarms, so that lines can be compared along the axis; the total weight is 1 at any ratio.
  const costAt = (missed: number, alarms: number) => (log: number) =>
    (1000 * (missed * 10 ** log + alarms)) / (all * (10 ** log + 1));
  const lines = {
    own: costAt(table.missed, table.falseAlarms),
    nobody: costAt(cases, 0),
    everybody: costAt(0, others),
  };
  const steps = Array.from({ length: 101 }, (_, i) => from + ((to - from) * i) / 100);
  const most = Math.max(...steps.map((log) => Math.min(lines.nobody(log), lines.everybody(log))));
  const [across, up] = [
    { name: 'false alarms that cost as much as a missed case', from, to },
    { name: 'cost per 1,000, both errors together costing 1', from: 0, to: 1.3 * most },
  ];
  const places = placesIn(across, up);
  const drawn = (line: (log: number) => number) =>
    pathThrough(
      steps.filter((log) => line(log) <= up.to).map((log) => [log, line(log)] as const),
      places,
    );
  return (
    <SvgFigure
      title="How sure one must be of the costs"
      caption={ratioText(range, asked)}
      fileName="cost-ratio"
      width={frame.width}
      height={frame.height}
      numbers={() => [
        ['missed case in false alarms', 'this cutoff', 'nobody', 'everybody'],
        ...steps.map((log) => [10 ** log, lines.own(log), lines.nobody(log), lines.everybody(log)]),
      ]}
    >
      <Axes across={across} up={up} ticksAcross={ratioTicks(from, to)} />
      <path d={drawn(lines.nobody)} className={styles.plain} />
      <path d={drawn(lines.everybody)} className={styles.steps} />
      <path d={drawn(lines.own)} className={styles.curve} />
      <path
        d={pathThrough(
          [
            [Math.log10(asked), 0],
            [Math.log10(asked), up.to],
          ],
          places,
        )}
        className={styles.marker}
      />
    </SvgFigure>
  );
}

function ratioText({ from, to }: ReturnType<typeof ratiosWorth>, asked: number): string {
  if (from === undefined)
    return 'Nobody is found at this cutoff: it is never worth more than calling nobody in.';
  if (to !== undefined && to <= from)
    return 'At this cutoff calls are worth no more than giving all the same call, whatever the costs.';
  const upTo = to === undefined ? 'or more' : `to ${showRatio(to)}`;
  const isIn = asked >= from && (to === undefined || asked <= to);
  return `This cutoff (line) is cheaper than calling nobody in (dotted) and everybody (dashed) as long as a missed case costs as much as ${showRatio(from)} ${upTo} false alarms. ${isIn ? `The design says ${showRatio(asked)} (upright).` : `The design says ${showRatio(asked)} (upright), which is beyond: the cutoff costs more than giving all the same call.`}`;
}

/** 1, 2, 5, 10 … of which the logarithms lie in the range; whole powers alone where it is long. */
function ratioTicks(from: number, to: number): { at: number; word: string }[] {
  const powers = Array.from({ length: 13 }, (_, i) => i - 6);
  const firsts = to - from > 3 ? [1] : [1, 2, 5];
  return powers
    .flatMap((power) => firsts.map((first) => first * 10 ** power))
    .map((ratio) => ({ at: Math.log10(ratio), word: showRatio(ratio) }))
    .filter(({ at }) => at >= from && at <= to);
}

const showRatio = (ratio: number) =>
  ratio >= 100 ? showCost(Math.round(ratio)) : showDigits(ratio, 2);
