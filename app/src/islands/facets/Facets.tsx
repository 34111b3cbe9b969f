import type { ComponentType } from 'react';
import type { Facet, FacetKind, FacetsOf } from '@rook-scale/core/families';
import type { CandidateDetail } from '../../contract/candidates.ts';
import { Coefficients } from './Coefficients.tsx';
import { LikelihoodFacts, VarianceFacts } from './facts.tsx';
import { NestedFits } from './NestedFits.tsx';
import { RuleAnswers } from './RuleAnswers.tsx';
import { ProportionalityTable } from './ProportionalityTable.tsx';
import styles from './Facets.module.css';

/** What a view of a facet is given. */
export interface FacetProps<K extends FacetKind> {
  value: FacetsOf[K];
  detail: CandidateDetail;
}

/** How each kind of facet is shown; one without a view does not compile. */
const views: {
  [K in FacetKind]: { place: 'head' | 'body'; view: ComponentType<FacetProps<K>> };
} = {
  likelihood: { place: 'head', view: LikelihoodFacts },
  variance: { place: 'head', view: VarianceFacts },
  coefficients: { place: 'body', view: Coefficients },
  proportionality: { place: 'body', view: ProportionalityTable },
  rule: { place: 'body', view: RuleAnswers },
};

/** Everything a fitted model shows of itself: figures of the fit at the head, tables below. */
export function Facets({ name, detail }: { name: string; detail: CandidateDetail }) {
  const at = (place: 'head' | 'body') =>
    detail.facets.filter(({ kind }) => views[kind].place === place);
  return (
    <>
      <div className={styles.head}>
        <h2>
          {detail.facets.some(({ kind }) => kind === 'coefficients')
            ? `${name}: coefficients`
            : name}
        </h2>
        {at('head').map((facet) => (
          <View key={facet.kind} facet={facet} detail={detail} />
        ))}
      </div>
      {at('body').map((facet) => (
        <View key={facet.kind} facet={facet} detail={detail} />
      ))}
      <NestedFits detail={detail} />
    </>
  );
}

function View({ facet, detail }: { facet: Facet; detail: CandidateDetail }) {
  const Shown = views[facet.kind].view as ComponentType<FacetProps<FacetKind>>;
  return <Shown value={facet.value} detail={detail} />;
}
