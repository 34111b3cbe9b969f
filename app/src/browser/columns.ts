import type { Column } from '@rook-scale/core/table';
import type { PackedColumn } from '../contract/surveys.ts';
import { unpackBytes, unpackNumbers } from './api.ts';

/** A column as the server packs it. */
export function unpackColumn(packed: PackedColumn): Column {
  if (packed.type === 'number') return { type: 'number', values: unpackNumbers(packed.values) };
  if (packed.type === 'text') return { type: 'text', values: packed.values };
  const codes = new Int32Array(unpackBytes(packed.codes).buffer);
  return { type: 'coded', codes, levels: packed.levels };
}
