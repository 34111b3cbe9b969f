import { useQuery } from '@tanstack/react-query';
import { ask } from '../../browser/api.ts';
import { uploadRoutes } from '../../contract/uploads.ts';
import { showCount } from '../../browser/format.ts';
import { secondsLeft } from '../../browser/progress.ts';
import { Button, Progress } from '../../components/index.ts';
import styles from './ReviewView.module.css';

const merlons = 20;

/** How far the file has been read into the cohort, once that takes over a second. */
export function Storing({ uploadId, onCancel }: { uploadId: string; onCancel?: () => void }) {
  const { data } = useQuery({
    queryKey: ['reading', uploadId],
    queryFn: () => ask(uploadRoutes.progress, { upload: uploadId }),
    refetchInterval: 500,
    staleTime: 0,
    gcTime: 0,
  });
  if (!data || data.elapsed < 800) return null;
  const { rowsDone, rowsTotal, elapsed } = data;
  return (
    <p className={styles.storing} role="status">
      <Progress
        done={Math.floor((merlons * rowsDone) / Math.max(1, rowsTotal))}
        total={merlons}
        label="Reading the file"
      />
      {showCount(rowsDone)} of {showCount(rowsTotal)} rows
      {secondsLeft(elapsed, rowsDone, rowsTotal)}
      {onCancel && (
        <Button look="link" onClick={onCancel}>
          Cancel
        </Button>
      )}
    </p>
  );
}
