/** What the analyst of the demo study has written into the dictionary: label, unit and what else differs from the first guess. */
export const demoDictionary: Record<
  string,
  {
    label: string;
    unit?: string;
    kind?: 'category' | 'ordered category';
    role?: 'outcome' | 'identifier' | 'set aside';
    missingCodes?: string[];
    levels?: string[];
  }
> = {
  reference: { label: 'Reference', role: 'identifier' },
  clinic_date: { label: 'Clinic date', role: 'set aside' },
  hospital: { label: 'Hospital', role: 'set aside' },
  age: { label: 'Age', unit: 'years' },
  sex: { label: 'Sex' },
  bmi: { label: 'Body mass index', unit: 'kg/m²' },
  smoking: { label: 'Smoking', missingCodes: ['9'], levels: ['never', 'former', 'current'] },
  anaesthetic_grade: {
    label: 'Anaesthetic risk grade',
    kind: 'ordered category',
    levels: ['1', '2', '3', '4'],
  },
  hypertension: { label: 'Hypertension' },
  heart_failure: { label: 'Heart failure' },
  vascular_disease: { label: 'Vascular disease' },
  lung_disease: { label: 'Lung disease' },
  kidney_pressure_tablets: { label: 'Blood-pressure tablets acting on the kidney' },
  painkillers: { label: 'Anti-inflammatory painkillers' },
  diuretic: { label: 'Diuretic' },
  operation: { label: 'Type of operation' },
  planned_minutes: { label: 'Planned duration', unit: 'min' },
  creatinine: { label: 'Creatinine', unit: 'µmol/L' },
  egfr: { label: 'eGFR', unit: 'mL/min/1.73 m²' },
  urea: { label: 'Urea', unit: 'mmol/L' },
  haemoglobin: { label: 'Haemoglobin', unit: 'g/L' },
  albumin: { label: 'Albumin', unit: 'g/L' },
  crp: { label: 'C-reactive protein', unit: 'mg/L' },
  potassium: { label: 'Potassium', unit: 'mmol/L' },
  sodium: { label: 'Sodium', unit: 'mmol/L' },
  white_cells: { label: 'White cells', unit: '10⁹/L' },
  systolic_pressure: { label: 'Systolic pressure', unit: 'mmHg' },
  heart_rate: { label: 'Heart rate', unit: '1/min' },
  oxygen_saturation: { label: 'Oxygen saturation', unit: '%' },
  glycated_haemoglobin: { label: 'Glycated haemoglobin', unit: 'mmol/mol', role: 'set aside' },
  clinic_form: { label: 'Clinic form', role: 'set aside' },
  renal_ward_transfer: { label: 'Renal ward transfer', role: 'set aside' },
  injury_7_days: { label: 'Kidney injury within 7 days', role: 'outcome' },
  injury_grade: {
    label: 'Injury grade',
    kind: 'ordered category',
    role: 'set aside',
    levels: ['none', 'mild', 'severe'],
  },
  highest_creatinine: { label: 'Highest creatinine', unit: 'µmol/L', role: 'set aside' },
};
