import type { ComponentType } from 'react';
import type { Facet, FacetKind, FacetsOf, Settings } from '@rook-scale/core/families';
import type { ErrorCosts } from '@rook-scale/core/measures';
import type { CandidateDetail, CandidateLine } from '../../contract/candidates.ts';
import { showCount } from '../../browser/format.ts';
import { Notice } from '../../components/index.ts';
import { Part } from '../frame/index.ts';
import { Coefficients } from './Coefficients.tsx';
import { LikelihoodFacts, VarianceFacts } from './facts.tsx';
import { NestedFits } from './NestedFits.tsx';
import { RuleAnswers } from './RuleAnswers.tsx';
import { ProportionalityTable } from './ProportionalityTable.tsx';
import { BlendTable } from './blend/index.ts';
import { DensitiesTable } from './densities/index.ts';
import { DiscriminantsView } from './discriminants/index.ts';
import { ImportanceTable, LossCurveView } from './ensemble/index.ts';
import { MarginView } from './margin/index.ts';
import { NetworkView } from './network/index.ts';
import { PathView } from './path/index.ts';
import { RecalibrationView } from './recalibrated/index.ts';
import { RegionMap } from './regions/index.ts';
import { TermsView } from './terms/index.ts';
import { TreeView } from './tree/index.ts';
import styles from './Facets.module.css';

/** What a view of a facet is given. */
export interface FacetProps<K extends FacetKind> {
  value: FacetsOf[K];
  detail: CandidateDetail;
  line: CandidateLine;
  studyId: string;
  /** What errors cost; absent where that depends on the patient or on the level that is given. */
  costs?: ErrorCosts;
  /** Fits another candidate like it, with these settings instead. */
  onFitWith: (settings: Settings) => void;
}

/** Whether a facet gives standard errors that treat rows as independent, as older fits do. */
const countsRows = (facet: Facet): boolean =>
  (facet.kind === 'coefficients' || facet.kind === 'terms') && facet.value.byCluster === undefined;

/** How each kind of facet is shown; one without a view does not compile. */
const views: {
  [K in FacetKind]: { place: 'head' | 'body'; view: ComponentType<FacetProps<K>> };
} = {
  likelihood: { place: 'head', view: LikelihoodFacts },
  variance: { place: 'head', view: VarianceFacts },
  coefficients: { place: 'body', view: Coefficients },
  proportionality: { place: 'body', view: ProportionalityTable },
  rule: { place: 'body', view: RuleAnswers },
  tree: { place: 'body', view: TreeView },
  importance: { place: 'body', view: ImportanceTable },
  curve: { place: 'body', view: LossCurveView },
  regions: { place: 'body', view: RegionMap },
  path: { place: 'body', view: PathView },
  densities: { place: 'body', view: DensitiesTable },
  discriminants: { place: 'body', view: DiscriminantsView },
  network: { place: 'body', view: NetworkView },
  margin: { place: 'body', view: MarginView },
  terms: { place: 'body', view: TermsView },
  blend: { place: 'body', view: BlendTable },
  recalibration: { place: 'body', view: RecalibrationView },
};

/** Everything a fitted model shows of itself: figures of the fit at the head, tables below. */
export function Facets(props: Omit<FacetProps<FacetKind>, 'value'>) {
  const { detail, line } = props;
  const at = (place: 'head' | 'body') =>
    detail.facets.filter(({ kind }) => views[kind].place === place);
  return (
    <>
      <div className={styles.head}>
        <h2>
          {detail.facets.some(({ kind }) => kind === 'coefficients')
            ? `${line.name}: coefficients`
            : line.name}
        </h2>
        {at('head').map((facet) => (
          <View key={facet.kind} facet={facet} {...props} />
        ))}
      </div>
      {detail.dependent && detail.facets.some(countsRows) && (
        <Notice kind="plain">
          The standard errors and tests of this fit assume independent rows. Here{' '}
          {showCount(detail.dependent.rows)} rows belong to {showCount(detail.dependent.clusters)}{' '}
          patients or groups, so its intervals are too narrow. Fit it again for robust ones.
        </Notice>
      )}
      {at('body').map((facet) => (
        <View key={`${facet.kind} ${line.id} ${line.fittedAt}`} facet={facet} {...props} />
      ))}
      <NestedFits detail={detail} />
    </>
  );
}

function View({ facet, ...props }: { facet: Facet } & Omit<FacetProps<FacetKind>, 'value'>) {
  const Shown = views[facet.kind].view as ComponentType<FacetProps<FacetKind>>;
  return (
    <Part>
      <Shown value={facet.value} {...props} />
    </Part>
  );
}
