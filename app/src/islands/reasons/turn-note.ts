import { familyDescriptions } from '@rook-scale/core/families';
import { type CandidateLine, candidateRoutes } from '../../contract/candidates.ts';
import type { EffectView } from '../../contract/reasons.ts';
import { ask } from '../../browser/api.ts';
import { toast, toastError } from '../../browser/toast.ts';
import type { MarginNote } from '../margin/index.ts';
import { turnOf } from './turn.ts';

/** That what is said turns back along a predictor, and a candidate that may not. */
export function turnNote(
  studyId: string,
  line: CandidateLine,
  found: EffectView | undefined,
  label: string,
): MarginNote[] {
  const turn = found && turnOf(found);
  if (!turn) return [];
  const words = turn.mainly === 'rising' ? 'never falls' : 'never rises';
  return [
    {
      id: `turn ${line.id} ${line.fittedAt} ${found.name}`,
      title: `What is said turns back along ${label}`,
      text: `${turn.sentence} A turn that nobody can explain may be chance.`,
      ...(canForce(line) && {
        acts: [
          {
            label: `Fit one that ${words} with it`,
            onClick: () => void fitForced(studyId, line, found.name, turn.mainly),
          },
        ],
      }),
    },
  ];
}

const canForce = ({ family, outcome }: CandidateLine): boolean =>
  outcome?.choice.kind !== 'levels' &&
  familyDescriptions.some(
    ({ id, settings }) => id === family && settings.some(({ name }) => name === 'rising'),
  );

async function fitForced(
  studyId: string,
  { family, settings, basis }: CandidateLine,
  predictor: string,
  way: 'rising' | 'falling',
): Promise<void> {
  const listed = (name: string) => (settings[name] as string[] | undefined) ?? [];
  const others = (name: string) => listed(name).filter((one) => one !== predictor);
  const forced = {
    ...settings,
    ...{ rising: others('rising'), falling: others('falling') },
    [way]: [...others(way), predictor],
  };
  try {
    const body = { family, settings: forced, basis };
    const { id } = await ask(candidateRoutes.add, { study: studyId }, { body });
    toast('A candidate with that direction is being fitted', {
      label: 'See it',
      run: () => window.location.assign(`/studies/${studyId}/candidates?candidate=${id}`),
    });
  } catch (error) {
    toastError(error);
  }
}
