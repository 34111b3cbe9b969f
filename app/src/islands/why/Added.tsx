import styles from './Why.module.css';

/** Where one predictor leads on the way from the mean to what is said of the patient. */
export function Added({
  contributions,
  base,
  place,
}: {
  contributions: { value: number }[];
  base: number;
  place: number;
}) {
  const ends = contributions.reduce(
    (all, { value }) => [...all, all[all.length - 1] + value],
    [base],
  );
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const x = (value: number) => (most > least ? (100 * (value - least)) / (most - least) : 50);
  const [from, to] = [ends[place], ends[place + 1]].map(x);
  return (
    <svg viewBox="-1 0 102 14" preserveAspectRatio="none" width="100%" height="14">
      <line x1={x(base)} x2={x(base)} y1={0} y2={14} stroke="#9aa4b0" strokeWidth="0.5" />
      <rect
        x={Math.min(from, to)}
        y={3}
        width={Math.max(0.6, Math.abs(to - from))}
        height={8}
        className={to >= from ? styles.up : styles.down}
      />
    </svg>
  );
}
