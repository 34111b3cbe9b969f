import { useEffect, useRef } from 'react';
import type { Overview } from '../../contract/studies.ts';
import { stages, type StageId } from './stages.ts';
import styles from './Spine.module.css';

/** The list of stages, drawn as a ruler, each with its live fact. */
export function Spine({ stage, overview }: { stage: StageId; overview: Overview }) {
  const here = useRef<HTMLLIElement>(null);
  useEffect(() => {
    // Where the stages lie in a row, the one at hand may be out of view.
    if (window.matchMedia('(max-width: 880px)').matches)
      here.current?.scrollIntoView({ block: 'nearest', inline: 'center' });
  }, []);
  return (
    <nav className={styles.spine} aria-label="Stages">
      <ol>
        {stages.map(({ id, name, fact, outOfDate }, i) => (
          <li
            key={id}
            ref={id === stage ? here : undefined}
            className={id === stage ? styles.here : undefined}
          >
            <a
              href={`/studies/${overview.study.id}/${id}`}
              aria-current={id === stage ? 'page' : undefined}
            >
              <span className={styles.number} aria-hidden="true">
                {i + 1}
              </span>
              <span className={styles.name}>{name}</span>
              <span className={styles.fact}>
                {outOfDate?.(overview) && (
                  <span className={styles.mark} title="Out of date">
                    <span className="hidden">out of date: </span>
                  </span>
                )}
                {fact(overview)}
              </span>
            </a>
          </li>
        ))}
      </ol>
    </nav>
  );
}
