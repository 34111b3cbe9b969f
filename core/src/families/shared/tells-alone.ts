/** An input that alone tells an outcome. */
export interface ToldAlone {
  name: string;
  /**
   * 'one' and 'zero': all patients in whom an indicator is so have the same outcome. 'high' and
   * 'low': a number parts those with the event, who have the high or the low values, from the others.
   */
  where: 'one' | 'zero' | 'high' | 'low';
  /** Whether the patients told have the event. */
  event: boolean;
  patients: number;
}

/** Whether an input, 0/1 or a number, has values at which everybody has the same outcome. */
export function tellsAlone(
  name: string,
  column: Float64Array,
  events: ArrayLike<number>,
): ToldAlone[] {
  const isIndicator = column.every((value) => value === 0 || value === 1);
  if (isIndicator)
    return [1, 0].flatMap((value): ToldAlone[] => {
      let [patients, withEvent] = [0, 0];
      for (let i = 0; i < column.length; i++)
        if (column[i] === value) {
          patients++;
          withEvent += events[i];
        }
      if (patients === 0 || (withEvent > 0 && withEvent < patients)) return [];
      return [{ name, where: value === 1 ? 'one' : 'zero', event: withEvent > 0, patients }];
    });
  const ends = [
    [Infinity, -Infinity],
    [Infinity, -Infinity],
  ];
  for (let i = 0; i < column.length; i++) {
    const end = ends[events[i] ? 1 : 0];
    if (column[i] < end[0]) end[0] = column[i];
    if (column[i] > end[1]) end[1] = column[i];
  }
  const [none, some] = ends;
  const above = some[0] >= none[1];
  if (!above && some[1] > none[0]) return [];
  return [{ name, where: above ? 'high' : 'low', event: true, patients: column.length }];
}
