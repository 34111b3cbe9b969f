import { randomStream, type RandomStream } from '@rook-scale/core/numeric';
import { drawPatient, type Patient, type Setting } from './patient.ts';

export interface DemoCohort {
  header: string[];
  rows: string[][];
}

const outcomes = ['injury_7_days', 'injury_grade', 'highest_creatinine'];
const usualOperations: Setting['operations'] = [
  ['bowel', 0.27],
  ['vascular', 0.13],
  ['hip or knee', 0.31],
  ['urological', 0.17],
  ['gynaecological', 0.12],
];

const places = {
  development: {
    hospitals: [
      ['Fennmoor', 0.62],
      ['Carrick Lea', 0.36],
      ['Carrick lea', 0.02],
    ],
    firstDay: '2024-02-05',
    days: 640,
    older: 0,
    creatinineFactor: 1,
    riskShift: 0,
    operations: usualOperations,
  },
  external: {
    hospitals: [['Ostley', 1]],
    firstDay: '2026-01-12',
    days: 190,
    older: 3,
    creatinineFactor: 1.07,
    riskShift: -0.25,
    operations: [...usualOperations, ['keyhole', 0.06]],
  },
} satisfies Record<string, Setting>;

/** About 2,400 patients of Fennmoor and Carrick Lea, with the traps of real extracts. */
export function developmentCohort(patients = 2400, seed = 20): DemoCohort {
  const draw = randomStream(seed, 'development cohort');
  const made = makePatients(draw, places.development, patients, 410_000);
  // A few patients stand in the extract twice.
  const twice = made.filter((_, i) => i % 199 === 100).map((patient) => ({ ...patient }));
  return toRows([...made, ...twice]);
}

/** About 640 patients of Ostley a year later: older, higher creatinine, an operation nobody had before. */
export function externalCohort(patients = 640, seed = 21): DemoCohort {
  const draw = randomStream(seed, 'external cohort');
  return toRows(makePatients(draw, places.external, patients, 730_000));
}

/** Next week's clinic at Ostley: outcomes not yet known, oxygen saturation not in the extract. */
export function nextWeekList(patients = 180, seed = 22): DemoCohort {
  const draw = randomStream(seed, 'next week');
  const setting = { ...places.external, firstDay: '2026-11-30', days: 5 };
  const absent = [...outcomes, 'renal_ward_transfer', 'oxygen_saturation'];
  return toRows(makePatients(draw, setting, patients, 760_000), absent);
}

/** Share of gaps a column, and what a gap looks like where it is not an empty cell. */
const gaps: Record<string, number> = {
  glycated_haemoglobin: 0.66,
  crp: 0.17,
  albumin: 0.08,
  bmi: 0.06,
  white_cells: 0.04,
  potassium: 0.025,
  oxygen_saturation: 0.05,
  heart_rate: 0.03,
};

function makePatients(
  draw: RandomStream,
  setting: Setting,
  count: number,
  firstReference: number,
): Patient[] {
  let reference = firstReference;
  return Array.from({ length: count }, () => {
    const patient = drawPatient(draw, setting);
    for (const [column, share] of Object.entries(gaps))
      if (draw.uniform() < share) patient[column] = undefined;
    if (draw.uniform() < 0.006) patient.albumin = 0;
    if (draw.uniform() < 0.035) patient.smoking = '9';
    reference += 1 + Math.floor(draw.uniform() * 9);
    return { reference, ...patient };
  });
}

function toRows(patients: Patient[], absent: string[] = []): DemoCohort {
  const header = Object.keys(patients[0]).filter((name) => !absent.includes(name));
  return {
    header,
    rows: patients.map((patient) => header.map((name) => String(patient[name] ?? ''))),
  };
}
