import { logistic, type RandomStream } from '@rook-scale/core/numeric';

/** How one place and year differs from another. */
export interface Setting {
  hospitals: [name: string, share: number][];
  firstDay: string;
  days: number;
  /** Added to the mean age, in years. */
  older: number;
  /** Factor on creatinine. */
  creatinineFactor: number;
  /** Added to the log odds of injury. */
  riskShift: number;
  operations: [name: string, share: number][];
}

/** One made-up patient; every value as a number, a word or undefined where it was not recorded. */
export type Patient = Record<string, string | number | undefined>;

/** Draws one patient. Effects are invented, of the size that risk scores of this kind report. */
export function drawPatient(draw: RandomStream, setting: Setting): Patient {
  const chance = (p: number) => draw.uniform() < p;
  const around = (mean: number, sd: number) => mean + sd * draw.normal();
  const age = Math.round(clamp(around(66 + setting.older, 12), 19, 96));
  const female = chance(0.47);
  const bmi = clamp(Math.exp(around(3.31, 0.18)), 15, 58);
  const smoking = pick(draw, [
    ['never', 0.48],
    ['former', 0.34],
    ['current', 0.18],
  ]);
  const frailty = draw.normal();
  const ill = (base: number, byAge: number) =>
    chance(logistic(base + byAge * ((age - 66) / 10) + 0.5 * frailty));
  const hypertension = ill(-0.1, 0.5);
  const heartFailure = ill(-2.6, 0.55);
  const vascular = ill(-1.9, 0.4);
  const lung = ill(-1.7, 0.15);
  const pressureTablets = hypertension ? chance(0.58) : chance(0.07);
  const painkillers = chance(0.16);
  const diuretic = chance(heartFailure ? 0.7 : hypertension ? 0.24 : 0.05);
  const illness = Number(heartFailure) + Number(vascular) + Number(lung) + Number(hypertension) / 2;
  const grade = clamp(
    Math.round(1.75 + 0.42 * illness + 0.3 * frailty + 0.45 * draw.normal()),
    1,
    4,
  );
  const operation = pick(draw, setting.operations);
  const minutes = plannedMinutes(draw, operation);
  const creatinine = drawCreatinine(draw, { age, female, illness, setting });
  const egfr = ckdEpi2021(creatinine, age, female);
  const urea = clamp(5.4 * (creatinine / 78) ** 0.95 * Math.exp(0.055 * draw.normal()), 1.5, 45);
  const haemoglobin = clamp(around(female ? 128 : 139, 14) - 4 * illness, 68, 185);
  const albumin = clamp(around(40.5, 3.6) - 1.1 * Math.max(0, frailty), 19, 51);
  const crp = clamp(Math.exp(around(1.4 + 0.25 * illness, 1.05)), 0.3, 320);
  const potassium = clamp(
    around(4.3 + (pressureTablets ? 0.14 : 0) - (diuretic ? 0.12 : 0), 0.4),
    2.6,
    6.4,
  );
  const sodium = clamp(around(139.3 - (diuretic ? 1.2 : 0), 2.6), 122, 150);
  const whiteCells = clamp(Math.exp(around(1.98, 0.27)) + crp / 120, 1.8, 29);
  const systolic = clamp(around(hypertension ? 142 : 130, 16), 82, 215);
  const heartRate = clamp(around(75 + 2 * frailty, 12), 42, 138);
  const oxygen = clamp(Math.round(97.4 - (lung ? 1.3 : 0) + 1.2 * draw.normal()), 82, 100);
  const logOdds =
    -2.95 +
    setting.riskShift +
    0.3 * ((age - 66) / 10) +
    0.85 * ((75 - egfr) / 20) +
    0.55 * Number(heartFailure) +
    0.3 * Number(vascular) +
    0.45 * Number(pressureTablets) +
    0.55 * Number(painkillers) +
    0.35 * Number(diuretic) +
    0.35 * (grade - 2) +
    0.4 * ((minutes - 130) / 60) +
    (operation.toLowerCase() === 'vascular' ? 0.55 : 0) -
    0.35 * ((albumin - 40) / 4) -
    0.28 * ((haemoglobin - 132) / 15) +
    0.25 * (Math.log(crp) - 1.5) +
    0.12 * ((bmi - 28) / 5);
  const injury = chance(logistic(logOdds));
  const ratio = injury
    ? 1.5 + 0.62 * -Math.log(1 - draw.uniform())
    : clamp(around(1.04, 0.13), 0.75, 1.49);
  return {
    clinic_date: day(setting.firstDay, Math.floor(draw.uniform() * setting.days)),
    hospital: pick(draw, setting.hospitals),
    age,
    sex: female ? 'female' : 'male',
    bmi: round(bmi, 1),
    smoking,
    anaesthetic_grade: grade,
    hypertension: yesNo(hypertension),
    heart_failure: yesNo(heartFailure),
    vascular_disease: yesNo(vascular),
    lung_disease: yesNo(lung),
    kidney_pressure_tablets: yesNo(pressureTablets),
    painkillers: yesNo(painkillers),
    diuretic: yesNo(diuretic),
    operation,
    planned_minutes: minutes,
    creatinine: round(creatinine, 0),
    egfr: round(egfr, 0),
    urea: round(urea, 1),
    haemoglobin: round(haemoglobin, 0),
    albumin: round(albumin, 0),
    crp: round(crp, crp < 10 ? 1 : 0),
    potassium: round(potassium, 1),
    sodium: round(sodium, 0),
    white_cells: round(whiteCells, 1),
    systolic_pressure: round(systolic, 0),
    heart_rate: round(heartRate, 0),
    oxygen_saturation: oxygen,
    glycated_haemoglobin: round(clamp(Math.exp(around(3.75, 0.22)), 24, 130), 0),
    clinic_form: 'B',
    renal_ward_transfer: yesNo(injury ? chance(0.82) : chance(0.002)),
    injury_7_days: yesNo(injury),
    injury_grade: injury ? (ratio < 2 ? 'mild' : 'severe') : 'none',
    highest_creatinine: round(creatinine * ratio, 0),
  };
}

/**
 * Estimated glomerular filtration rate in mL/min/1.73 m² from creatinine in µmol/L: the CKD-EPI
 * 2021 equation. Inker et al. (2021), N Engl J Med 385:1737-1749.
 */
export function ckdEpi2021(creatinine: number, age: number, female: boolean): number {
  const relative = creatinine / 88.4 / (female ? 0.7 : 0.9);
  const power = female ? -0.241 : -0.302;
  return (
    142 *
    Math.min(relative, 1) ** power *
    Math.max(relative, 1) ** -1.2 *
    0.9938 ** age *
    (female ? 1.012 : 1)
  );
}

function drawCreatinine(
  draw: RandomStream,
  about: { age: number; female: boolean; illness: number; setting: Setting },
): number {
  const typical = about.female ? 68 : 84;
  const log = 0.0045 * (about.age - 60) + 0.06 * about.illness + 0.2 * draw.normal();
  const longTail = draw.uniform() < 0.05 ? 0.5 * draw.uniform() : 0;
  return clamp(typical * about.setting.creatinineFactor * Math.exp(log + longTail), 32, 420);
}

function plannedMinutes(draw: RandomStream, operation: string): number {
  const typical: Record<string, number> = {
    bowel: 165,
    vascular: 185,
    hip_or_knee: 100,
    urological: 125,
    gynaecological: 110,
    keyhole: 95,
  };
  const mean = typical[operation.toLowerCase().replaceAll(' ', '_')] ?? 120;
  return 5 * Math.round((mean * Math.exp(0.28 * draw.normal())) / 5);
}

function pick(draw: RandomStream, options: [string, number][]): string {
  let left = draw.uniform() * options.reduce((sum, [, share]) => sum + share, 0);
  for (const [option, share] of options) {
    left -= share;
    if (left < 0) return option;
  }
  return options[options.length - 1][0];
}

function day(first: string, later: number): string {
  return new Date(Date.parse(first) + later * 86_400_000).toISOString().slice(0, 10);
}

const yesNo = (value: boolean) => (value ? 'yes' : 'no');
const clamp = (value: number, least: number, most: number) =>
  Math.min(most, Math.max(least, value));
const round = (value: number, digits: number) => Number(value.toFixed(digits));
