import { showCount, showP } from '../../browser/format.ts';
import type { FacetProps } from './Facets.tsx';
import styles from './Facets.module.css';

/** Figures of a likelihood fit. */
export function LikelihoodFacts({ value: fit }: FacetProps<'likelihood'>) {
  return (
    <dl className={styles.fit}>
      <Fact name="log-likelihood" value={fit.logLikelihood.toFixed(1)} />
      <Fact
        name="null deviance"
        value={fit.nullDeviance.toFixed(1)}
        more={`${showCount(fit.nullDegrees)} df`}
      />
      <Fact
        name="residual deviance"
        value={fit.residualDeviance.toFixed(1)}
        more={`${showCount(fit.residualDegrees)} df`}
      />
      {fit.penalised === undefined ? (
        <>
          <Fact name="AIC" value={fit.aic.toFixed(1)} />
          {fit.bic !== undefined && <Fact name="BIC" value={fit.bic.toFixed(1)} />}
        </>
      ) : (
        <Fact name="penalised log-likelihood" value={fit.penalised.toFixed(1)} />
      )}
      <Fact name="iterations" value={String(fit.iterations)} />
    </dl>
  );
}

/** Figures of a least-squares fit. */
export function VarianceFacts({ value: fit }: FacetProps<'variance'>) {
  const short = (number: number) => String(Number(number.toPrecision(4)));
  return (
    <dl className={styles.fit}>
      <Fact
        name="residual SE"
        value={short(fit.residualStandardError)}
        more={`${showCount(fit.residualDegrees)} df`}
      />
      {fit.rSquared !== undefined && <Fact name="R²" value={fit.rSquared.toFixed(3)} />}
      {fit.adjustedRSquared !== undefined && (
        <Fact name="adjusted R²" value={fit.adjustedRSquared.toFixed(3)} />
      )}
      {fit.f && (
        <Fact
          name="F"
          value={fit.f.value.toFixed(1)}
          more={`${fit.f.degrees.map(showCount).join(' and ')} df, p ${showP(fit.f.p)}`}
        />
      )}
      <Fact name="AIC" value={fit.aic.toFixed(1)} />
      <Fact name="BIC" value={fit.bic.toFixed(1)} />
    </dl>
  );
}

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
