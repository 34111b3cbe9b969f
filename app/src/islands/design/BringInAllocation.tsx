import { designRoutes } from '../../contract/designs.ts';
import { ask } from '../../browser/api.ts';
import { uploadFile } from '../../browser/upload.ts';
import { FileDrop } from '../../components/index.ts';
import type { SectionProps } from './DesignPage.tsx';

interface Props extends SectionProps {
  studyId: string;
  /** The file in force. */
  current?: string;
  onDone: () => void;
}

/** A file with identifier, side and fold, taken as the division. */
export function BringInAllocation({ studyId, current, change, onDone }: Props) {
  return (
    <FileDrop
      verb={current ? 'Choose another file' : 'Choose the file'}
      compact
      onFile={async (file, progress, signal) => {
        const { id: uploadId } = await uploadFile(file, progress, signal);
        const body = { uploadId };
        const taken = await ask(designRoutes.bringInAllocation, { study: studyId }, { body });
        const { id: allocation, name, folds } = taken;
        change({
          split: { way: 'as brought in', allocation, name },
          ...(folds && { folds: { way: 'as brought in' } }),
        });
        onDone();
      }}
    >
      <p className="quiet">
        {current
          ? `${current} says who stands where.`
          : 'A column with the identifier, a column “side” (development, held out, sealed), and if you like a column “fold”.'}
      </p>
    </FileDrop>
  );
}
