import { Square, Trash2 } from 'lucide-react';
import { searchMeasures } from '@rook-scale/core/search';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import type { SearchLine } from '../../contract/searches.ts';
import { Progress } from '../../components/index.ts';
import { fieldsOfSearch, kindText, settingsText, showTried, stateText } from './words.ts';

interface Props {
  searches: SearchLine[];
  kind: OutcomeKind;
  selected?: string;
  /** Columns behind the name, without that of acts. */
  width: number;
  styles: Record<string, string>;
  onSelect: (id: string) => void;
  onStop: (id: string) => void;
  onDelete: (line: SearchLine) => void;
}

/** Searches among the candidates, a line each. */
export function SearchRows(props: Props) {
  const { searches, kind, selected, width, styles, onSelect, onStop, onDelete } = props;
  return searches.map((line) => {
    const isBusy = line.state === 'waiting' || line.state === 'running';
    return (
      <tr
        key={line.id}
        className={line.id === selected ? styles.selected : undefined}
        onClick={() => onSelect(line.id)}
      >
        <th scope="row">
          <button
            type="button"
            data-search={line.id}
            aria-pressed={line.id === selected}
            onClick={() => onSelect(line.id)}
          >
            {line.name}, {kindText(line)}
          </button>
          {(line.outOfDate || line.otherCosts) && (
            <span className={styles.stale}>{line.outOfDate ? 'out of date' : 'other costs'}</span>
          )}
        </th>
        <td
          colSpan={width}
          className={`${styles.searched} ${line.state === 'failed' ? styles.problem : styles.fitting}`}
          title={`${stateText(line)}${bestText(line, kind)}`}
        >
          {isBusy && <Progress done={line.progress} total={1} label={`Searching ${line.name}`} />}
          {stateText(line)}
          {bestText(line, kind)}
        </td>
        <td className={styles.acts}>
          {isBusy && (
            <button
              type="button"
              aria-label={`Stop ${line.name}`}
              title="Stop, and keep what there is"
              onClick={(event) => {
                event.stopPropagation();
                onStop(line.id);
              }}
            >
              <Square size={14} aria-hidden="true" />
            </button>
          )}
          <button
            type="button"
            aria-label={`Delete ${line.name}, ${kindText(line)}`}
            title="Delete"
            onClick={(event) => {
              event.stopPropagation();
              onDelete(line);
            }}
          >
            <Trash2 size={15} aria-hidden="true" />
          </button>
        </td>
      </tr>
    );
  });
}

function bestText(
  { best, plan, family, state, otherCosts }: SearchLine,
  kind: OutcomeKind,
): string {
  const measure = searchMeasures[kind].find(({ id }) => id === plan.measure);
  // Of growing numbers of patients none is to be chosen.
  if (!best || !measure || otherCosts || plan.growing) return '';
  const so = state === 'done' ? '' : ' so far';
  const fields = fieldsOfSearch({ family, plan });
  const isVaried = (name: string) =>
    plan.fewer ? name === (plan.fewer.way === 'sets' ? 'set' : 'predictors') : plan.tried[name];
  const varied = fields
    .map(({ name }) => name)
    .filter((name) => isVaried(name) && best.settings[name] !== undefined);
  const where = settingsText(
    fields,
    varied,
    varied.map((name) => best.settings[name]),
  );
  return `; best${so}: ${measure.name} ${showTried(measure, best.value)}${where ? ` with ${where}` : ''}`;
}
