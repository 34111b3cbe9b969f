import { useEffect, type ComponentType } from 'react';
import type { OutcomeKind } from '@rook-scale/core/outcome';
import { Parts } from '../../frame/index.ts';
import { Beside } from './Beside.tsx';
import { Believed } from './Believed.tsx';
import { Elsewhere } from './Elsewhere.tsx';
import { ForWhom } from './ForWhom.tsx';
import { Levels } from './Levels.tsx';
import { Numbers } from './Numbers.tsx';
import { PromiseAndCheck } from './PromiseAndCheck.tsx';
import { Ranking } from './Ranking.tsx';
import { RatesTable } from './RatesTable.tsx';
import type { SectionProps } from './section.ts';
import { Wrong } from './Wrong.tsx';
import { Worth } from './Worth.tsx';
import styles from './Sections.module.css';

interface Listed {
  id: string;
  name: string;
  /** What the link to it is called, where that is shorter. */
  link?: string;
  view: ComponentType<SectionProps>;
  /** Only where scores are risks. */
  ofRisks?: true;
  /** Only where two costs hold for all. */
  ofCosts?: true;
  /** Only of this kind of outcome. */
  of?: OutcomeKind;
}

/** What stands behind the first screen, in its order. */
const sections: Listed[] = [
  { id: 'levels', name: 'Level by level', link: 'Levels', view: Levels, of: 'levels' },
  { id: 'off', name: 'How far off', view: Numbers, of: 'number' },
  { id: 'rates', name: 'Rates', view: RatesTable },
  { id: 'elsewhere', name: 'Predictive values elsewhere', link: 'Elsewhere', view: Elsewhere },
  { id: 'ranking', name: 'Ranking', view: Ranking },
  { id: 'risks', name: 'Risks that can be believed', link: 'Risks', view: Believed, ofRisks: true },
  { id: 'worth', name: 'Is it worth it', link: 'Worth it', view: Worth, ofCosts: true },
  { id: 'for-whom', name: 'For whom', view: ForWhom },
  { id: 'wrong', name: 'Who was wrong', view: Wrong },
  { id: 'promise', name: 'Promise and check', link: 'Promise', view: PromiseAndCheck },
  { id: 'beside', name: 'Beside other candidates', link: 'Others', view: Beside },
];

/** Every section under its head, and links that lead to them. */
export function Sections(props: SectionProps) {
  const { patients, costs, line } = props;
  const kind = line.outcome!.choice.kind;
  const shown = sections.filter(
    ({ ofRisks, ofCosts, of }) =>
      (of === undefined || of === kind) &&
      (!ofRisks || patients.scale.what === 'risk') &&
      (!ofCosts || costs !== undefined),
  );
  useEffect(() => {
    let letGo = holdTo(location.hash.slice(1));
    const again = () => {
      letGo?.();
      letGo = holdTo(location.hash.slice(1));
    };
    window.addEventListener('hashchange', again);
    return () => {
      letGo?.();
      window.removeEventListener('hashchange', again);
    };
  }, []);
  return (
    <>
      <nav className={styles.nav} aria-label="Sections">
        {shown.map(({ id, name, link }) => (
          <a key={id} href={`#${id}`}>
            {link ?? name}
          </a>
        ))}
        <button type="button" className="link" onClick={() => window.print()}>
          Print
        </button>
      </nav>
      <Parts>
        {shown.map(({ id, name, view: View }) => (
          <section key={id} id={id} className={styles.section} aria-labelledby={`${id}-name`}>
            <h2 id={`${id}-name`}>{name}</h2>
            <View {...props} />
          </section>
        ))}
      </Parts>
    </>
  );
}

/** Milliseconds in which sections above may still be drawn. */
const settling = 4000;

/**
 * Brings a section that was linked to into sight, and keeps it there while those above are drawn, unless
 * the reader goes elsewhere: the browser looked for the place before the page was there.
 */
function holdTo(id: string): (() => void) | undefined {
  const target = document.getElementById(id);
  if (!target) return undefined;
  const observer = new ResizeObserver(() => target.scrollIntoView());
  for (const section of target.parentElement!.children) observer.observe(section);
  const end = () => observer.disconnect();
  const timer = setTimeout(end, settling);
  const moves = ['wheel', 'keydown', 'pointerdown'];
  for (const move of moves) window.addEventListener(move, end, { once: true });
  return () => {
    end();
    clearTimeout(timer);
    for (const move of moves) window.removeEventListener(move, end);
  };
}
