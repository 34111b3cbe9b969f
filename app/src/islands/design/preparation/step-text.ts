import type { ArrangedStep, Effect, FillHow } from '@rook-scale/core/preparation';
import { plural, showCount, showPercent, showValue } from '../../../browser/format.ts';
import { showDigits, showFixed } from '../../../browser/numbers.ts';

/** What a step does, in words, without its figures. */
export function stepText(step: ArrangedStep, labelOf: (column: string) => string): string {
  const names = (columns: 'all' | string[]) =>
    columns === 'all' ? 'all columns' : few(columns, labelOf);
  switch (step.step) {
    case 'not known':
      return `${labelOf(step.column)}: ${valuesText(step)}`;
    case 'rename levels':
      return `${labelOf(step.column)}: ${Object.entries(step.into)
        .map(([from, to]) => `${from} → ${to}`)
        .join(', ')}`;
    case 'rare levels':
      return `${names(step.columns)}: levels of fewer than ${step.fewer} patients become “${step.name}”`;
    case 'leave out columns':
      return step.why === 'gaps'
        ? `${names(step.columns)}: those not known in ${showPercent(step.share)} or more`
        : step.why === 'alike'
          ? `${names(step.columns)}: of two that correlate by ${step.correlation} the later`
          : `${names(step.columns)}: those that do not vary`;
    case 'leave out patients':
      return `who lack ${showPercent(step.share)} or more of their values`;
    case 'fill':
      return `${names(step.columns)} with ${fillText(step.how, step.value)}${step.mark ? ', marked' : ''}`;
    case 'clip':
      return `${names(step.columns)} to ${step.to === 'plausible' ? 'the plausible range' : `the quantiles ${showPercent(step.share)} and ${showPercent(1 - step.share)}`}`;
    case 'reshape':
      return `${names(step.columns)} by ${step.how}${step.lambda === null ? '' : `, λ ${showDigits(step.lambda, 6)}`}`;
    case 'rescale':
      return `${names(step.columns)} by ${step.how}`;
    case 'code levels':
      return `${names(step.columns)} as ${step.how === 'order' ? 'numbers in their order' : step.how}`;
    case 'splines':
      return `${names(step.columns)} with ${step.knots} knots`;
    case 'products':
      return step.pairs.map(([a, b]) => `${labelOf(a)} × ${labelOf(b)}`).join(', ');
    case 'components':
      return `${names(step.columns)}, ${'number' in step.keep ? plural(step.keep.number, 'component') : `${showPercent(step.keep.share)} of the variance`}`;
    case 'unusualness':
      return `how unlike the others, by ${names(step.columns)}`;
  }
}

function valuesText({ below, above, values }: Extract<ArrangedStep, { step: 'not known' }>) {
  return [
    ...(below === null ? [] : [`below ${below}`]),
    ...(above === null ? [] : [`above ${above}`]),
    ...values,
  ].join(', ');
}

function fillText(how: FillHow, value: string): string {
  const words: { [How in FillHow]: string } = {
    mean: 'the mean',
    median: 'the median',
    'most common': 'the most common value',
    constant: value,
    'own level': 'a level “not known”',
    'nearest patients': 'the nearest patients',
    'chained regressions': 'chained regressions',
  };
  return words[how];
}

function few(columns: string[], labelOf: (column: string) => string): string {
  const shown = columns.slice(0, 3).map(labelOf).join(', ');
  return columns.length > 3 ? `${shown} and ${columns.length - 3} more` : shown;
}

/** What a step has done, in figures; empty where there is nothing to say. */
export function effectText(
  effect: Effect,
  labelOf: (column: string) => string,
  unitOf: (column: string) => string,
): string {
  const label = labelOf(effect.column);
  const unit = unitOf(effect.column);
  const number = (value: number) => `${showValue(value)}${unit && ` ${unit}`}`;
  switch (effect.what) {
    case 'filled': {
      if (effect.gaps === 0) return '';
      const { number: filled, level, how } = effect;
      const gaps = `fills ${plural(effect.gaps, 'gap')} in ${label}`;
      if (how === 'nearest patients' || how === 'chained regressions') return `${gaps} by ${how}`;
      if ((filled ?? level ?? null) === null) return `${label}: nothing is known, so it ends here`;
      return `${gaps} with ${level ?? number(filled!)}`;
    }
    case 'gap kept':
      return effect.gaps === 0 ? '' : `${label} is not known in ${plural(effect.gaps, 'patient')}`;
    case 'gap marked':
      return `an input says that ${effect.columns.map(labelOf).join(', ')} ${effect.columns.length > 1 ? 'are' : 'is'} not known (${plural(effect.patients, 'patient')})`;
    case 'gap not marked':
      return `${label} is not known in ${plural(effect.patients, 'patient')}: too few for an input`;
    case 'gap companions':
      return '';
    case 'level pooled':
      return effect.into === undefined
        ? ''
        : `${label} ${effect.level} (${plural(effect.patients, 'patient')}) is taken as ${effect.into}`;
    case 'renamed':
      return `${label} ${effect.level} (${plural(effect.patients, 'patient')}) becomes ${effect.into}`;
    case 'indicators':
      return effect.levels.length === 0
        ? `${label} ends here: one level is left`
        : `${label}: ${effect.levels.join(', ')} against ${effect.reference}`;
    case 'standardised':
      return `${label}: mean ${showValue(effect.mean)}, SD ${showDigits(effect.sd, 3)}`;
    case 'left out':
      if (effect.why === 'gaps')
        return `leaves ${label} out: not known in ${showPercent(effect.share)}`;
      if (effect.why === 'alike')
        return `leaves ${label} out: it correlates with ${labelOf(effect.other)} by ${showFixed(effect.correlation, 2)}`;
      return `leaves ${label} out: ${effect.why === 'no variation' ? 'it does not vary' : 'too few patients differ'}`;
    case 'made unknown':
      return `${label}: ${plural(effect.patients, 'value')} become not known`;
    case 'patients left out':
      return `${showCount(effect.patients)} of ${plural(effect.of, 'patient')} are not learned from`;
    case 'clipped':
      return `${label}: ${plural(effect.patients, 'value')} clipped to ${effect.low === null ? '…' : showValue(effect.low)} – ${effect.high === null ? '…' : number(effect.high)}`;
    case 'reshaped':
      return `${label}: ${effect.how}${effect.lambda === undefined ? '' : `, λ ${showDigits(effect.lambda, 3)}`}`;
    case 'rescaled':
      return `${label}: (value ${effect.centre < 0 ? '+' : '−'} ${showValue(Math.abs(effect.centre))}) / ${showDigits(effect.width, 4)}`;
    case 'numbered':
      // By their values: an object has levels that look like whole numbers first.
      return `${label}: ${Object.entries(effect.values)
        .sort(([, one], [, other]) => one - other)
        .slice(0, 5)
        .map(([level, value]) => `${level} ${effect.how === 'order' ? value : showPercent(value)}`)
        .join(', ')}${Object.keys(effect.values).length > 5 ? ', …' : ''}`;
    case 'made':
      return `makes ${effect.column}${effect.share === undefined ? '' : `, ${showPercent(effect.share)} of the variance`}`;
    case 'left as it is':
      return `${label} stays as it is: ${effect.why}`;
  }
}
