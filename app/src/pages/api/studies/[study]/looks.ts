import { lookRoutes } from '../../../../contract/looks.ts';
import { answer } from '../../../../server/door/index.ts';
import { listLooks, takeLook } from '../../../../server/looks.ts';

export const GET = answer(lookRoutes.list, ({ ids }) => listLooks(ids.study));

export const POST = answer(lookRoutes.take, ({ ids, body }) => takeLook(ids.study, body.candidate));
