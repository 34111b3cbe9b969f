import { showCount, showP } from '../../browser/format.ts';
import { showDigits, showFixed } from '../../browser/numbers.ts';
import type { FacetProps } from './Facets.tsx';
import styles from './Facets.module.css';

/** Figures of a likelihood fit. */
export function LikelihoodFacts({ value: fit }: FacetProps<'likelihood'>) {
  return (
    <dl className={styles.fit}>
      <Fact name="log-likelihood" value={showFixed(fit.logLikelihood, 1)} />
      <Fact
        name="null deviance"
        value={showFixed(fit.nullDeviance, 1)}
        more={`${showCount(fit.nullDegrees)} df`}
      />
      <Fact
        name="residual deviance"
        value={showFixed(fit.residualDeviance, 1)}
        more={`${showCount(fit.residualDegrees)} df`}
      />
      {fit.penalised === undefined ? (
        <>
          <Fact name="AIC" value={showFixed(fit.aic, 1)} />
          {fit.bic !== undefined && <Fact name="BIC" value={showFixed(fit.bic, 1)} />}
        </>
      ) : (
        <Fact name="penalised log-likelihood" value={showFixed(fit.penalised, 1)} />
      )}
      <Fact name="iterations" value={String(fit.iterations)} />
    </dl>
  );
}

/** Figures of a least-squares fit. */
export function VarianceFacts({ value: fit }: FacetProps<'variance'>) {
  const short = (number: number) => showDigits(number, 4);
  return (
    <dl className={styles.fit}>
      <Fact
        name="residual SE"
        value={short(fit.residualStandardError)}
        more={`${showCount(fit.residualDegrees)} df`}
      />
      {fit.rSquared !== undefined && <Fact name="R²" value={showFixed(fit.rSquared, 3)} />}
      {fit.adjustedRSquared !== undefined && (
        <Fact name="adjusted R²" value={showFixed(fit.adjustedRSquared, 3)} />
      )}
      {fit.f && (
        <Fact
          name="F"
          value={showFixed(fit.f.value, 1)}
          more={`${fit.f.degrees.map(showCount).join(' and ')} df, p ${showP(fit.f.p)}`}
        />
      )}
      <Fact name="AIC" value={criterion(fit.aic)} />
      <Fact name="BIC" value={criterion(fit.bic)} />
    </dl>
  );
}

/** An exact fit has no finite likelihood, and so no information criterion. */
const criterion = (value: number) =>
  Number.isFinite(value) ? showFixed(value, 1) : 'none (exact fit)';

function Fact({ name, value, more }: { name: string; value: string; more?: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>
        {value}
        {more && <span> ({more})</span>}
      </dd>
    </div>
  );
}
