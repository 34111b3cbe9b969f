import { Dialog } from '../../components/index.ts';
import { keyList } from './keys.ts';
import { stages } from './stages.ts';
import styles from './KeyList.module.css';

export function KeyList({ onClose }: { onClose: () => void }) {
  const pages = {
    group: 'Stages',
    keys: stages.map(({ name }, i) => ({ keys: [String(i + 1)], does: name })),
  };
  return (
    <Dialog title="Keys" wide onClose={onClose}>
      <div className={styles.groups}>
        {[pages, ...keyList].map(({ group, keys }) => (
          <section key={group}>
            <h2>{group}</h2>
            <dl>
              {keys.map(({ keys: names, does }) => (
                <div key={does}>
                  <dt>
                    {names.map((name) => (
                      <kbd key={name}>{name}</kbd>
                    ))}
                  </dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Dialog>
  );
}
