import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Dictionary } from '@rook-scale/core/table';
import { type CohortInfo, cohortRoutes } from '../../contract/cohorts.ts';
import type { Overview } from '../../contract/studies.ts';
import { type UploadReview, uploadRoutes } from '../../contract/uploads.ts';
import { ask } from '../../browser/api.ts';
import { putDictionary } from '../../browser/edits.ts';
import { focusOn } from '../../browser/focus.ts';
import { uploadFile } from '../../browser/upload.ts';
import { FileDrop, type TakeFile } from '../../components/index.ts';
import { PageBody, StagePage } from '../frame/index.ts';
import { ReviewView, type ConfirmReview } from '../review/index.ts';
import { CohortView } from './CohortView.tsx';
import styles from './Records.module.css';

interface Props {
  overview: Overview;
  cohort: CohortInfo | null;
  query: Record<string, string>;
}

export default function RecordsPage({ overview, cohort, query }: Props) {
  return (
    <StagePage stage="records" overview={overview} query={query}>
      <Records studyId={overview.study.id} first={cohort} />
    </StagePage>
  );
}

/** The upload under review, with the dictionary it starts from. */
interface Reviewing {
  upload: UploadReview;
  dictionary: Dictionary;
  name: string;
  /** Begun when: beginning anew drops what was edited. */
  begun: number;
}

function Records({ studyId, first }: { studyId: string; first: CohortInfo | null }) {
  const client = useQueryClient();
  const { data: cohort } = useQuery({
    queryKey: ['development', studyId],
    queryFn: () => ask(cohortRoutes.development, { study: studyId }),
    initialData: first,
  });
  const [reviewing, setReviewing] = useState<Reviewing>();

  const bringIn: TakeFile = async (file, progress, signal) => {
    const upload = await uploadFile(file, progress, signal);
    const dictionary = upload.columns.map(({ proposal }) => proposal.entry);
    setReviewing({
      upload,
      dictionary,
      name: file.name.replace(/\.[^.]+$/, ''),
      begun: Date.now(),
    });
  };
  const mend = async () => {
    if (!cohort) return;
    const fresh = await ask(cohortRoutes.info, { cohort: cohort.id });
    const upload = await ask(uploadRoutes.review, { upload: fresh.uploadId });
    setReviewing({ upload, dictionary: fresh.dictionary, name: fresh.name, begun: Date.now() });
  };
  const confirm = async (
    name: string,
    dictionary: Dictionary,
    { uploadId, base, insist, signal }: Parameters<ConfirmReview>[2],
  ) => {
    if (cohort) await putDictionary(cohort.id, base, dictionary, insist);
    else {
      const body = { purpose: 'development' as const, name, uploadId, dictionary };
      await ask(cohortRoutes.bringIn, { study: studyId }, { body, signal });
    }
    await client.invalidateQueries({ queryKey: ['development', studyId] });
    setReviewing(undefined);
    focusOn('main h1');
    await client.invalidateQueries();
  };

  if (reviewing)
    return (
      <ReviewView
        key={reviewing.begun}
        title="Records"
        upload={reviewing.upload}
        dictionary={reviewing.dictionary}
        name={reviewing.name}
        mending={cohort !== null}
        onConfirm={confirm}
        onReload={mend}
        onLeave={() => setReviewing(undefined)}
      />
    );
  if (cohort) return <CohortView cohort={cohort} onMend={mend} />;
  return (
    <PageBody title="Records" fact="the patients this study is built on">
      <FileDrop verb="Choose a file" onFile={bringIn}>
        <div className={styles.empty}>
          <h2>Bring in a file of patients</h2>
          <p>
            Delimited text (CSV), one row a patient, the names of the columns in the first row. Drop
            it here or choose it. Nothing is stored before you have seen how each column is
            understood.
          </p>
        </div>
      </FileDrop>
      <p className={styles.aside}>
        Without a file at hand? The demo study in the list of studies above is complete, and its
        three files lie in <code>demo/files</code>.
      </p>
    </PageBody>
  );
}
