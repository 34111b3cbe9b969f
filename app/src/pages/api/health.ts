import { health } from '../../server/health.ts';
import { endpoint } from '../../server/door/index.ts';

/** Whether the product can work: 200 where database and worker answer, 503 where one does not. */
export const GET = endpoint(async () => {
  const state = await health();
  return Response.json(state, { status: state.ready ? 200 : 503 });
});
