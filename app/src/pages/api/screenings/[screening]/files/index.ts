import { screeningRoutes } from '../../../../../contract/screenings.ts';
import { answer } from '../../../../../server/door/index.ts';
import { askListFile, listFiles } from '../../../../../server/screenings/index.ts';

export const GET = answer(screeningRoutes.files, ({ ids }) => listFiles(ids.screening));

export const POST = answer(screeningRoutes.askFile, ({ ids, body }) =>
  askListFile(ids.screening, body),
);
