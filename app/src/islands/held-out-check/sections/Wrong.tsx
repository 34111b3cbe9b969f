import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { mostListed } from '@rook-scale/core/comparing';
import { ask, messageOf } from '../../../browser/api.ts';
import { useDictionary } from '../../../browser/dictionary.ts';
import { plural, showCount } from '../../../browser/format.ts';
import { roundDigits, showDigits } from '../../../browser/numbers.ts';
import { lookRoutes, type WrongShown } from '../../../contract/looks.ts';
import {
  Button,
  Notice,
  saveRows,
  Select,
  VirtualTable,
  type VirtualColumn,
} from '../../../components/index.ts';
import { apartText, PatientDialog } from '../../patient-list/index.ts';
import { casesIn, type SectionProps } from './section.ts';
import styles from './Sections.module.css';

type Patient = WrongShown['patients'][number];

const filters = { both: 'missed and false alarms', missed: 'missed', alarms: 'false alarms' };
type Filter = keyof typeof filters;

/** Missed cases and false alarms, those farthest from the cutoff first, and what they share. */
export function Wrong(props: SectionProps) {
  const { studyId, line, cutoff, fittedAt } = props;
  const resting = useResting(cutoff, 300);
  const { data, error } = useQuery({
    queryKey: ['who was wrong', line.id, fittedAt, line.outcome?.cases, resting],
    queryFn: () => {
      const query = { candidate: line.id, fittedAt, cutoff: resting };
      return ask(lookRoutes.wrong, { study: studyId }, { query });
    },
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  if (error) return <Notice>{messageOf(error)}</Notice>;
  if (!data) return <p role="status">Looking for who was wrong</p>;
  return <Listed {...props} cutoff={resting} data={data} />;
}

/** A value once it has stayed for so many milliseconds: a dragged marker asks for nothing on its way. */
function useResting(value: number, milliseconds: number): number {
  const [resting, setResting] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setResting(value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return resting;
}

function Listed({
  studyId,
  line,
  fittedAt,
  cutoff,
  patients: { scale },
  words,
  data,
}: SectionProps & { data: WrongShown }) {
  const { dictionary, labelOf } = useDictionary(studyId);
  const [filter, setFilter] = useState<Filter>('both');
  const [opened, setOpened] = useState<Patient>();
  const listed = useMemo(
    () =>
      data.patients.filter(({ isCase }) => filter === 'both' || isCase === (filter === 'missed')),
    [data, filter],
  );
  const columns = useMemo(
    (): (VirtualColumn & { cell: (patient: Patient) => string })[] => [
      { key: 'name', head: 'patient', width: 190, cell: ({ name }) => name },
      {
        key: 'error',
        head: 'error',
        width: 120,
        cell: ({ isCase }) => (isCase ? 'missed' : 'false alarm'),
      },
      {
        key: 'score',
        head: scale.what === 'risk' ? 'risk' : 'predicted',
        width: 120,
        figures: true,
        cell: ({ score }) => scale.show(roundDigits(score, 3)),
      },
      {
        key: 'off',
        head: 'from the cutoff',
        width: 140,
        figures: true,
        cell: ({ score }) => showDigits(Math.abs(score - cutoff), 3),
      },
    ],
    [scale, cutoff],
  );
  const { apart } = data;
  const shared = (of: WrongShown['apart']['missed']) =>
    of.map((one) => apartText(one, dictionary, labelOf)).join('; ');
  const save = () => {
    const head = ['patient', 'error', 'observed', scale.what === 'risk' ? 'risk' : 'predicted'];
    const rows = listed.map(({ name, isCase, score, observed }) => [
      name,
      isCase ? 'missed' : 'false alarm',
      observed,
      scale.read(score),
    ]);
    void saveRows([head, ...rows], 'called-wrongly.csv');
  };
  return (
    <>
      <p>
        At {scale.show(cutoff)}, {plural(data.missed, 'patient')} {casesIn(words).cases}{' '}
        {data.missed === 1 ? 'is' : 'are'} missed and {plural(data.falseAlarms, 'other')}{' '}
        {data.falseAlarms === 1 ? 'is' : 'are'} called in for nothing.
        {data.missed + data.falseAlarms > mostListed &&
          ` The ${showCount(mostListed)} farthest from the cutoff are listed.`}
      </p>
      {apart.missed.length > 0 && (
        <p>Missed cases differ most from found ones in {shared(apart.missed)}.</p>
      )}
      {apart.falseAlarms.length > 0 && (
        <p>False alarms differ most from those rightly left in {shared(apart.falseAlarms)}.</p>
      )}
      <div className={styles.asked}>
        <Select
          label="Listed"
          value={filter}
          options={(Object.keys(filters) as Filter[]).map((one) => ({
            value: one,
            label: filters[one],
          }))}
          onChange={(one) => setFilter(one)}
        />
        {listed.length > 0 && (
          <Button look="link" onClick={save}>
            Save as CSV
          </Button>
        )}
      </div>
      {listed.length === 0 ? (
        <p className="quiet">Nobody.</p>
      ) : (
        <div className={styles.list} style={{ height: Math.min(10, listed.length + 1) * 28 + 20 }}>
          <VirtualTable
            label="Patients who are called wrongly"
            rowCount={listed.length}
            columns={columns}
            cacheKey={['wrong', line.id, fittedAt, filter, String(cutoff), String(listed.length)]}
            fetchRows={(from, count) => Promise.resolve(listed.slice(from, from + count))}
            cell={(patient, column) => columns[column].cell(patient)}
            onRow={setOpened}
          />
        </div>
      )}
      {opened && (
        <PatientDialog
          {...{ studyId, cohort: data.cohort, row: opened.row, name: opened.name }}
          candidate={line.id}
          onClose={() => setOpened(undefined)}
        >
          {opened.isCase ? 'A case that is missed' : 'No case, and called in'}: {line.name} gave{' '}
          {scale.show(roundDigits(opened.score, 3))}, and calls in from {scale.show(cutoff)} on.
        </PatientDialog>
      )}
    </>
  );
}
