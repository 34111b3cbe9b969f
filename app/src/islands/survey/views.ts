import type { ComponentType } from 'react';
import { AssociationsView } from './associations/AssociationsView.tsx';
import { ColumnsView } from './columns/ColumnsView.tsx';
import { GapsView } from './gaps/GapsView.tsx';
import { GridView } from './grid/GridView.tsx';
import { OneColumnView } from './one/OneColumnView.tsx';
import { OutcomeView } from './outcome/OutcomeView.tsx';
import { PatientsView } from './patients/PatientsView.tsx';
import { RelationsView } from './relations/RelationsView.tsx';
import { TwoColumnsView } from './two/TwoColumnsView.tsx';
import { UnusualView } from './unusual/UnusualView.tsx';

export interface View {
  id: string;
  name: string;
  Content: ComponentType;
}

/** The views of the survey, in the order of their tabs. */
export const views: View[] = [
  { id: 'columns', name: 'Columns', Content: ColumnsView },
  { id: 'one', name: 'One column', Content: OneColumnView },
  { id: 'gaps', name: 'Gaps', Content: GapsView },
  { id: 'outcome', name: 'Outcome', Content: OutcomeView },
  { id: 'relations', name: 'Relations', Content: RelationsView },
  { id: 'two', name: 'Two columns', Content: TwoColumnsView },
  { id: 'grid', name: 'Grid of pairs', Content: GridView },
  { id: 'associations', name: 'Associations', Content: AssociationsView },
  { id: 'patients', name: 'Map', Content: PatientsView },
  { id: 'unusual', name: 'Unusual', Content: UnusualView },
];
