import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { User } from 'lucide-react';
import { understand as understandColumn, type Dictionary } from '@rook-scale/core/table';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import { type CohortInfo, cohortRoutes } from '../../contract/cohorts.ts';
import type { Overview } from '../../contract/studies.ts';
import type { UploadReview } from '../../contract/uploads.ts';
import { setAddress, useAddress } from '../../browser/address.ts';
import { ask } from '../../browser/api.ts';
import { screeningRoutes } from '../../contract/screenings.ts';
import { remove } from '../../browser/deletion.ts';
import { focusOn } from '../../browser/focus.ts';
import { plural } from '../../browser/format.ts';
import { startingCandidate } from '../../browser/starting-candidate.ts';
import { toastError } from '../../browser/toast.ts';
import { uploadFile } from '../../browser/upload.ts';
import { Button, FileDrop, type TakeFile } from '../../components/index.ts';
import { PageBody, StagePage, useOverview } from '../frame/index.ts';
import { ReviewView } from '../review/index.ts';
import { BeforeScoring, type Consent } from './BeforeScoring.tsx';
import { JoinOutcomesDialog } from './JoinOutcomesDialog.tsx';
import { listsOfOutcomes, type Joinable } from './looks-like-outcomes.ts';
import { ListPicker } from './ListPicker.tsx';
import { OnePatient } from './OnePatient.tsx';
import { Scored } from './Scored.tsx';
import styles from './Screening.module.css';

export interface ScreeningStart {
  candidates: CandidateLine[];
  cohorts: CohortInfo[];
  screenings: { id: string; cohortId: string; candidateId: string }[];
  /** How columns of the development cohort are understood; a list with the same names is read alike. */
  dictionary: Dictionary;
}

export default function ScreeningPage({
  overview,
  start,
  query,
}: {
  overview: Overview;
  start: ScreeningStart;
  query: Record<string, string>;
}) {
  return (
    <StagePage stage="screening" overview={overview} query={query}>
      <Screening studyId={overview.study.id} start={start} />
    </StagePage>
  );
}

/** A list under review before it is stored. */
interface Reviewing {
  upload: UploadReview;
  name: string;
}

function Screening({ studyId, start }: { studyId: string; start: ScreeningStart }) {
  const overview = useOverview(studyId);
  const client = useQueryClient();
  const { data: lines } = useQuery({
    queryKey: ['candidates', studyId],
    queryFn: () => ask(candidateRoutes.list, { study: studyId }),
    initialData: start.candidates,
  });
  const { data: cohorts } = useQuery({
    queryKey: ['cohorts', studyId],
    queryFn: () => ask(cohortRoutes.lists, { study: studyId }),
    initialData: start.cohorts,
  });
  const { data: screenings } = useQuery({
    queryKey: ['screenings', studyId],
    queryFn: () => ask(screeningRoutes.list, { study: studyId }),
    initialData: start.screenings,
  });
  const [askedList] = useAddress('list');
  const [askedCandidate] = useAddress('candidate');
  const [view] = useAddress('view');
  const [reviewing, setReviewing] = useState<Reviewing>();
  /** A file that seems to hold the outcomes of a list. */
  const [joining, setJoining] = useState<{ upload: UploadReview; joinable: Joinable[] }>();
  const usable = lines.filter((line) => line.results && line.family !== 'reference');
  const candidate =
    usable.find((line) => line.id === askedCandidate) ?? startingCandidate(usable, overview.chosen);
  const cohort = cohorts.find((one) => one.id === askedList) ?? cohorts[0];
  const screening = screenings.find(
    (one) => one.cohortId === cohort?.id && one.candidateId === candidate?.id,
  );

  const understand = (upload: UploadReview) =>
    likeDevelopment(
      upload.columns.map(({ proposal }) => proposal.entry),
      start.dictionary,
    );
  const store = async (
    name: string,
    uploadId: string,
    dictionary: Dictionary,
    signal: AbortSignal,
  ) => {
    const body = { purpose: 'screening' as const, name, uploadId, dictionary };
    const { id } = await ask(cohortRoutes.bringIn, { study: studyId }, { body, signal });
    await client.invalidateQueries({ queryKey: ['cohorts', studyId] });
    setReviewing(undefined);
    setAddress({ list: id, view: undefined, row: undefined });
    focusOn(`[data-list="${id}"]`);
  };
  const bringIn: TakeFile = async (file, progress, signal) => {
    const upload = await uploadFile(file, progress, signal);
    const name = file.name.replace(/\.[^.]+$/, '');
    const joinable = listsOfOutcomes(
      understand(upload),
      cohorts,
      start.dictionary.filter(({ role }) => role === 'predictor').map((entry) => entry.name),
      overview.design?.choices.outcome ?? '',
    );
    if (joinable.length > 0) setJoining({ upload, joinable });
    else await take(upload, name, signal);
  };
  const take = async (upload: UploadReview, name: string, signal: AbortSignal) => {
    // Read like the development cohort, most lists need no word; the others are shown first.
    if (needsReview(upload, understand(upload))) setReviewing({ upload, name });
    else await store(name, upload.id, understand(upload), signal);
  };
  /** The list with the outcomes beside it, read as the list was. */
  const keepJoined = async (joined: UploadReview, { list }: Joinable) => {
    const read = new Map(list.dictionary.map((entry) => [entry.name, entry]));
    const dictionary = understand(joined).map((entry) => read.get(entry.name) ?? entry);
    await store(`${list.name} with outcomes`, joined.id, dictionary, new AbortController().signal);
    setJoining(undefined);
  };
  const joinDialog = joining && (
    <JoinOutcomesDialog
      {...joining}
      columns={joining.upload.columns.map(({ tally }) => tally.name)}
      onJoined={keepJoined}
      onList={() => {
        setJoining(undefined);
        const name = joining.upload.fileName.replace(/\.[^.]+$/, '');
        void take(joining.upload, name, new AbortController().signal).catch(toastError);
      }}
      onClose={() => setJoining(undefined)}
    />
  );
  const score = async (consent: Consent) => {
    await ask(
      screeningRoutes.score,
      { study: studyId },
      {
        body: {
          cohort: cohort.id,
          candidate: candidate!.id,
          ...consent,
        },
      },
    );
    await client.invalidateQueries();
    if (view === 'match') setAddress({ view: undefined });
    focusOn('[role=table][aria-label^="Call-in list"]');
  };
  const picker = (
    <div className={styles.picker}>
      <ListPicker
        cohorts={cohorts}
        scored={
          new Set(
            screenings
              .filter((one) => one.candidateId === candidate?.id)
              .map((one) => one.cohortId),
          )
        }
        chosen={view === 'patient' ? undefined : cohort?.id}
        onChoose={(list) =>
          setAddress({ list, view: undefined, row: undefined, cutoff: undefined })
        }
        onDelete={(list) => void remove('cohort', list.id, list.name)}
      />
      <Button
        aria-pressed={view === 'patient'}
        onClick={() =>
          setAddress({ view: view === 'patient' ? undefined : 'patient', row: undefined })
        }
      >
        <User size={15} aria-hidden="true" />
        One patient
      </Button>
      <FileDrop compact verb="Bring in a list" onFile={bringIn} />
      {joinDialog}
    </div>
  );

  if (reviewing)
    return (
      <ReviewView
        title="Screening"
        upload={reviewing.upload}
        dictionary={understand(reviewing.upload)}
        name={reviewing.name}
        mending={false}
        understand={understand}
        onConfirm={(name, dictionary, { uploadId, signal }) =>
          store(name, uploadId, dictionary, signal)
        }
        onLeave={() => setReviewing(undefined)}
      />
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
      <select
        value={candidate.id}
        onChange={(event) => setAddress({ candidate: event.target.value, cutoff: undefined })}
      >
        {usable.map((line) => (
          <option key={line.id} value={line.id}>
            {line.name}
            {line.id === overview.chosen?.id ? ' (chosen)' : ''}
            {line.outOfDate ? ' (out of date)' : ''}
          </option>
        ))}
      </select>
    </label>
  );
  if (view === 'patient')
    return (
      <OnePatient
        line={candidate}
        overview={overview}
        cohort={cohort}
        screening={screening?.id}
        actions={candidateSelect}
        picker={picker}
      />
    );
  if (!cohort)
    return (
      <PageBody title="Screening" fact="whom to call in" actions={candidateSelect}>
        <FileDrop verb="Choose a file" onFile={bringIn}>
          <div>
            <h2>Bring in a list of patients to screen</h2>
            <p>
              A CSV file with the columns the model was built on, in any order. Columns are matched
              by name, or by hand where the list calls them something else; what is missing, extra,
              new or out of range is shown before anyone is scored.
            </p>
          </div>
        </FileDrop>
        <p className={styles.orOne}>
          Or{' '}
          <button type="button" className="link" onClick={() => setAddress({ view: 'patient' })}>
            enter one patient
          </button>{' '}
          by hand.
        </p>
      </PageBody>
    );
  const frame = {
    title: 'Screening',
    fact: `${cohort.name}: ${plural(cohort.rowCount, 'patient')}`,
    actions: candidateSelect,
    picker,
  };
  return screening && view !== 'match' ? (
    <Scored
      key={screening.id}
      frame={frame}
      id={screening.id}
      line={candidate}
      cohort={cohort}
      overview={overview}
    />
  ) : (
    <BeforeScoring
      key={`${cohort.id}-${candidate.id}`}
      frame={frame}
      cohort={cohort}
      line={candidate}
      studyId={studyId}
      onScore={score}
      onBack={screening && (() => setAddress({ view: undefined }))}
    />
  );
}

/** Columns known from the development cohort are read as there; the others as their values suggest, set aside. */
function likeDevelopment(proposed: Dictionary, development: Dictionary): Dictionary {
  const known = new Map(development.map((entry) => [entry.name, entry]));
  const hasIdentifier = proposed.some((entry) => known.get(entry.name)?.role === 'identifier');
  return proposed.map((entry) => {
    const same = known.get(entry.name);
    if (same) {
      // The same columns, but perhaps from a system that writes numbers and dates another way.
      // A column of the file is read from the file, even if it was derived there.
      const { format: _, formula: __, ...rest } = same;
      const format = same.kind === entry.kind ? (entry.format ?? same.format) : same.format;
      return { ...rest, ...(format && { format }) };
    }
    const role = entry.role === 'identifier' && !hasIdentifier ? 'identifier' : 'set aside';
    return { ...entry, role };
  });
}

/** Whether something about the file should be seen before it is stored. */
function needsReview(upload: UploadReview, dictionary: Dictionary): boolean {
  const tallies = new Map(upload.columns.map(({ tally }) => [tally.name, tally]));
  return (
    upload.remarks.length > 0 ||
    // The same in the development cohort says nothing of how this file parts its numbers.
    upload.columns.some(({ proposal }) => proposal.asks !== undefined) ||
    dictionary.some(
      (entry) =>
        entry.role === 'predictor' &&
        understandColumn(tallies.get(entry.name)!, entry).unreadable > 0,
    )
  );
}
