import { cutoffRuleSchema } from '@rook-scale/core/measures';
import {
  candidateCutoff,
  candidateRow,
  setCutoffRule,
} from '../../../../server/candidates/index.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';

export const PUT = endpoint(async (context) => {
  const id = readId(context, 'candidate');
  await setCutoffRule(id, await readBody(context.request, cutoffRuleSchema));
  return { cutoff: await candidateCutoff(await candidateRow(id)) };
});
