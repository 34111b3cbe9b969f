import type { ButtonHTMLAttributes } from 'react';
import styles from './Button.module.css';

type Props = ButtonHTMLAttributes<HTMLButtonElement> & {
  look?: 'main' | 'plain' | 'link';
  /** Has the focus when its dialog opens. */
  'data-first'?: boolean;
};

/** `main` is the one act of a page; `link` stands in running text. */
export function Button({ look = 'plain', className = '', type = 'button', ...rest }: Props) {
  return <button type={type} className={`${styles[look]} ${className}`} {...rest} />;
}
