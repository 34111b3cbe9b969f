import { useState } from 'react';
import type { NetworkShown } from '@rook-scale/core/families';
import { plural } from '../../../browser/format.ts';
import { SvgFigure } from '../../../components/index.ts';
import type { FacetProps } from '../Facets.tsx';
import { nameOfWay } from '../path/index.ts';
import { drawnUnits, linksOf, mostDrawn, strengths, weightsOf } from './network-shape.ts';
import { UnitTable } from './UnitTable.tsx';
import styles from './Network.module.css';

const width = 860;
const step = 21;
const nameWidth = 190;
const outputWidth = 130;
const top = 18;

/** A unit that is looked at: its layer, and its place in it. */
export type Unit = [layer: number, unit: number];

/** Layers as columns of rings, lines as wide as their weight, dashed where it is negative. */
export function NetworkView({ value: shown, detail, line }: FacetProps<'network'>) {
  const [chosen, setChosen] = useState<Unit>([shown.sizes.length - 1, 0]);
  const drawn = drawnUnits(shown);
  const links = linksOf(shown, drawn);
  const most = Math.max(1e-9, ...links.map(({ weight }) => Math.abs(weight)));
  const rows = Math.max(...drawn.map(({ length }) => length));
  const height = top + rows * step + 6;
  const last = shown.sizes.length - 1;
  const x = (layer: number) => nameWidth + ((width - nameWidth - outputWidth) * layer) / last;
  const y = (layer: number, place: number) =>
    top + (place + 0.5 + (rows - drawn[layer].length) / 2) * step;
  const nameOf = ([layer, unit]: Unit) =>
    nameOfUnit(
      shown,
      [layer, unit],
      (input) => nameOfWay(input, detail),
      line.outcome?.label ?? '',
    );
  return (
    <section>
      <SvgFigure
        title="Network"
        caption={captionOf(shown, nameOf)}
        width={width}
        height={height}
        fileName={`${line.name}-network`}
        pressable
        numbers={() => [
          ['layer', 'unit', 'from', 'weight'],
          ...shown.sizes.slice(1).flatMap((size, before) =>
            Array.from({ length: size }, (_, unit) => {
              const { constant, weights } = weightsOf(shown, before + 1, unit);
              const name = nameOf([before + 1, unit]);
              return [
                [before + 1, name, 'constant', constant],
                ...weights.map((weight, from) => [
                  before + 1,
                  name,
                  nameOf([before, from]),
                  weight,
                ]),
              ];
            }).flat(),
          ),
        ]}
      >
        {shown.sizes.map((_, layer) => (
          <text
            key={layer}
            x={x(layer)}
            y={11}
            textAnchor={layer === 0 ? 'end' : layer === last ? 'start' : 'middle'}
            className={styles.head}
          >
            {layer === 0
              ? 'inputs, per SD'
              : layer === last
                ? 'outputs'
                : last === 2
                  ? 'hidden units'
                  : `hidden layer ${layer}`}
          </text>
        ))}
        {links.map(({ layer, from, to, weight }) => (
          <line
            key={`${layer} ${from} ${to}`}
            x1={x(layer - 1)}
            y1={y(layer - 1, drawn[layer - 1].indexOf(from))}
            x2={x(layer)}
            y2={y(layer, drawn[layer].indexOf(to))}
            strokeWidth={Math.max(0.25, (4 * Math.abs(weight)) / most)}
            strokeDasharray={weight < 0 ? '5 3' : undefined}
            className={isOf(chosen, [layer, to]) ? styles.lit : styles.link}
          />
        ))}
        {drawn.map((units, layer) =>
          units.map((unit, place) => (
            <g
              key={`${layer} ${unit}`}
              {...(layer > 0 && {
                role: 'button',
                tabIndex: 0,
                'aria-pressed': isOf(chosen, [layer, unit]),
                'aria-label': `Weights of ${nameOf([layer, unit])}`,
                onClick: () => setChosen([layer, unit]),
                onKeyDown: (event: React.KeyboardEvent) => {
                  if (event.key !== 'Enter' && event.key !== ' ') return;
                  event.preventDefault();
                  setChosen([layer, unit]);
                },
              })}
              className={layer > 0 ? styles.unit : undefined}
            >
              <circle
                cx={x(layer)}
                cy={y(layer, place)}
                r={7}
                className={isOf(chosen, [layer, unit]) ? styles.chosen : styles.ring}
              />
              {layer === 0 && (
                <text x={x(0) - 13} y={y(0, place) + 4} textAnchor="end" className={styles.name}>
                  {cut(nameOf([0, unit]))}
                </text>
              )}
              {layer > 0 && layer < last && (
                <text
                  x={x(layer)}
                  y={y(layer, place) + 4}
                  textAnchor="middle"
                  className={styles.number}
                >
                  {unit + 1}
                </text>
              )}
              {layer === last && (
                <text x={x(last) + 13} y={y(last, place) + 4} className={styles.name}>
                  {cut(nameOf([last, unit]), 18)}
                </text>
              )}
            </g>
          )),
        )}
      </SvgFigure>
      <UnitTable shown={shown} unit={chosen} nameOf={nameOf} />
    </section>
  );
}

const isOf = ([layer, unit]: Unit, [otherLayer, other]: Unit): boolean =>
  layer === otherLayer && unit === other;

const cut = (name: string, length = 26): string =>
  name.length > length ? `${name.slice(0, length - 1)}…` : name;

function nameOfUnit(
  { sizes, inputs, outcome, levels = [] }: NetworkShown,
  [layer, unit]: Unit,
  nameOf: (input: string) => string,
  label: string,
): string {
  if (layer === 0) return nameOf(inputs[unit]);
  if (layer < sizes.length - 1)
    return sizes.length === 3 ? `hidden unit ${unit + 1}` : `unit ${unit + 1} of layer ${layer}`;
  return outcome === 'levels' ? levels[unit] : label || (outcome === 'event' ? 'risk' : 'number');
}

function captionOf(shown: NetworkShown, nameOf: (unit: Unit) => string): string {
  const { sizes, epochs, most, ended, parameters } = shown;
  const strong = strengths(shown);
  const first = strong.indexOf(Math.max(...strong));
  const hidden = sizes.slice(1, -1).join(' and ');
  const why =
    epochs === 0
      ? 'no epoch made patients not learned from fare any better'
      : ended === 'in time'
        ? `learned for ${plural(epochs, 'epoch')} of at most ${most}, after which patients not learned from fared no better`
        : `learned for ${plural(epochs, 'epoch')} of at most ${most}`;
  const more =
    sizes[0] > mostDrawn
      ? ` The ${mostDrawn} inputs that weigh most of ${sizes[0]} are drawn.`
      : '';
  return `${plural(parameters.length, 'weight')} by way of ${hidden} hidden units; ${why}. ${nameOf([0, first])} weighs most. Lines are as wide as their weight, dashed where it is negative.${more}`;
}
