import { designRoutes } from '../../../../contract/designs.ts';
import { balanceView } from '../../../../server/balance-view.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(designRoutes.balance, ({ ids }) => balanceView(ids.study));
