import { RotateCw, StickyNote, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { measuresByKind, ratesOf, type Measure } from '@rook-scale/core/measures';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import type { CandidateLine } from '../../contract/candidates.ts';
import { showCost, showCutoff, showInterval, showRate } from '../../browser/format.ts';
import { partsText } from '../../browser/progress.ts';
import { Button, ConfirmDelete, Progress } from '../../components/index.ts';
import { useAddress } from '../../browser/address.ts';
import type { SearchLine } from '../../contract/searches.ts';
import { SearchRows } from '../search/index.ts';
import { differsText } from './differs.ts';
import { ariaSort, ledgerColumns, sortedLines, turnedSort } from './ledger-columns.ts';
import styles from './CandidateTable.module.css';

interface Props {
  lines: CandidateLine[];
  searches: SearchLine[];
  /** What the design predicts: the columns follow from it. */
  kind: OutcomeKind;
  selected?: string;
  /** The search that is open. */
  search?: string;
  onSelect: (id: string) => void;
  onSearch: (id: string) => void;
  onStop: (search: string) => void;
  onDeleteSearch: (line: SearchLine) => void;
  onCancel: (id: string) => void;
  onRefit: (id: string) => void;
  onDelete: (line: CandidateLine) => void;
}

/** The candidates lined up, each beside the reference. */
export function CandidateTable(props: Props) {
  const { lines, kind, selected, onSelect, onCancel, onRefit, onDelete } = props;
  const [deleting, setDeleting] = useState<CandidateLine>();
  const [ending, setEnding] = useState<SearchLine>();
  const costs = lines.flatMap((line) =>
    line.results && !line.outOfDate ? [line.results.costPerThousand] : [],
  );
  const best = Math.min(...costs);
  const columns = ledgerColumns(kind);
  const [sort, setSort] = useAddress('sort');
  return (
    <>
      <table className={`${styles.table} ${kind === 'event' ? '' : styles.many}`}>
        <caption className="hidden">Cross-validated results at each candidate’s cutoff</caption>
        <thead>
          <tr>
            {columns.map((column) => (
              <th
                scope="col"
                key={column.key}
                title={column.help}
                aria-sort={ariaSort(column, sort)}
              >
                <button
                  type="button"
                  onClick={() => setSort(turnedSort(sort, column.key), 'replace')}
                >
                  {column.head}
                  <span aria-hidden="true">{arrows[ariaSort(column, sort) ?? 'none']}</span>
                </button>
                {column.beside && <span className={styles.beside}> {column.beside}</span>}
              </th>
            ))}
            <th scope="col">
              <span className="hidden">Acts</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {sortedLines(lines, columns, sort).map((line) => (
            <tr
              key={line.id}
              className={line.id === selected ? styles.selected : undefined}
              onClick={() => onSelect(line.id)}
            >
              <th scope="row">
                <button
                  type="button"
                  data-candidate={line.id}
                  aria-pressed={line.id === selected}
                  onClick={() => onSelect(line.id)}
                >
                  {line.name}
                </button>
                {line.note && (
                  <span className={styles.noted} title={line.note}>
                    <StickyNote size={13} role="img" aria-label="It has a note" />
                  </span>
                )}
                <ToldApart line={line} />
                {line.outOfDate && line.results && (
                  <span className={styles.stale}>out of date</span>
                )}
              </th>
              <Results line={line} best={best} kind={kind} />
              <td className={styles.acts}>
                <Acts line={line} onCancel={onCancel} onRefit={onRefit} onDelete={setDeleting} />
              </td>
            </tr>
          ))}
          <SearchRows
            searches={props.searches}
            kind={kind}
            selected={props.search}
            width={columns.length - 1}
            styles={styles}
            onSelect={props.onSearch}
            onStop={props.onStop}
            onDelete={setEnding}
          />
        </tbody>
      </table>
      {ending && (
        <ConfirmDelete
          name={`${ending.name}, search`}
          onDelete={() => props.onDeleteSearch(ending)}
          onClose={() => setEnding(undefined)}
        >
          What it tried goes. Candidates that were made of it stay.
        </ConfirmDelete>
      )}
      {deleting && (
        <ConfirmDelete
          name={deleting.name}
          onDelete={() => onDelete(deleting)}
          onClose={() => setDeleting(undefined)}
        >
          Its fit and the lists scored with it go. Its looks at the held-out patients stay counted.
        </ConfirmDelete>
      )}
    </>
  );
}

/** Kept predictors and preparation that a candidate is fitted on, and settings that are not the usual ones. */
function ToldApart({ line: { basis, family, settings } }: { line: CandidateLine }) {
  const kept = [basis.predictors, basis.preparation].filter(Boolean).join(', ');
  const parts = [kept, differsText(family, settings)].filter(Boolean);
  if (parts.length === 0) return null;
  const text = parts.join('; ');
  return (
    <span className={styles.basis} title={text}>
      {text}
    </span>
  );
}

function Results({ line, best, kind }: { line: CandidateLine; best: number; kind: OutcomeKind }) {
  const { results } = line;
  const measures = measuresByKind[kind] as Measure[];
  const width = 5 + (kind === 'event' ? 1 : measures.length);
  if (line.state === 'waiting' || line.state === 'fitting')
    return (
      <td colSpan={width} className={styles.fitting}>
        <Progress
          done={line.partsDone}
          total={line.partsTotal || 6}
          label={`Fitting ${line.name}`}
        />
        <span>{line.state === 'waiting' ? 'waiting for a worker' : partsText(line)}</span>
      </td>
    );
  if (!results)
    return (
      <td colSpan={width} className={styles.problem}>
        {line.state === 'cancelled' ? 'The fit was cancelled.' : line.problem}
      </td>
    );
  const { area, costPerThousand, cutoff } = results;
  const rates = ratesOf(results.table);
  return (
    <>
      <td className={!line.outOfDate && costPerThousand <= best ? styles.best : undefined}>
        {showCost(costPerThousand)}
      </td>
      <td
        title={`${Number(rates.sensitivity.count.toFixed(1))} of ${rates.sensitivity.total}, 95% interval ${showInterval(rates.sensitivity.interval)}`}
      >
        {showRate(rates.sensitivity)}
      </td>
      <td
        title={`${Number(rates.specificity.count.toFixed(1))} of ${rates.specificity.total}, 95% interval ${showInterval(rates.specificity.interval)}`}
      >
        {showRate(rates.specificity)}
      </td>
      <td
        title={
          area &&
          `Mean of the folds; they range from ${area.least.toFixed(2)} to ${area.greatest.toFixed(2)}`
        }
      >
        {area ? area.mean.toFixed(2) : '–'}
      </td>
      {kind === 'event' ? (
        <td>
          {showRate(rates.accuracy)}{' '}
          <span className={styles.beside}>{showRate(rates.majorityBaseline)}</span>
        </td>
      ) : (
        measures.map((measure) => <td key={measure.id}>{showFigure(measure, line)}</td>)
      )}
      <td>{showCutoff(cutoff, line.outcome)}</td>
    </>
  );
}

/** A dash where the candidate was fitted to another kind of outcome. */
function showFigure({ id, unit }: Measure, { results }: CandidateLine): string {
  const value = results?.figures?.[id]?.value;
  if (value === undefined) return '–';
  if (unit === 'cost') return showCost(value);
  // Nearly nothing has no sign.
  return unit === 'outcome'
    ? String(Number(value.toPrecision(3)))
    : value.toFixed(2).replace(/^-(?=0\.00$)/, '');
}

const arrows = { ascending: ' ↑', descending: ' ↓', none: '' };

interface ActsProps {
  line: CandidateLine;
  onCancel: (id: string) => void;
  onRefit: (id: string) => void;
  onDelete: (line: CandidateLine) => void;
}

function Acts({ line, onCancel, onRefit, onDelete }: ActsProps) {
  const atWork = line.state === 'waiting' || line.state === 'fitting';
  if (atWork)
    return (
      <Button look="link" onClick={() => onCancel(line.id)}>
        Cancel
      </Button>
    );
  return (
    <>
      {(line.outOfDate || !line.results || line.state !== 'fitted') && (
        <button
          type="button"
          aria-label={`Fit ${line.name} again`}
          title="Fit again"
          onClick={() => onRefit(line.id)}
        >
          <RotateCw size={15} aria-hidden="true" />
        </button>
      )}
      {line.family !== 'reference' && (
        <button
          type="button"
          aria-label={`Delete ${line.name}`}
          title="Delete"
          onClick={() => onDelete(line)}
        >
          <Trash2 size={15} aria-hidden="true" />
        </button>
      )}
    </>
  );
}
