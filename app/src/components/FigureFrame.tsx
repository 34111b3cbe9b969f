import type { ReactNode } from 'react';
import { saveAs, saveRows, saveText } from './save.ts';
import { useCopied } from './use-copied.ts';
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
  /** The drawing as it is drawn, where it is one of our own. */
  drawing?: () => string;
  /** Controls beside the title. */
  controls?: ReactNode;
  children: ReactNode;
}

/** What every figure stands in: title, drawing, caption, and what can be done with it. */
export function FigureFrame(props: Props) {
  const { title, caption, numbers, fileName, picture, drawing, controls, children } = props;
  const { copied, copy } = useCopied(numbers);
  const savePicture = async () => saveAs(await picture(), `${fileName}.png`);
  const saveDrawing = (text: string) => saveText(text, 'image/svg+xml', `${fileName}.svg`);
  const saveNumbers = () => saveRows(numbers(), `${fileName}.csv`);
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
          <span>
            Save as{' '}
            <button
              type="button"
              className="link"
              aria-label="Save as PNG"
              onClick={() => void savePicture()}
            >
              PNG
            </button>
            {drawing && (
              <>
                {' '}
                <button
                  type="button"
                  className="link"
                  aria-label="Save as SVG"
                  onClick={() => saveDrawing(drawing())}
                >
                  SVG
                </button>
              </>
            )}{' '}
            <button
              type="button"
              className="link"
              aria-label="Save as CSV"
              onClick={() => void saveNumbers()}
            >
              CSV
            </button>
          </span>
        </span>
      </figcaption>
    </figure>
  );
}
