import { requestListFile } from '../../../server/jobs/index.ts';
import {
  claimListFile,
  forgetListFiles,
  forsakenListFiles,
  giveBackListFile,
  showListFileAlive,
  writeListFile,
} from '../../../server/screenings/index.ts';
import type { JobKind } from '../job-kind.ts';

/** Files of long lists, one at a time; reasons are worked out on threads. */
export const listFileJobs: JobKind<'list file'> = {
  kind: 'list file',
  sideBySide: 1,
  async take({ fileId }) {
    const run = await claimListFile(fileId);
    if (run === undefined) return undefined;
    return {
      id: fileId,
      // It holds the scores of a list, not its table.
      cells: 0,
      carryOut: (signal) => writeListFile(fileId, run, signal),
      alive: () => showListFileAlive(fileId, run),
      giveBack: () => giveBackListFile(fileId, run),
    };
  },
  async takeUp(mine) {
    for (const id of await forsakenListFiles()) if (!mine(id)) await requestListFile(id);
    await forgetListFiles();
  },
};
