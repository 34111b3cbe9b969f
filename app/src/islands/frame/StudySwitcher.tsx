import { useId, useState } from 'react';
import { ChevronDown } from 'lucide-react';
import { type Overview, studyRoutes } from '../../contract/studies.ts';
import { ask } from '../../browser/api.ts';
import { focusThere } from '../../browser/focus.ts';
import { remove } from '../../browser/deletion.ts';
import { plural } from '../../browser/format.ts';
import { goTo } from '../../browser/leaving.ts';
import { ConfirmDelete } from '../../components/index.ts';
import { DeletedDialog } from './DeletedDialog.tsx';
import { StudyNameDialog } from './StudyNameDialog.tsx';
import styles from './TopLine.module.css';

export type StudyAct = 'new' | 'rename' | 'delete' | 'deleted';

interface Props {
  overview: Overview;
  asking: StudyAct | undefined;
  onAsk: (what: StudyAct | undefined) => void;
}

/** The name of the study; opens the list of studies and what can be done with one. */
export function StudySwitcher({ overview, asking, onAsk }: Props) {
  const menu = useId();
  const { study, studies } = overview;
  const ask = (what: StudyAct) => {
    document.getElementById(menu)?.hidePopover();
    onAsk(what);
  };
  return (
    <>
      <button
        type="button"
        className={styles.switch}
        popoverTarget={menu}
        aria-label={`Study: ${study.name}. Choose another.`}
        aria-haspopup="true"
      >
        <span title={study.name}>{study.name}</span>
        <ChevronDown size={14} aria-hidden="true" />
      </button>
      <div id={menu} popover="auto" className={styles.menu}>
        <nav aria-label="Studies">
          {studies.map(({ id, name }) => (
            <a
              key={id}
              href={`/studies/${id}/records`}
              aria-current={id === study.id ? 'true' : undefined}
            >
              {name}
            </a>
          ))}
        </nav>
        <hr />
        <button type="button" onClick={() => ask('new')}>
          New study
        </button>
        <button type="button" onClick={() => ask('rename')}>
          Rename this study
        </button>
        <button type="button" onClick={() => ask('delete')}>
          Delete this study
        </button>
        <hr />
        <button type="button" onClick={() => ask('deleted')}>
          Deleted within the last day
        </button>
      </div>
      <Asked overview={overview} asking={asking} onClose={() => onAsk(undefined)} />
    </>
  );
}

interface AskedProps {
  overview: Overview;
  asking: StudyAct | undefined;
  onClose: () => void;
}

function Asked({ overview, asking, onClose }: AskedProps) {
  const { study, studies, candidates } = overview;
  const [gone, setGone] = useState(false);
  const rename = async (name: string) => {
    await ask(studyRoutes.rename, { study: study.id }, { body: { name } });
    onClose();
  };
  const make = async (name: string) => {
    const { id } = await ask(studyRoutes.make, {}, { body: { name } });
    focusThere('main h1');
    void goTo(`/studies/${id}/records`);
  };
  const end = async () => {
    setGone(await remove('study', study.id, study.name));
  };
  if (gone)
    return <StudyGone name={study.name} others={studies.filter((s) => s.id !== study.id)} />;
  if (asking === 'new')
    return (
      <StudyNameDialog
        title="New study"
        name=""
        verb="Make the study"
        onSave={make}
        onClose={onClose}
      />
    );
  if (asking === 'rename')
    return (
      <StudyNameDialog
        title="Rename this study"
        name={study.name}
        verb="Rename"
        onSave={rename}
        onClose={onClose}
      />
    );
  if (asking === 'delete')
    return (
      <ConfirmDelete name={study.name} onDelete={() => void end()} onClose={onClose}>
        {overview.cohort
          ? plural(overview.cohort.rowCount, 'patient')
          : 'The study without patients'}
        , the design, {plural(candidates.fitted, 'fitted candidate')}, the looks and{' '}
        {plural(overview.screening.cohorts, 'screening list')} go with it.
      </ConfirmDelete>
    );
  return asking === 'deleted' ? <DeletedDialog onClose={onClose} /> : null;
}

/** Covers the page of a study that is no more, while the way back stands in the toast. */
function StudyGone({ name, others }: { name: string; others: { id: string; name: string }[] }) {
  return (
    <div className={styles.gone}>
      <h1>{name} is deleted</h1>
      <p>For a day it can be brought back, here or from the list of studies.</p>
      <p>
        {others.length > 0 ? (
          <a href={`/studies/${others[0].id}/records`}>Go to {others[0].name}</a>
        ) : (
          <a href="/studies/new">Begin a new study</a>
        )}
      </p>
    </div>
  );
}
