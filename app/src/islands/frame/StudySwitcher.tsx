import { useId, useState } from 'react';
import { ChevronDown } from 'lucide-react';
import { request } from '../../browser/api.ts';
import type { Overview } from '../../server/studies.ts';
import { StudyNameDialog } from './StudyNameDialog.tsx';
import styles from './TopLine.module.css';

/** The name of the study; opens the list of studies. */
export function StudySwitcher({ overview }: { overview: Overview }) {
  const menu = useId();
  const [asking, setAsking] = useState<'new' | 'rename'>();
  const { study, studies } = overview;
  const ask = (what: 'new' | 'rename') => {
    document.getElementById(menu)?.hidePopover();
    setAsking(what);
  };
  const save = async (name: string) => {
    if (asking === 'rename') await request('PATCH', `/api/studies/${study.id}`, { name });
    else {
      const { id } = await request<{ id: string }>('POST', '/api/studies', { name });
      window.location.assign(`/studies/${id}/records`);
    }
    setAsking(undefined);
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
        <span>{study.name}</span>
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
      </div>
      {asking && (
        <StudyNameDialog
          title={asking === 'new' ? 'New study' : 'Rename this study'}
          name={asking === 'new' ? '' : study.name}
          verb={asking === 'new' ? 'Make the study' : 'Rename'}
          onSave={save}
          onClose={() => setAsking(undefined)}
        />
      )}
    </>
  );
}
