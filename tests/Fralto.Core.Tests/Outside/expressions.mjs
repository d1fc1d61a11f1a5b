// Writes random expressions with the results of mathjs, an evaluator of its own: node expressions.mjs > expressions.tsv (npm i mathjs).
import { parse } from 'mathjs';
let seed = 20261128;
const random = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648;
const pick = list => list[Math.floor(random() * list.length)];
const number = () =>
  pick([
    () => `${Math.floor(random() * 20)}`,
    () => (random() * 10).toFixed(3),
    () => `${1 + Math.floor(random() * 9)}e-${1 + Math.floor(random() * 3)}`])();
function expression(depth) {
  if (depth === 0 || random() < 0.15) return number();
  return pick([
    () => `${expression(depth - 1)} ${pick(['+', '-', '*', '/'])} ${expression(depth - 1)}`,
    () => `(${expression(depth - 1)} ${pick(['+', '-', '*', '/'])} ${expression(depth - 1)})`,
    () => `-${expression(depth - 1)}`,
    () => `(${expression(depth - 1)}) ^ ${pick(['2', '3', '-1', '0.5'])}`,
    () => `${pick(['abs', 'floor', 'ceil', 'sqrt', 'exp', 'sin', 'cos', 'tan', 'log10'])}(${expression(depth - 1)})`,
    () => `${pick(['min', 'max'])}(${expression(depth - 1)}, ${expression(depth - 1)})`,
    () => `atan2(${expression(depth - 1)}, ${expression(depth - 1)})`,
  ])();
}
let written = 0;
while (written < 600) {
  const text = expression(1 + Math.floor(random() * 4));
  if (text.includes('--') || text.length > 300) continue;
  let result;
  try {
    const tree = parse(text);
    result = tree.evaluate();
    // What is not finite on the way has no value here, whatever comes of it in the end.
    if (!tree.filter(node => !node.isSymbolNode).every(node => Number.isFinite(node.evaluate()))) continue;
  } catch {
    continue;
  }
  if (typeof result !== 'number' || !Number.isFinite(result) || Math.abs(result) > 1e12 || /\/ 0(?![.\d])/.test(text)) continue;
  console.log(`${text}\t${result}`);
  written++;
}
