import * as z from 'zod';
import { describe, expect, it } from 'vitest';
import { stored } from '../../src/stored/index.ts';

/** A note that had a text first, then several, then a date as well. */
const note = stored(
  'note',
  z.object({ version: z.literal(3), texts: z.array(z.string()), day: z.string() }),
  [
    ({ text, ...rest }) => ({ ...rest, texts: [text] }),
    (older) => ({ ...older, day: '2000-01-01' }),
  ],
);

describe('stored JSON', () => {
  it('of every older version is raised to that of now', () => {
    const now = { version: 3, texts: ['seen'], day: '2000-01-01' };
    expect(note.read({ text: 'seen' })).toEqual(now);
    expect(note.read({ version: 1, text: 'seen' })).toEqual(now);
    expect(note.read({ version: 2, texts: ['seen'] })).toEqual(now);
    expect(note.read(now)).toEqual(now);
  });

  it('is written with its version, and refused where it could not be read again', () => {
    const now = { version: 3 as const, texts: ['seen'], day: '2020-02-02' };
    expect(note.read(JSON.parse(JSON.stringify(note.write(now))))).toEqual(now);
    expect(() => note.write({ ...now, day: 7 } as never)).toThrow();
  });

  it('of a later version, or none at all, is refused by a sentence', () => {
    expect(() => note.read({ version: 4, texts: [] })).toThrow(
      'This note was written by a later version of Rook Scale, which can read it.',
    );
    for (const other of [null, [], 'seen', 5])
      expect(() => note.read(other)).toThrow('This is no note.');
    for (const version of ['2', 0, 1.5])
      expect(() => note.read({ version, text: 'seen' })).toThrow(/no version that can be read/);
  });
});
