import * as z from 'zod';
import { predictionsOf } from '../../outcome/index.ts';
import { blendFamily } from '../blend/index.ts';
import type { Family, Fitted } from '../family.ts';
import { recalibrated as description } from './description.ts';
import { movedRisk, riskMapSchema, type RiskMap } from './risk-map.ts';

export { learnRiskMap, movedRisk, type HowMoved, type RiskMap } from './risk-map.ts';

/** Beside what is kept of the part, as of a blend of one; null where nothing could be learned. */
const savedSchema = z.object({ map: riskMapSchema.nullable() });

/** A candidate whose risks are moved. It is fitted by whoever fits candidates, as a blend is. */
export const recalibratedFamily = (familyOf: (id: string) => Family): Family => {
  const ofParts = blendFamily(familyOf);
  return {
    ...ofParts,
    description,
    revive: (saved) => recalibrated(ofParts.revive(saved), savedSchema.parse(saved.json).map),
  };
};

/** What is said by the one and then moved. */
export const recalibrated = (fitted: Fitted, map: RiskMap | null): Fitted => ({
  predict(inputs) {
    const { risks } = predictionsOf(fitted.predict(inputs), 'event');
    return { kind: 'event', risks: map ? risks.map((risk) => movedRisk(map, risk)) : risks };
  },
  save() {
    const { json, ...saved } = fitted.save();
    return { ...saved, json: { ...(json as object), map } };
  },
});
