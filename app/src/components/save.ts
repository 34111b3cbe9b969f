import { harmlessCell } from '@rook-scale/core/table';

/** Has the browser save what an address leads to. */
export function saveAs(address: string, fileName: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = fileName;
  link.click();
}

export const saveText = (text: string, type: string, fileName: string): void =>
  saveBlob(new Blob([text], { type }), fileName);

function saveBlob(blob: Blob, fileName: string): void {
  const address = URL.createObjectURL(blob);
  saveAs(address, fileName);
  // The browser may still be about to read it.
  setTimeout(() => URL.revokeObjectURL(address), 1000);
}

/** A table as delimited text. No cell of it is a formula for a spreadsheet. */
export async function saveRows(rows: (string | number)[][], fileName: string): Promise<void> {
  const { default: Papa } = await import('papaparse');
  const cells = rows.map((row) =>
    row.map((cell) => (typeof cell === 'string' ? harmlessCell(cell) : cell)),
  );
  saveText(Papa.unparse(cells, { newline: '\n' }), 'text/csv', fileName);
}
