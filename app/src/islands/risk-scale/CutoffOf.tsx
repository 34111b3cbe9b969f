import styles from './CutoffRules.module.css';

interface Props {
  /** What has the cutoff: a candidate or a list. */
  whose: string;
  show: (cutoff: number) => string;
  cutoff: number;
  chosen: number;
  onMove: (cutoff: number) => void;
}

/** Says whose cutoff it is where it cannot be changed, and leads back to it. */
export function CutoffOf({ whose, show, cutoff, chosen, onMove }: Props) {
  return (
    <div className={styles.rules}>
      <p>
        Cutoff of {whose}: {show(chosen)}
      </p>
      {cutoff !== chosen && (
        <p>
          <button type="button" className="link" onClick={() => onMove(chosen)}>
            Back to {show(chosen)}
          </button>
        </p>
      )}
    </div>
  );
}
