const control = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/g;
const halves = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** Text that the database keeps and a page shows: control characters and halves of characters are replaced. */
export function cleanText(text: string, replaced: (count: number) => void = () => {}): string {
  let count = 0;
  const replace = () => {
    count++;
    return '\ufffd';
  };
  const clean = text.replace(control, replace).replace(halves, replace);
  if (count > 0) replaced(count);
  return clean;
}
