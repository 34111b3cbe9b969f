import { useState } from 'react';
import type { PathShown } from '@rook-scale/core/families';
import { plural, showCount } from '../../../browser/format.ts';
import { Button, Select, SvgFigure } from '../../../components/index.ts';
import { short } from '../ensemble/words.ts';
import type { FacetProps } from '../Facets.tsx';
import { PathTable } from './PathTable.tsx';
import { nameOfWay, withError } from './path-words.ts';
import { waysOf } from './path-shape.ts';
import { Ways, waysHeight, waysWidth } from './Ways.tsx';
import styles from './Path.module.css';

/** How coefficients come in as the penalty gets weaker, and what that does to the loss in inner folds. */
export function PathView({ value: path, detail, line, onFitWith }: FacetProps<'path'>) {
  const { strengths, tried, chosen, levels } = path;
  const [place, setPlace] = useState(chosen);
  const [level, setLevel] = useState(0);
  const nameOf = (input: string) => nameOfWay(input, detail);
  const ways = waysOf(path, level);
  const strength = strengths[place];
  const said = saidOf(path, place);
  return (
    <section className={styles.path}>
      <SvgFigure
        title="Path of coefficients"
        caption={captionOf(path, levels?.[level])}
        width={waysWidth}
        height={waysHeight}
        fileName={`${line.name}-path`}
        controls={
          levels && (
            <Select
              label="Level"
              value={levels[level]}
              options={levels.map((one) => ({ value: one, label: one }))}
              onChange={(one) => setLevel(levels.indexOf(one))}
            />
          )
        }
        numbers={() => [
          [
            'strength',
            'predictors',
            `${path.loss} in inner folds`,
            'standard error',
            ...ways.map(({ input }) => nameOf(input)),
          ],
          ...strengths.map((one, i) => [
            one,
            path.counts[i],
            tried.mean[i],
            tried.error[i],
            ...ways.map(({ perSd }) => perSd[i]),
          ]),
        ]}
      >
        <Ways path={path} ways={ways} place={place} onPlace={setPlace} nameOf={nameOf} />
      </SvgFigure>
      <div className={styles.row}>
        <label>
          Strength{' '}
          <input
            type="range"
            min={0}
            max={strengths.length - 1}
            value={place}
            aria-valuetext={said}
            onChange={({ target }) => setPlace(Number(target.value))}
          />
        </label>
        <span className="figures">{short(strength)}</span>
        <Button look="link" onClick={() => setPlace(tried.best)} disabled={place === tried.best}>
          best: {plural(path.counts[tried.best], 'input')}
        </Button>
        <Button
          look="link"
          onClick={() => setPlace(tried.simplest)}
          disabled={place === tried.simplest}
        >
          simplest as good: {plural(path.counts[tried.simplest], 'input')}
        </Button>
        {place !== chosen && (
          <>
            <Button look="link" onClick={() => setPlace(chosen)}>
              back to the fitted one
            </Button>
            <Button onClick={() => onFitWith({ strengthBy: 'given', strength })}>
              Fit this strength as a candidate
            </Button>
          </>
        )}
      </div>
      <p className="quiet">{said}.</p>
      <PathTable
        path={path}
        place={place}
        detail={detail}
        asRatios={line.outcome?.choice.kind === 'event'}
      />
    </section>
  );
}

function saidOf({ strengths, counts, inputs, tried, loss, chosen }: PathShown, place: number) {
  const which = place === chosen ? ', as fitted' : '';
  return `Strength ${short(strengths[place])}${which}: ${showCount(counts[place])} of ${plural(inputs, 'input')} ${counts[place] === 1 ? 'has' : 'have'} a coefficient; ${loss} ${withError(tried.mean[place], tried.error[place])} in inner folds`;
}

function captionOf(path: PathShown, level: string | undefined): string {
  const { tried, counts, loss, plain, inputs, lines } = path;
  const [best, simplest] = [tried.best, tried.simplest];
  const whose = level === undefined ? '' : ` for ${level}`;
  const gain = `With ${plural(counts[best], 'input')} the ${loss} is least, ${short(tried.mean[best])} in inner folds (${short(plain)} without any)`;
  const simple =
    simplest === best
      ? 'nothing simpler is within one standard error of it'
      : `${showCount(counts[simplest])} do as well within one standard error, ${short(tried.mean[simplest])}`;
  const shown = lines.length < inputs ? ` The ${lines.length} that come in first are drawn.` : '';
  return `${gain}; ${simple}. Above: coefficients${whose} per SD of each input, those that are left out dashed; below: the loss with one standard error.${shown}`;
}
