import { designSchema } from '@rook-scale/core/design';
import { saveDesign } from '../../../../server/designs.ts';
import { currentDesign } from '../../../../server/design-state.ts';
import { endpoint, readBody, readId } from '../../../../server/endpoint.ts';

export const GET = endpoint(
  async (context) => (await currentDesign(readId(context, 'study'))) ?? null,
);

export const PUT = endpoint(async (context) => {
  const study = readId(context, 'study');
  return saveDesign(study, await readBody(context.request, designSchema));
});
