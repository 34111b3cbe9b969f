import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { mostListed, type Differing } from '@rook-scale/core/comparing';
import { ask, messageOf } from '../../../browser/api.ts';
import { useDictionary } from '../../../browser/dictionary.ts';
import { plural, showCount } from '../../../browser/format.ts';
import {
  type CandidateLine,
  candidateRoutes,
  type DifferingShown,
} from '../../../contract/candidates.ts';
import { Notice, Select, VirtualTable, type VirtualColumn } from '../../../components/index.ts';
import { figureKey } from '../comparison/index.ts';
import { apartText, PatientDialog, scoreText } from '../../patient-list/index.ts';
import styles from './SideBySide.module.css';

interface Props {
  studyId: string;
  lines: CandidateLine[];
  letters: Map<string, string>;
}

/** The patients whom only one of two candidates calls in. */
export function WhoDiffers({ studyId, lines, letters }: Props) {
  const [pair, setPair] = useState<[string, string]>();
  const has = (id: string) => lines.some((line) => line.id === id);
  const [one, other] = (
    pair && has(pair[0]) && has(pair[1]) && pair[0] !== pair[1] ? pair : [lines[0].id, lines[1].id]
  ).map((id) => lines.find((line) => line.id === id)!);
  const { data, error } = useQuery({
    queryKey: ['differing', ...[one, other].flatMap(figureKey)],
    queryFn: () =>
      ask(candidateRoutes.differing, { candidate: one.id }, { query: { with: other.id } }),
    staleTime: Infinity,
  });
  const options = (not: CandidateLine) =>
    lines
      .filter(({ id }) => id !== not.id)
      .map(({ id, name }) => ({ value: id, label: `${letters.get(id)} ${name}` }));
  return (
    <section className={styles.differing} aria-label="Who differs">
      <div className={styles.head}>
        <h2>Who differs</h2>
        {lines.length > 2 && (
          <>
            <Select
              label="between"
              value={one.id}
              options={options(other)}
              onChange={(id) => setPair([id, other.id])}
            />
            <Select
              label="and"
              value={other.id}
              options={options(one)}
              onChange={(id) => setPair([one.id, id])}
            />
          </>
        )}
      </div>
      {error && <Notice>{messageOf(error)}</Notice>}
      {!data && !error && <p role="status">Looking for who differs</p>}
      {data && (
        <Listed
          key={`${one.id} ${other.id}`}
          {...{ studyId, one, other, data }}
          marks={[letters.get(one.id)!, letters.get(other.id)!]}
        />
      )}
    </section>
  );
}

interface ListedProps {
  studyId: string;
  one: CandidateLine;
  other: CandidateLine;
  data: DifferingShown;
  marks: [string, string];
}

type Patient = DifferingShown['patients'][number];

function Listed({ studyId, one, other, data, marks }: ListedProps) {
  const { dictionary, labelOf } = useDictionary(studyId);
  const [opened, setOpened] = useState<Patient>();
  const { patients, apart } = data;
  const columns = useMemo(
    (): (VirtualColumn & { cell: (patient: Patient) => string })[] => [
      { key: 'name', head: 'patient', width: 170, cell: ({ name }) => name },
      {
        key: 'case',
        head: 'case',
        width: 70,
        cell: ({ isCase }) => (isCase ? 'yes' : 'no'),
      },
      {
        key: 'called',
        head: 'called in',
        width: 110,
        cell: ({ calledBy }) => `only ${marks[calledBy]}`,
      },
      ...([0, 1] as const).map((k) => ({
        key: `score ${k}`,
        head: `score of ${marks[k]}`,
        width: 120,
        figures: true,
        cell: ({ scores }: Patient) => scoreText(scores[k]),
      })),
    ],
    [marks],
  );
  return (
    <>
      <p>{countsText(data, marks)}</p>
      {apart.length > 0 && (
        <p>
          Those whom only {marks[0]} calls in differ most from those whom only {marks[1]} does in{' '}
          {apart.map((one) => apartText(one, dictionary, labelOf)).join('; ')}.
        </p>
      )}
      {patients.length > 0 && (
        <div
          className={styles.list}
          style={{ height: Math.min(10, patients.length + 1) * 28 + 20 }}
        >
          <VirtualTable
            label={`Patients whom only one of ${one.name} and ${other.name} calls in`}
            rowCount={patients.length}
            columns={columns}
            cacheKey={[
              'differing',
              one.id,
              other.id,
              one.fittedAt ?? '',
              other.fittedAt ?? '',
              String(patients.length),
            ]}
            fetchRows={(from, count) => Promise.resolve(patients.slice(from, from + count))}
            cell={(patient, column) => columns[column].cell(patient)}
            onRow={setOpened}
          />
        </div>
      )}
      {opened && (
        <PatientDialog
          {...{ studyId, cohort: data.cohort, row: opened.row, name: opened.name }}
          candidate={one.id}
          onClose={() => setOpened(undefined)}
        >
          {opened.isCase ? 'A case' : 'Not a case'}. Only {marks[opened.calledBy]},{' '}
          {[one, other][opened.calledBy].name}, calls them in: {marks[0]} gave{' '}
          {scoreText(opened.scores[0])}, {marks[1]} {scoreText(opened.scores[1])}, each out of fold.
        </PatientDialog>
      )}
    </>
  );
}

function countsText({ cases, others, patients }: Differing, [a, b]: [string, string]): string {
  const found = `Of ${plural(cases[0] + cases[1] + cases[2] + cases[3], 'case')} both find ${showCount(cases[0])}, only ${a} ${showCount(cases[1])}, only ${b} ${showCount(cases[2])}, neither ${showCount(cases[3])}.`;
  const called = ` Of ${plural(others[0] + others[1] + others[2] + others[3], 'other')} both call in ${showCount(others[0])}, only ${a} ${showCount(others[1])}, only ${b} ${showCount(others[2])}.`;
  const differ = cases[1] + cases[2] + others[1] + others[2];
  if (differ === 0) return `${found}${called} They call in the same patients.`;
  const first =
    patients.length < differ
      ? ` The first ${showCount(mostListed)} of ${showCount(differ)} are listed, cases first.`
      : ' Cases are listed first, and those whose scores are farthest apart.';
  return `${found}${called}${first} Press one to see who it is.`;
}
