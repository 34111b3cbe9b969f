import { Unzip, UnzipInflate, unzipSync, type UnzipFile } from 'fflate';
import type { Problem } from '../ground/problem.ts';
import {
  limits,
  mostlyPadding,
  sheetTooLarge,
  tooManyEntries,
  understated,
  unpacksTooLarge,
} from './limits.ts';

/** Bytes handed to the unpacker at a time: what they unpack to is counted in between. */
const pieceBytes = 16 * 1024;

/**
 * Unpacks a workbook once without keeping anything, before it is read as a whole: how many files it
 * packs, how much they come to, and how far its sheets reach (ECMA-376, references of cells).
 */
export function checkArchive(bytes: Uint8Array): ArchiveSeen {
  const declared = refuseDeclared(bytes);
  const seen = { hasCdata: false, hasErrors: false, from1904: false };
  let entries = 0;
  let unpacked = 0;
  // The unpacker takes what is thrown in its midst for its own failure.
  let problem: Problem | undefined;
  const unzip = new Unzip((file: UnzipFile) => {
    if (++entries > limits.entries) problem ??= tooManyEntries();
    if (problem) return;
    const look = /worksheets\/[^/]+\.xml$/i.test(file.name) ? new SheetExtent() : undefined;
    const isXml = /\.xml$/i.test(file.name);
    const odd = isXml ? new OddMarks(seen) : undefined;
    const padding = isXml ? new Padding() : undefined;
    file.ondata = (error, piece) => {
      // What cannot be unpacked is said by whoever reads it.
      if (error || problem) return;
      unpacked += piece.length;
      odd?.add(piece);
      // Unpacking stops as soon as the archive exceeds the size that it declares.
      if (unpacked > (declared ?? Infinity)) problem = understated();
      else
        problem =
          unpacked > limits.unpacked
            ? unpacksTooLarge()
            : (look?.add(piece) ?? padding?.add(piece));
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  for (let at = 0; at < bytes.length; at += pieceBytes) {
    unzip.push(bytes.subarray(at, at + pieceBytes), at + pieceBytes >= bytes.length);
    if (problem) throw problem;
  }
  return seen;
}

/** What a sheet has that its reader passes over in silence. */
export interface ArchiveSeen {
  hasCdata: boolean;
  hasErrors: boolean;
  /** Its dates count from 1 January 1904 (ECMA-376, 18.17.4.1). */
  from1904: boolean;
}

/** Looks for marks in XML that comes in pieces. */
class OddMarks {
  private held = '';
  private readonly decoder = new TextDecoder('latin1');

  constructor(private readonly seen: ArchiveSeen) {}

  add(piece: Uint8Array): void {
    const text = this.held + this.decoder.decode(piece, { stream: true });
    this.seen.hasCdata ||= text.includes('<![CDATA[');
    this.seen.hasErrors ||= /\bt\s*=\s*["']e["']/.test(text);
    this.seen.from1904 ||= /\bdate1904\s*=\s*["'](1|true)["']/.test(text);
    this.held = text.slice(-30);
  }
}

/** A part above this many bytes is checked; the most bytes per XML element that it may have. */
const partBytes = 20_000_000;
const elementBytes = 2 * limits.cell;

/** Finds long comments and blanks, which take minutes to read and hold no cell. */
class Padding {
  private bytes = 0;
  private elements = 0;

  add(piece: Uint8Array): Problem | undefined {
    this.bytes += piece.length;
    for (let at = piece.indexOf(60); at >= 0; at = piece.indexOf(60, at + 1)) this.elements++;
    return this.bytes > partBytes && this.bytes > elementBytes * this.elements
      ? mostlyPadding()
      : undefined;
  }
}

/** What the archive says of itself is enough to refuse it by. Gives the bytes that it says it unpacks to. */
function refuseDeclared(bytes: Uint8Array): number | undefined {
  let [entries, unpacked] = [0, 0];
  try {
    unzipSync(bytes, {
      filter({ originalSize }) {
        entries++;
        unpacked += originalSize;
        return false;
      },
    });
  } catch {
    // An archive without a sound directory: whoever reads it says so.
    return undefined;
  }
  if (entries > limits.entries) throw tooManyEntries();
  if (unpacked > limits.unpacked) throw unpacksTooLarge();
  return unpacked;
}

/** A cell, or a row, by its reference; longer ones than there can be are found too, to be refused. */
const reference = /\br\s*=\s*["']([A-Za-z]{0,12})(\d{1,20})["']/g;

/** What a sheet can have (ECMA-376, as its programs write it). */
const mostRows = 1_048_576;
const mostColumns = 16_384;

/** How far the cells of a sheet reach, from the references in its XML. */
class SheetExtent {
  private rows = 0;
  private columns = 0;
  private held = '';
  private readonly decoder = new TextDecoder('latin1');

  /** Gives what is wrong with it so far. */
  add(piece: Uint8Array): Problem | undefined {
    const text = this.held + this.decoder.decode(piece, { stream: true });
    for (const [, letters, digits] of text.matchAll(reference)) {
      this.rows = Math.max(this.rows, Number(digits));
      if (letters) this.columns = Math.max(this.columns, columnOf(letters));
    }
    // A reference may be cut in two by the end of the piece.
    this.held = text.slice(-60);
    if (
      this.rows * Math.max(1, this.columns) > limits.spanned ||
      this.rows > mostRows ||
      this.columns > mostColumns
    )
      return sheetTooLarge(this.rows, this.columns);
    return undefined;
  }
}

/** A is 1, Z 26, AA 27. */
function columnOf(letters: string): number {
  let column = 0;
  for (const letter of letters.toUpperCase()) column = 26 * column + letter.charCodeAt(0) - 64;
  return column;
}
