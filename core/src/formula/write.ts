/** A column name as it stands in a formula: in braces unless it is a plain word. */
export function columnReference(name: string): string {
  const plain = /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name);
  const reserved = ['and', 'or', 'not', 'in'].includes(name.toLowerCase());
  return plain && !reserved ? name : `{${name}}`;
}
