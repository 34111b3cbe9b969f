// The program of the web server's threads.
import { compare, curvesOf, differing, whoWasWrong } from '@rook-scale/core/comparing';
import { answerPatient } from '../server/patients/work.ts';
import { sidesOf } from '../server/sides-of.ts';
import { divideTable } from '../server/designs/divide-table.ts';
import { learnPreparation, traceOf } from '../server/learn-preparation.ts';
import { workOutListReasons, workOutReasons } from '../server/reasons/work-patients.ts';
import {
  workOutEffect,
  workOutOnTheWhole,
  workOutOverTwo,
  workOutPairs,
  workOutRules,
} from '../server/reasons/work.ts';
import { meetList, scoreList } from '../server/screenings/work.ts';
import { nestChoice } from '../server/searches/nest-choice.ts';
import { correctChoice, timeFit } from '../server/searches/work.ts';
import { serve, type WebWorks } from '../server/threads/index.ts';

serve<WebWorks>({
  divide: divideTable,
  sides: sidesOf,
  prepare: learnPreparation,
  step: traceOf,
  meet: meetList,
  score: scoreList,
  patient: answerPatient,
  compare,
  curves: curvesOf,
  effect: workOutEffect,
  reasons: workOutReasons,
  'over two': workOutOverTwo,
  pairs: workOutPairs,
  'on the whole': workOutOnTheWhole,
  rules: workOutRules,
  'reasons in a list': workOutListReasons,
  differing,
  wrong: whoWasWrong,
  correct: correctChoice,
  nested: nestChoice,
  'time a fit': timeFit,
});
