import type { TreeShown } from '../families/index.ts';
import { facetOf, familyOf, settingsSchema } from '../families/index.ts';
import { predictionsOf } from '../outcome/index.ts';
import type { FittedPreparation, PredictorColumn } from '../preparation/index.ts';
import { collectOutOfFold, fitPart, planParts } from '../tuning/index.ts';
import { rowCountOf } from './ask.ts';

/** A small tree that says nearly what a model says. */
export interface InRules {
  /** Its number is what the model says. */
  tree: TreeShown;
  preparation: FittedPreparation;
  leaves: number;
  patients: number;
  /** How faithfully trees follow that were grown without the patient's fold. */
  faithful: {
    /** Of what is said, the share that the tree explains; absent where all are told the same. */
    rSquared?: number;
    /** Patients who are called alike at the cutoff. */
    alike: number;
    /** Patients whom the model calls and the tree does not, and the other way round. */
    calledAlone: number;
    treeAlone: number;
  };
}

const family = 'decision-tree';

/**
 * Grows a small tree that follows what a model says of its development patients, and tells how faithfully such trees
 * do so in patients whom they were not grown on (Craven & Shavlik 1996, Advances in Neural Information Processing
 * Systems 8:24-30).
 *
 * @param said of each patient, as it is read
 * @param folds of each patient
 * @param isCalled whether what is said calls a patient in
 * @param leaves at most
 */
export function inRules(
  columns: PredictorColumn[],
  said: Float64Array,
  folds: Uint8Array,
  isCalled: (said: number) => boolean,
  leaves: number,
  seed: number,
): InRules {
  const count = rowCountOf(columns);
  const rows = Int32Array.from({ length: count }, (_, i) => i);
  const settings = settingsSchema(familyOf(family).description.settings).parse({
    ...{ size: 'leaves', leaves, depth: 30 },
    // A rule for a handful is none.
    leastLeaf: Math.max(5, Math.min(20, Math.floor(count / 50))),
  });
  const outcome = { kind: 'number' as const, values: said };
  const results = planParts(rows, folds, new Int32Array(0)).map((part) =>
    fitPart(part, columns, outcome, { family, settings, seed }),
  );
  const whole = results.find(({ name }) => name === 'all')!;
  const tree = facetOf(whole.facets, 'tree')!;
  const followed = predictionsOf(collectOutOfFold(folds, results), 'number').values;
  let [alike, calledAlone, treeAlone] = [0, 0, 0];
  followed.forEach((value, i) => {
    const [own, trees] = [isCalled(said[i]), isCalled(value)];
    if (own === trees) alike++;
    else if (own) calledAlone++;
    else treeAlone++;
  });
  const mean = said.reduce((sum, one) => sum + one, 0) / count;
  const spread = said.reduce((sum, one) => sum + (one - mean) ** 2, 0);
  const missed = said.reduce((sum, one, i) => sum + (one - followed[i]) ** 2, 0);
  return {
    tree,
    preparation: whole.preparation,
    leaves: tree.sizes[tree.chosen]?.leaves ?? 1,
    patients: count,
    faithful: {
      // Rounding is no spread.
      ...(spread > 1e-18 * count * mean ** 2 && { rSquared: 1 - missed / spread }),
      ...{ alike, calledAlone, treeAlone },
    },
  };
}
