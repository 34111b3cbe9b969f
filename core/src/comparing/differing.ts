import { side } from '../design/index.ts';
import type { Table } from '../table/index.ts';
import { setsApart, type Apart } from './apart.ts';

export interface DifferingTask {
  /** Of all patients, with the columns that are looked at. */
  table: Table;
  names: string[];
  /** Rows of the patients who are compared. */
  rows: Int32Array;
  /** 1 where the patient is a case. */
  events: Uint8Array;
  /** Of each classifier: one score a patient, and the cutoff from which on they are called in. */
  both: [Scored, Scored];
}

interface Scored {
  scores: Float64Array;
  cutoff: number;
}

/** A patient whom only one of two classifiers calls in. */
export interface DifferingPatient {
  /** In the table, from 0. */
  row: number;
  isCase: boolean;
  /** Which of them calls the patient in. */
  calledBy: 0 | 1;
  scores: [number, number];
}

export interface Differing {
  /** Cases whom both find, only the first, only the second, neither. */
  cases: Calls;
  /** The same of others who are called in. */
  others: Calls;
  /** The cases first, and among them whose scores are farthest apart; at most so many as are shown. */
  patients: DifferingPatient[];
  /** Columns in which those whom only the one calls in differ most from those whom only the other does. */
  apart: Apart[];
}

export type Calls = [both: number, first: number, second: number, neither: number];

/** Patients who are listed at most. */
export const mostListed = 500;

/** The patients whom only one of two classifiers calls in, and what sets them apart. */
export function differing({ table, names, rows, events, both }: DifferingTask): Differing {
  const [cases, others]: [Calls, Calls] = [
    [0, 0, 0, 0],
    [0, 0, 0, 0],
  ];
  const patients: DifferingPatient[] = [];
  const sides = new Uint8Array(table.rowCount).fill(side.unused);
  rows.forEach((row, i) => {
    const [first, second] = both.map(({ scores, cutoff }) => scores[i] >= cutoff);
    (events[i] ? cases : others)[first ? (second ? 0 : 1) : second ? 2 : 3]++;
    if (first === second) return;
    sides[row] = first ? side.development : side.heldOut;
    patients.push({
      row,
      isCase: events[i] === 1,
      calledBy: first ? 0 : 1,
      scores: [both[0].scores[i], both[1].scores[i]],
    });
  });
  const gap = ({ scores }: DifferingPatient) => Math.abs(scores[0] - scores[1]);
  patients.sort((a, b) => Number(b.isCase) - Number(a.isCase) || gap(b) - gap(a) || a.row - b.row);
  return {
    cases,
    others,
    patients: patients.slice(0, mostListed),
    apart: setsApart(table, names, sides),
  };
}
