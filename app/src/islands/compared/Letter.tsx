import styles from './Compared.module.css';

/** The letter of a candidate on its own line. */
export function Letter({
  x,
  y,
  letter,
  colour,
}: {
  x: number;
  y: number;
  letter: string;
  colour: string;
}) {
  return (
    <g>
      <circle cx={x} cy={y} r={7.5} fill="#ffffff" stroke={colour} strokeWidth="1.2" />
      <text x={x} y={y + 4} textAnchor="middle" className={styles.letter}>
        {letter}
      </text>
    </g>
  );
}
