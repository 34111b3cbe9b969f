import type {
  AssociationMap,
  ColumnDescription,
  Finding,
  Gaps,
  Inflation,
  PatientMap,
  Relation,
} from '@rook-scale/core/survey';

/** What each part of the survey gives. */
export interface SurveyResults {
  findings: Finding[];
  columns: ColumnsSurveyed;
  relations: RelationsSurveyed;
  associations: AssociationsSurveyed;
  patients: PatientMap | null;
}

export interface ColumnsSurveyed {
  patients: number;
  /** In the order of the dictionary. */
  columns: ColumnDescription[];
  gaps: Gaps;
}

export interface RelationsSurveyed {
  /** What the column against which the others are set is. */
  shape: 'event' | 'levels' | 'number';
  relations: Relation[];
}

export interface AssociationsSurveyed {
  map: AssociationMap;
  inflation: Inflation[];
  /** Columns beyond the limit that are left out. */
  leftOut: number;
}
