import { Columns3, RotateCw, StickyNote, Trash2 } from 'lucide-react';
import { Fragment, useEffect, useRef, useState } from 'react';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import type { CandidateLine } from '../../contract/candidates.ts';
import { plural } from '../../browser/format.ts';
import { partsText } from '../../browser/progress.ts';
import { Button, ConfirmDelete, Progress } from '../../components/index.ts';
import { useAddress } from '../../browser/address.ts';
import type { SearchLine } from '../../contract/searches.ts';
import { kindText, SearchRows } from '../search/index.ts';
import { differsText } from './differs.ts';
import { canBeDrawn, type Drawn } from './side-by-side/index.ts';
import { ColumnsDialog } from './ColumnsDialog.tsx';
import { byGroup, groupsOf } from './groups.ts';
import { useKeptColumns } from './kept-columns.ts';
import { ariaSort, bestOf, sortedLines, turnedSort, type LedgerColumn } from './ledger-columns.ts';
import styles from './CandidateTable.module.css';

interface Props {
  lines: CandidateLine[];
  searches: SearchLine[];
  /** What the design predicts: the columns follow from it. */
  kind: OutcomeKind;
  selected?: string;
  /** The candidate that is chosen for the study. */
  chosen?: string;
  /** The search that is open. */
  search?: string;
  /** Those that are drawn on the same charts. */
  drawn: Drawn;
  onSelect: (id: string) => void;
  onSearch: (id: string) => void;
  onStop: (search: string) => void;
  onDeleteSearch: (line: SearchLine) => void;
  onCancel: (id: string) => void;
  onRefit: (id: string) => void;
  onDelete: (line: CandidateLine) => void;
}

/** Of more lines than these the table scrolls by itself, so that what is opened below stays near. */
const mostInSight = 12;

/** The candidates lined up, each beside the reference. */
export function CandidateTable(props: Props) {
  const { lines, kind, selected, drawn, onSelect, onCancel, onRefit, onDelete } = props;
  const [deleting, setDeleting] = useState<CandidateLine>();
  const [ending, setEnding] = useState<SearchLine>();
  const [choosing, setChoosing] = useState(false);
  const columns = useKeptColumns(kind);
  const best = new Map(
    columns
      .filter(({ marksBest }) => marksBest)
      .map((column) => [column.key, bestOf(lines, column)]),
  );
  const [sort, setSort] = useAddress('sort');
  const isTall = lines.length + props.searches.length > mostInSight;
  const opened = props.search ?? selected;
  const frame = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (isTall) scrollTo(frame.current, opened);
  }, [isTall, opened]);
  return (
    <>
      <div ref={frame} className={isTall ? styles.tall : undefined}>
        <table
          className={`${styles.table} ${kind === 'event' && columns.length <= 7 ? '' : styles.many}`}
        >
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
              <th scope="col" className={styles.choose}>
                <button
                  type="button"
                  aria-label="Columns of the table"
                  title="Columns of the table"
                  onClick={() => setChoosing(true)}
                >
                  <Columns3 size={15} aria-hidden="true" />
                </button>
              </th>
            </tr>
          </thead>
          <tbody>
            {byGroup(sortedLines(lines, columns, sort)).map(({ group, lines: own }) => (
              <Fragment key={group}>
                {group && (
                  <tr className={styles.group}>
                    <th scope="rowgroup" colSpan={columns.length + 1}>
                      {group} <span className="quiet">{own.length}</span>
                    </th>
                  </tr>
                )}
                {own.map((line) => (
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
                      {line.id === props.chosen && (
                        <span className={styles.taken} title="Chosen for this study">
                          chosen
                        </span>
                      )}
                      <ToldApart line={line} />
                      {line.outOfDate && line.results && (
                        <span className={styles.stale}>out of date</span>
                      )}
                      {canBeDrawn(line) && <Letter line={line} drawn={drawn} />}
                    </th>
                    <Results line={line} best={best} columns={columns.slice(1)} />
                    <td className={styles.acts}>
                      <Acts
                        line={line}
                        onCancel={onCancel}
                        onRefit={onRefit}
                        onDelete={setDeleting}
                      />
                    </td>
                  </tr>
                ))}
              </Fragment>
            ))}
            {props.searches.length > 0 && groupsOf(lines).length > 0 && (
              <tr className={styles.group}>
                <th scope="rowgroup" colSpan={columns.length + 1}>
                  Searches <span className="quiet">{props.searches.length}</span>
                </th>
              </tr>
            )}
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
      </div>
      {choosing && <ColumnsDialog kind={kind} onClose={() => setChoosing(false)} />}
      {ending && (
        <ConfirmDelete
          name={`${ending.name}, ${kindText(ending)}`}
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

/** Brings the open line into sight within the frame, and leaves the page where it is. */
function scrollTo(frame: HTMLElement | null, id: string | undefined): void {
  const row = frame
    ?.querySelector(`[data-candidate="${id}"], [data-search="${id}"]`)
    ?.closest('tr');
  if (!frame || !row) return;
  const head = frame.querySelector('thead')?.clientHeight ?? 0;
  const top = row.offsetTop - head;
  const bottom = row.offsetTop + row.offsetHeight - frame.clientHeight;
  if (frame.scrollTop > top) frame.scrollTop = top;
  if (frame.scrollTop < bottom) frame.scrollTop = bottom;
}

/** Draws a candidate on the charts of several: its letter there, or a place for one. */
function Letter({ line, drawn }: { line: CandidateLine; drawn: Drawn }) {
  const letter = drawn.letters.get(line.id);
  const title = letter
    ? `${line.name} is ${letter} on the charts: press to take it off`
    : `Draw ${line.name} on the charts of several`;
  return (
    <button
      type="button"
      className={styles.letter}
      aria-pressed={letter !== undefined}
      aria-label={title}
      title={title}
      onClick={(event) => {
        event.stopPropagation();
        drawn.turn(line);
      }}
    >
      {letter ?? ''}
    </button>
  );
}

/** What it is fitted on or made of, where that is not the usual, and settings that are not the usual ones. */
function ToldApart({ line: { basis, family, settings, parts } }: { line: CandidateLine }) {
  const told = [
    {
      text: parts && (parts.length === 1 ? parts[0].name : plural(parts.length, 'part')),
      names: parts && parts.length > 1 ? parts.map(({ name }) => name) : undefined,
    },
    { text: basis.own && plural(basis.own.length, 'predictor'), names: basis.own },
    { text: basis.predictors },
    { text: basis.preparation },
    { text: basis.steps && plural(basis.steps.length, 'step') },
    { text: differsText(family, settings) },
  ].filter(({ text }) => text);
  if (told.length === 0) return null;
  const title = told.map(({ text, names }) => (names ? `${text}: ${names.join(', ')}` : text));
  return (
    <span className={styles.basis} title={title.join('; ')}>
      {told.map(({ text }) => text).join(', ')}
    </span>
  );
}

function Results({
  line,
  best,
  columns,
}: {
  line: CandidateLine;
  /** Ids of the lines that are best, by column. */
  best: Map<string, Set<string>>;
  columns: LedgerColumn[];
}) {
  const { results } = line;
  const width = columns.length;
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
  return columns.map(({ key, cell }) => {
    const { text, beside, title } = cell(line);
    return (
      <td key={key} title={title} className={best.get(key)?.has(line.id) ? styles.best : undefined}>
        {text}
        {beside && <span className={styles.beside}> {beside}</span>}
      </td>
    );
  });
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
