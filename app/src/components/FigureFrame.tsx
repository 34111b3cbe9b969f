import { useState, type ReactNode } from 'react';
import styles from './ChartFrame.module.css';

interface Props {
  title: ReactNode;
  /** One sentence that says what the figure shows, in words computed from the data. */
  caption: string;
  /** Head and rows behind the drawing, for "copy the numbers". */
  numbers: () => (string | number)[][];
  fileName: string;
  /** The drawing as the address of a PNG. */
  picture: () => string | Promise<string>;
  /** Controls beside the title. */
  controls?: ReactNode;
  children: ReactNode;
}

/** What every figure stands in: title, drawing, caption, and what can be done with it. */
export function FigureFrame(props: Props) {
  const { title, caption, numbers, fileName, picture, controls, children } = props;
  const [copied, setCopied] = useState(false);
  const copy = () => {
    const text = numbers()
      .map((row) => row.join('\t'))
      .join('\n');
    void navigator.clipboard.writeText(text).then(() => {
      setCopied(true);
      setTimeout(() => setCopied(false), 2000);
    });
  };
  const save = async () => {
    const link = document.createElement('a');
    link.href = await picture();
    link.download = `${fileName}.png`;
    link.click();
  };
  return (
    <figure className={styles.frame}>
      <div className={styles.head}>
        <h2>{title}</h2>
        {controls}
      </div>
      {children}
      <figcaption className={styles.caption}>
        {caption}{' '}
        <span className={styles.acts}>
          <button type="button" className="link" onClick={copy}>
            {copied ? 'Copied' : 'Copy the numbers'}
          </button>
          <button type="button" className="link" onClick={() => void save()}>
            Save as PNG
          </button>
        </span>
      </figcaption>
    </figure>
  );
}
