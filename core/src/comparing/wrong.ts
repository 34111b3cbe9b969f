import { side } from '../design/index.ts';
import type { Table } from '../table/index.ts';
import { setsApart, type Apart } from './apart.ts';
import { mostListed } from './differing.ts';

export interface WrongTask {
  /** Of all patients, with the columns that are looked at. */
  table: Table;
  names: string[];
  /** Rows of the patients who were judged. */
  rows: Int32Array;
  /** 1 where the patient is a case. */
  events: ArrayLike<number>;
  scores: Float64Array;
  cutoff: number;
}

/** A patient who was called wrongly. */
export interface WrongPatient {
  /** In the table, from 0. */
  row: number;
  isCase: boolean;
  score: number;
}

export interface Wrong {
  missed: number;
  falseAlarms: number;
  /** Those farthest from the cutoff first; at most so many as are shown. */
  patients: WrongPatient[];
  /** What sets missed cases apart from found ones, and false alarms from those rightly left. */
  apart: { missed: Apart[]; falseAlarms: Apart[] };
}

/** Who is called wrongly at a cutoff, and what they share. */
export function whoWasWrong(task: WrongTask): Wrong {
  const { table, names, rows, events, scores, cutoff } = task;
  const wrong: WrongPatient[] = [];
  const sides = [0, 1].map(() => new Uint8Array(table.rowCount).fill(side.unused));
  rows.forEach((row, i) => {
    const isCase = events[i] === 1;
    const isWrong = scores[i] >= cutoff !== isCase;
    sides[events[i]][row] = isWrong ? side.development : side.heldOut;
    if (isWrong) wrong.push({ row, isCase, score: scores[i] });
  });
  const off = ({ score }: WrongPatient) => Math.abs(score - cutoff);
  wrong.sort((a, b) => off(b) - off(a) || a.row - b.row);
  const missed = wrong.filter(({ isCase }) => isCase).length;
  return {
    missed,
    falseAlarms: wrong.length - missed,
    patients: wrong.slice(0, mostListed),
    apart: {
      missed: setsApart(table, names, sides[1]),
      falseAlarms: setsApart(table, names, sides[0]),
    },
  };
}
