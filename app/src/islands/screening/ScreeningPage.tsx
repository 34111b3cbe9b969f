import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Dictionary } from '@rook-scale/core/table';
import { get, messageOf, request } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { uploadFile } from '../../browser/upload.ts';
import { FileDrop, Notice } from '../../components/index.ts';
import type { CandidateLine } from '../../server/candidates.ts';
import type { CohortInfo } from '../../server/cohorts.ts';
import type { Overview } from '../../server/studies.ts';
import { PageBody, StagePage } from '../frame/index.ts';
import { BeforeScoring } from './BeforeScoring.tsx';
import { ListPicker } from './ListPicker.tsx';
import { Scored } from './Scored.tsx';
import styles from './Screening.module.css';

export interface ScreeningStart {
  candidates: CandidateLine[];
  cohorts: CohortInfo[];
  screenings: { id: string; cohortId: string; candidateId: string }[];
  /** What the address asks for. */
  asked: Choice;
  /** How columns of the development cohort are understood; a list with the same names is read alike. */
  dictionary: Dictionary;
}

export default function ScreeningPage({
  overview,
  start,
}: {
  overview: Overview;
  start: ScreeningStart;
}) {
  return (
    <StagePage stage="screening" overview={overview}>
      <Screening overview={overview} start={start} />
    </StagePage>
  );
}

function Screening({ overview, start }: { overview: Overview; start: ScreeningStart }) {
  const studyId = overview.study.id;
  const client = useQueryClient();
  const { data: lines } = useQuery({
    queryKey: ['candidates', studyId],
    queryFn: () => get<CandidateLine[]>(`/api/studies/${studyId}/candidates`),
    initialData: start.candidates,
  });
  const { data: cohorts } = useQuery({
    queryKey: ['cohorts', studyId],
    queryFn: () => get<CohortInfo[]>(`/api/studies/${studyId}/cohorts`),
    initialData: start.cohorts,
  });
  const { data: screenings } = useQuery({
    queryKey: ['screenings', studyId],
    queryFn: () => get<ScreeningStart['screenings']>(`/api/studies/${studyId}/screenings`),
    initialData: start.screenings,
  });
  const [choice, choose] = useChoice(start.asked);
  const [problem, setProblem] = useState<string>();
  const usable = lines.filter((line) => line.results && line.family !== 'reference');
  const candidate = usable.find((line) => line.id === choice.candidate) ?? cheapest(usable);
  const cohort = cohorts.find((one) => one.id === choice.list) ?? cohorts[0];
  const screening = screenings.find(
    (one) => one.cohortId === cohort?.id && one.candidateId === candidate?.id,
  );

  const bringIn = async (file: File, progress: (share: number) => void) => {
    const upload = await uploadFile(file, progress);
    const body = {
      purpose: 'screening',
      name: file.name.replace(/\.[^.]+$/, ''),
      uploadId: upload.id,
      dictionary: likeDevelopment(
        upload.columns.map(({ proposal }) => proposal.entry),
        start.dictionary,
      ),
    };
    const { id } = await request<{ id: string }>('POST', `/api/studies/${studyId}/cohorts`, body);
    await client.invalidateQueries({ queryKey: ['cohorts', studyId] });
    choose({ list: id });
  };
  const remove = (id: string) => {
    setProblem(undefined);
    request('DELETE', `/api/cohorts/${id}`).then(
      () => client.invalidateQueries(),
      (error: unknown) => setProblem(messageOf(error)),
    );
  };
  const score = async () => {
    await request('POST', `/api/studies/${studyId}/screenings`, {
      cohort: cohort.id,
      candidate: candidate!.id,
    });
    await client.invalidateQueries();
  };
  const picker = (
    <div className={styles.picker}>
      {problem && <Notice>{problem}</Notice>}
      <ListPicker
        cohorts={cohorts}
        scored={
          new Set(
            screenings
              .filter((one) => one.candidateId === candidate?.id)
              .map((one) => one.cohortId),
          )
        }
        chosen={cohort?.id}
        onChoose={(list) => choose({ list })}
        onDelete={remove}
      />
      <FileDrop compact verb="Bring in a list" onFile={bringIn} />
    </div>
  );

  if (!candidate)
    return (
      <PageBody title="Screening" fact="whom to call in">
        <p>
          A list is scored with a fitted candidate.{' '}
          <a href={`/studies/${studyId}/candidates`}>Fit one in Candidates</a> first.
        </p>
      </PageBody>
    );
  const candidateSelect = (
    <label className={styles.with}>
      scored with
      <select value={candidate.id} onChange={(event) => choose({ candidate: event.target.value })}>
        {usable.map((line) => (
          <option key={line.id} value={line.id}>
            {line.name}
            {line.outOfDate ? ' (out of date)' : ''}
          </option>
        ))}
      </select>
    </label>
  );
  if (!cohort)
    return (
      <PageBody title="Screening" fact="whom to call in" actions={candidateSelect}>
        <FileDrop verb="Choose a file" onFile={bringIn}>
          <div>
            <h2>Bring in a list of patients to screen</h2>
            <p>
              A CSV file with the columns the model was built on, in any order. Columns are matched
              by name; what is missing, extra, new or out of range is shown before anyone is scored.
            </p>
          </div>
        </FileDrop>
      </PageBody>
    );
  const frame = {
    title: 'Screening',
    fact: `${cohort.name}: ${plural(cohort.rowCount, 'patient')}`,
    actions: candidateSelect,
    picker,
  };
  return screening ? (
    <Scored
      key={screening.id}
      frame={frame}
      id={screening.id}
      line={candidate}
      cohort={cohort}
      overview={overview}
      onScoreAgain={score}
    />
  ) : (
    <BeforeScoring
      key={`${cohort.id}-${candidate.id}`}
      frame={frame}
      cohort={cohort}
      line={candidate}
      studyId={studyId}
      onScore={score}
    />
  );
}

function cheapest(lines: CandidateLine[]): CandidateLine | undefined {
  const current = lines.filter((line) => !line.outOfDate);
  const pool = current.length > 0 ? current : lines;
  if (pool.length === 0) return undefined;
  return pool.reduce((best, line) =>
    line.results!.costPerThousand < best.results!.costPerThousand ? line : best,
  );
}

/** Columns known from the development cohort are read as there; the others as their values suggest, set aside. */
function likeDevelopment(proposed: Dictionary, development: Dictionary): Dictionary {
  const known = new Map(development.map((entry) => [entry.name, entry]));
  const hasIdentifier = proposed.some((entry) => known.get(entry.name)?.role === 'identifier');
  return proposed.map((entry) => {
    const same = known.get(entry.name);
    if (same) return same;
    const role = entry.role === 'identifier' && !hasIdentifier ? 'identifier' : 'set aside';
    return { ...entry, role };
  });
}

interface Choice {
  list?: string;
  candidate?: string;
}

/** List and candidate, kept in the address. */
function useChoice(asked: Choice): [Choice, (part: Choice) => void] {
  const [choice, setChoice] = useState(asked);
  const choose = (part: Choice) => {
    const next = { ...choice, ...part };
    setChoice(next);
    const query = new URLSearchParams();
    if (next.list) query.set('list', next.list);
    if (next.candidate) query.set('candidate', next.candidate);
    history.replaceState(null, '', `?${query}`);
  };
  return [choice, choose];
}
