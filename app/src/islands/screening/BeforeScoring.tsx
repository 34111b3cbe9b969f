import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { isRule } from '@rook-scale/core/families';
import { modelInputs, type Match } from '@rook-scale/core/screening';
import { display } from '@rook-scale/core/table';
import type { CandidateLine } from '../../contract/candidates.ts';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { type CheckBeforeScoring, screeningRoutes } from '../../contract/screenings.ts';
import { ask, messageOf } from '../../browser/api.ts';
import { patientRoutes } from '../../contract/patients.ts';
import { plural } from '../../browser/format.ts';
import { Button, Loading, Notice } from '../../components/index.ts';
import { PageBody } from '../frame/index.ts';
import { SeparationNotice } from '../separation/index.ts';
import { ColumnsCompared } from './ColumnsCompared.tsx';
import { MatchDialog } from './MatchDialog.tsx';
import { comparisonNotes } from './notes.ts';
import { asMatch, Suggestions } from './Suggestions.tsx';
import { TooLittleDialog } from './TooLittleDialog.tsx';
import { UncheckedDialog } from './UncheckedDialog.tsx';
import { UnmatchedDialog } from './UnmatchedDialog.tsx';
import styles from './Screening.module.css';

export interface ScreeningFrame {
  title: string;
  fact: string;
  actions: ReactNode;
  picker: ReactNode;
}

/** What was agreed to before anyone is scored. */
export interface Consent {
  /** Also patients whose risk rests on too little. */
  accept: boolean;
  /** Also with a fit that was not checked on held-out patients, or is out of date. */
  unchecked: boolean;
}

interface Props {
  frame: ScreeningFrame;
  cohort: CohortInfo;
  line: CandidateLine;
  studyId: string;
  onScore: (consent: Consent) => Promise<void>;
  /** Where the list is scored already and its columns are matched anew. */
  onBack?: () => void;
}

/** How the list meets the model, before anyone is scored. */
export function BeforeScoring({ frame, cohort, line, studyId, onScore, onBack }: Props) {
  const client = useQueryClient();
  const { data: check, error } = useQuery({
    queryKey: ['check', cohort.id, line.id, line.fittedAt],
    queryFn: () =>
      ask(
        screeningRoutes.check,
        { study: studyId },
        { query: { cohort: cohort.id, candidate: line.id } },
      ),
  });
  const { data: sheet } = useQuery({
    queryKey: ['sheet', line.id, line.fittedAt],
    queryFn: () => ask(patientRoutes.sheet, { candidate: line.id }),
    staleTime: Infinity,
  });
  const [working, setWorking] = useState(false);
  const [problem, setProblem] = useState<string>();
  const [asking, setAsking] = useState<'unmatched' | 'unchecked' | 'too little'>();
  const [matching, setMatching] = useState<string>();
  const act = async (work: () => Promise<unknown>) => {
    setWorking(true);
    setProblem(undefined);
    try {
      await work();
      return true;
    } catch (thrown) {
      setProblem(messageOf(thrown));
      return false;
    } finally {
      setWorking(false);
    }
  };
  const isUnchecked = !line.seen || line.outOfDate;
  const score = (accept: boolean) => {
    setAsking(undefined);
    void act(() => onScore({ accept, unchecked: isUnchecked }));
  };
  const askTooLittle = () =>
    check!.unfamiliarPatients > 0 ? setAsking('too little') : score(false);
  const askUnchecked = () => (isUnchecked ? setAsking('unchecked') : askTooLittle());
  const keep = (matches: Match[]) =>
    act(async () => {
      const body = { candidate: line.id, matching: matches };
      await ask(screeningRoutes.match, { cohort: cohort.id }, { body });
      await client.invalidateQueries();
    });
  const use = (matches: Match[]) => {
    setAsking(undefined);
    void keep([
      ...check!.matching.filter(
        (one) => !matches.some(({ predictor }) => predictor === one.predictor),
      ),
      ...matches,
    ]);
  };
  const inputs = sheet ? modelInputs(sheet) : [];
  const labelOf = (predictor: string) => {
    const input = inputs.find(({ name }) => name === predictor);
    return input ? display(input) : predictor;
  };
  const open = inputs.find(({ name }) => name === matching);
  const others = (predictor: string) =>
    (check?.matching ?? []).filter((one) => one.predictor !== predictor);
  return (
    <PageBody
      title={frame.title}
      fact={frame.fact}
      actions={frame.actions}
      studyId={studyId}
      notes={check ? comparisonNotes(check, cohort.id) : []}
    >
      {frame.picker}
      {!open && (problem ?? error) && <Notice>{problem ?? error?.message}</Notice>}
      <SeparationNotice name={line.name} warnings={check?.warnings ?? []} />
      {check && check.needed.absent.length > 0 ? (
        <Notice>
          {check.needed.absent.map(labelOf).join(', ')} must be known, and this list does not have{' '}
          {check.needed.absent.length === 1 ? 'it' : 'them'}: nobody can be scored. Match the column
          that stands for it
          {!isRule(line.family) && (
            <>
              , or <a href={`/studies/${studyId}/design#predictors`}>let it be missing</a>
            </>
          )}
          .
        </Notice>
      ) : (
        <div className={styles.scoreLine}>
          <Button
            look="main"
            disabled={working || !check || !sheet}
            onClick={() =>
              check!.suggestions.length > 0 ? setAsking('unmatched') : askUnchecked()
            }
          >
            {working
              ? 'Working'
              : `Score ${plural(cohort.rowCount - (check?.needed.patients ?? 0), 'patient')}`}
          </Button>
          {onBack && <Button onClick={onBack}>Back to the list</Button>}
          <p className="quiet">
            {onBack
              ? 'The list keeps its scores until it is scored again.'
              : 'Nobody is scored yet. This is how the list meets the model.'}
            {check &&
              check.needed.patients > 0 &&
              ` ${plural(check.needed.patients, 'patient lacks', 'patients lack')} what must be known and will have no risk.`}
          </p>
        </div>
      )}
      {!(check && sheet) && !error && (
        <Loading what="the comparison with the development patients" />
      )}
      {check && sheet && (
        <>
          <Suggestions
            suggestions={check.suggestions}
            labelOf={labelOf}
            busy={working}
            onUse={use}
            onChoose={({ predictor }) => setMatching(predictor)}
          />
          <ColumnsCompared check={check} onMatch={setMatching} />
        </>
      )}
      {asking === 'unmatched' && check && (
        <UnmatchedDialog
          suggestions={check.suggestions}
          labelOf={labelOf}
          onUse={() => use(check.suggestions.map(asMatch))}
          onScore={askUnchecked}
          onClose={() => setAsking(undefined)}
        />
      )}
      {asking === 'unchecked' && (
        <UncheckedDialog
          {...{ line, studyId }}
          onScore={askTooLittle}
          onClose={() => setAsking(undefined)}
        />
      )}
      {asking === 'too little' && check && (
        <TooLittleDialog
          check={check}
          onScore={() => score(true)}
          onClose={() => setAsking(undefined)}
        />
      )}
      {open && check && (
        <MatchDialog
          input={open}
          cohort={cohort}
          start={startOf(check, open.name)}
          problem={problem}
          onClose={() => {
            setMatching(undefined);
            setProblem(undefined);
          }}
          onTake={(match) =>
            void keep([...others(open.name), ...(match ? [match] : [])]).then(
              (kept) => kept && setMatching(undefined),
            )
          }
        />
      )}
    </PageBody>
  );
}

function startOf(check: CheckBeforeScoring, predictor: string): Match | undefined {
  const suggested = check.suggestions.find((one) => one.predictor === predictor);
  return (
    check.matching.find((one) => one.predictor === predictor) ?? (suggested && asMatch(suggested))
  );
}
