import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { Remark } from '../../contract/uploads.ts';

/** The workbook with its CDATA sections (XML 1.0, 2.7) as plain text, which its reader does not pass over. */
export function withoutCdata(bytes: Uint8Array): Uint8Array {
  const files = unzipSync(bytes);
  for (const [name, content] of Object.entries(files)) {
    if (!/\.xml$/i.test(name)) continue;
    const text = strFromU8(content);
    if (!text.includes('<![CDATA[')) continue;
    files[name] = strToU8(
      text.replace(/<!\[CDATA\[([\s\S]*?)\]\]>/g, (_, inside: string) => escaped(inside)),
    );
  }
  return zipSync(files, { level: 0 });
}

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

/** Cells of a sheet that hold an error in place of a value; nothing where there is none. */
export function describeErrors(bytes: Uint8Array, sheet: number): Remark[] {
  const path = pathOfSheet(bytes, sheet);
  const content = path && unzipSync(bytes, { filter: ({ name }) => name === path })[path];
  if (!content) return [];
  const found = [...strFromU8(content).matchAll(errorCell)];
  if (found.length === 0) return [];
  const kinds = [...new Set(found.flatMap(([, value]) => value ?? []))].slice(0, 3);
  const such = kinds.length > 0 ? ` (${kinds.join(', ')})` : '';
  return [
    {
      code: 'error cells',
      title: 'Errors in the sheet',
      sentence: `${found.length === 1 ? '1 cell holds an error' : `${found.length} cells hold errors`} of the spreadsheet${such} in place of a value. They are read as missing.`,
    },
  ];
}

/** A cell of type e (ECMA-376, ST_CellType), and what it shows. */
const errorCell = /<c\b[^>]*\bt\s*=\s*["']e["'][^>]*>(?:(?!<\/c>)[\s\S])*?<v>([^<]*)<\/v>/g;

/** Where the archive has the sheet of this place in the workbook. */
function pathOfSheet(bytes: Uint8Array, sheet: number): string | undefined {
  const [book, links] = ['xl/workbook.xml', 'xl/_rels/workbook.xml.rels'];
  const files = unzipSync(bytes, { filter: ({ name }) => name === book || name === links });
  if (!(book in files) || !(links in files)) return undefined;
  const sheets = [...strFromU8(files[book]).matchAll(/<(?:\w+:)?sheet\b[^>]*>/g)];
  const id = attribute(sheets.at(sheet)?.[0], '\\w+:id');
  const link = [...strFromU8(files[links]).matchAll(/<Relationship\b[^>]*>/g)]
    .map(([tag]) => tag)
    .find((tag) => attribute(tag, 'Id') === id);
  const target = attribute(link, 'Target');
  return target?.startsWith('/') ? target.slice(1) : target && `xl/${target}`;
}

const attribute = (tag: string | undefined, name: string): string | undefined =>
  tag && new RegExp(`\\b${name}\\s*=\\s*["']([^"']*)["']`).exec(tag)?.[1];
