import { screeningRoutes } from '../../../../contract/screenings.ts';
import { answer } from '../../../../server/door/index.ts';
import { screeningView } from '../../../../server/screenings/index.ts';

export const GET = answer(screeningRoutes.view, ({ ids }) => screeningView(ids.screening));
