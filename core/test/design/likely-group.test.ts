import { describe, expect, it } from 'vitest';
import { likelyGroup } from '../../src/design/index.ts';
import { summarise, tableFromText, type Dictionary } from '../../src/table/index.ts';

const rows = Array.from({ length: 200 }, (_, i) => i);
const columns: Record<string, (row: number) => string> = {
  admission_no: (row) => `A${row}`,
  comment: (row) => `seen ${row % 90}`,
  ward: (row) => ['north', 'south', 'annexe', 'day unit'][row % 4],
  hospital: (row) => ['Aldermoor', 'Brackwell', 'Coldharrow'][row % 3],
  sex: (row) => ['female', 'male'][row % 2],
  colour: (row) => ['red', 'green', 'blue'][row % 3],
};

function groupOf(names: string[], edit: (dictionary: Dictionary) => void = () => undefined) {
  const cells = rows.map((row) => names.map((name) => columns[name](row)));
  const { dictionary } = tableFromText(names, cells);
  edit(dictionary);
  const table = tableFromText(names, cells, dictionary);
  return likelyGroup(dictionary, table.columns.map(summarise), rows.length);
}
const aside = (dictionary: Dictionary) => {
  for (const entry of dictionary) entry.role = 'set aside';
};

describe('the column that likely names groups', () => {
  it('is the hospital, wherever it stands, and not the number of the admission', () => {
    expect(groupOf(['admission_no', 'hospital', 'sex'], aside)).toBe('hospital');
    expect(groupOf(['sex', 'ward', 'admission_no', 'hospital'])).toBe('hospital');
  });

  it('is a column set aside where no name tells, and none where there is none', () => {
    const colourAside = (dictionary: Dictionary) => {
      dictionary.find(({ name }) => name === 'colour')!.role = 'set aside';
    };
    expect(groupOf(['admission_no', 'colour'], colourAside)).toBe('colour');
    expect(groupOf(['admission_no', 'comment'], aside)).toBeUndefined();
    expect(groupOf(['sex', 'colour'])).toBeUndefined();
  });
});
