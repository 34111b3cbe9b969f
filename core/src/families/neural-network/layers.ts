/** What a network says of patients, by output: sums of the last layer before they become shares. */
export function outputsOf(
  sizes: number[],
  parameters: Float64Array,
  rows: Float64Array,
  count: number,
): Float64Array {
  const inputs = sizes[0];
  const outputs = sizes[sizes.length - 1];
  const said = new Float64Array(count * outputs);
  const widest = Math.max(...sizes);
  let [from, to] = [new Float64Array(widest), new Float64Array(widest)];
  for (let row = 0; row < count; row++) {
    for (let j = 0; j < inputs; j++) from[j] = rows[row * inputs + j];
    let at = 0;
    for (let l = 1; l < sizes.length; l++) {
      const isHidden = l < sizes.length - 1;
      for (let u = 0; u < sizes[l]; u++) {
        let sum = parameters[at++];
        for (let j = 0; j < sizes[l - 1]; j++) sum += parameters[at++] * from[j];
        to[u] = isHidden ? Math.tanh(sum) : sum;
      }
      [from, to] = [to, from];
    }
    for (let k = 0; k < outputs; k++) said[row * outputs + k] = from[k];
  }
  return said;
}
