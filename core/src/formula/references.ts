import { parse, type Node } from './parse.ts';

/** Names of the columns a formula reads, whether or not they exist. */
export function columnReferences(text: string): string[] {
  const names = new Set<string>();
  const walk = (node: Node): void => {
    if (node.node === 'column') names.add(node.name);
    else if (node.node === 'unary') walk(node.operand);
    else if (node.node === 'binary') [node.left, node.right].forEach(walk);
    else if (node.node === 'in') [node.operand, ...node.choices].forEach(walk);
    else if (node.node === 'call') node.given.forEach(walk);
  };
  walk(parse(text));
  return [...names];
}
