import { availableParallelism } from 'node:os';
import { pathToFileURL } from 'node:url';
import type {
  Compare,
  Compared,
  Curves,
  CurvesTask,
  Differing,
  DifferingTask,
  Wrong,
  WrongTask,
} from '@rook-scale/core/comparing';
import type { Divided, DivideTask } from '../designs/divide-table.ts';
import type { PatientAnswered, PatientTask } from '../patients/work.ts';
import type { SidesView } from '../../contract/designs.ts';
import type { Corrected } from '@rook-scale/core/search';
import type { NestTask } from '../searches/nest-choice.ts';
import type { CorrectTask, TimeTask } from '../searches/work.ts';
import type { EffectShown, InRules, OnTheWhole } from '@rook-scale/core/reasons';
import type { needsModel } from '../known-models.ts';
import type { Asked } from '../reasons/asked.ts';
import type {
  Lacking,
  ListReasons,
  ListReasonsTask,
  Reasons,
  ReasonsTask,
} from '../reasons/work-patients.ts';
import type {
  EffectTask,
  OnTheWholeTask,
  OverTwoFound,
  OverTwoTask,
  PairsFound,
  RulesTask,
} from '../reasons/work.ts';
import type { SidesTask } from '../sides-of.ts';
import type { PrepareTask, traceOf } from '../learn-preparation.ts';
import type { FittedPreparation, StepTrace } from '@rook-scale/core/preparation';
import type { Met, MeetTask, ScoredList, ScoreTask } from '../screenings/work.ts';
import type { NestedShown } from '../../contract/searches.ts';
import { Pool } from './pool.ts';

/** What the web server has its threads do, so that it goes on answering others meanwhile. */
export interface WebWorks {
  divide: { task: DivideTask; result: Divided | null };
  sides: { task: SidesTask; result: SidesView };
  prepare: { task: PrepareTask; result: FittedPreparation };
  step: { task: Parameters<typeof traceOf>[0]; result: StepTrace };
  meet: { task: MeetTask; result: Met };
  score: { task: ScoreTask; result: ScoredList };
  patient: { task: PatientTask; result: PatientAnswered };
  compare: { task: Compare; result: Compared };
  differing: { task: DifferingTask; result: Differing };
  wrong: { task: WrongTask; result: Wrong };
  curves: { task: CurvesTask; result: Curves };
  effect: { task: EffectTask; result: EffectShown | typeof needsModel };
  reasons: { task: ReasonsTask; result: Reasons | Lacking | typeof needsModel };
  'over two': { task: OverTwoTask; result: OverTwoFound | typeof needsModel };
  pairs: { task: Asked; result: PairsFound | typeof needsModel };
  'on the whole': { task: OnTheWholeTask; result: OnTheWhole | typeof needsModel };
  rules: { task: RulesTask; result: InRules | typeof needsModel };
  'reasons in a list': { task: ListReasonsTask; result: ListReasons | typeof needsModel };
  correct: { task: CorrectTask; result: Corrected | null };
  nested: { task: NestTask; result: NestedShown | null };
  'time a fit': { task: TimeTask; result: number };
}

// Beside the folder of whichever program runs: web server and setup are built side by side.
const pool = new Pool<WebWorks>(
  () => new URL('../worker/web-thread.js', pathToFileURL(process.argv[1])),
);

/** Tasks that wait for a thread: no more run at once than there are cores. */
const waiting: (() => void)[] = [];
let running = 0;

/** Has a thread do it; whoever comes when all are busy waits in line. */
export async function onThread<Kind extends keyof WebWorks>(
  kind: Kind,
  task: WebWorks[Kind]['task'],
): Promise<WebWorks[Kind]['result']> {
  if (running < availableParallelism()) running++;
  else await new Promise<void>((go) => waiting.push(go));
  try {
    return await pool.run(kind, task);
  } finally {
    // Whoever waits longest takes the place over.
    const next = waiting.shift();
    if (next) next();
    else running--;
  }
}
