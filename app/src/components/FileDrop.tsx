import { useRef, useState, type DragEvent, type ReactNode } from 'react';
import { messageOf } from '../browser/api.ts';
import { FileUp } from 'lucide-react';
import { Button } from './Button.tsx';
import { Notice } from './Notice.tsx';
import styles from './FileDrop.module.css';

export type TakeFile = (
  file: File,
  progress: (share: number) => void,
  signal: AbortSignal,
) => Promise<void>;

interface Props {
  verb: string;
  /** Takes the file; says how far it is; its error is shown. */
  onFile: TakeFile;
  compact?: boolean;
  children?: ReactNode;
}

/** Where a file is dropped or chosen. */
export function FileDrop({ verb, onFile, compact = false, children }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [sent, setSent] = useState<number>();
  const [problem, setProblem] = useState<string>();
  const stop = useRef<AbortController>(null);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setProblem(undefined);
    setSent(0);
    stop.current = new AbortController();
    try {
      await onFile(file, setSent, stop.current.signal);
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setSent(undefined);
      if (input.current) input.current.value = '';
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void take(event.dataTransfer.files[0]);
  };
  return (
    <div
      className={`${compact ? styles.compact : styles.drop} ${over ? styles.over : ''}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      {children}
      <input
        ref={input}
        type="file"
        hidden
        accept=".csv,.tsv,.txt,.xlsx,.parquet,.json,.ndjson,.jsonl"
        onChange={(event) => void take(event.target.files?.[0])}
      />
      <Button
        look={compact ? 'plain' : 'main'}
        disabled={sent !== undefined}
        onClick={() => input.current?.click()}
      >
        <FileUp size={16} aria-hidden="true" />
        {sent === undefined
          ? verb
          : sent < 1
            ? `Sending, ${Math.round(100 * sent)}%`
            : 'Reading the columns'}
      </Button>
      {sent !== undefined && (
        <Button look="link" onClick={() => stop.current?.abort()}>
          Cancel
        </Button>
      )}
      {problem && <Notice>{problem}</Notice>}
    </div>
  );
}
