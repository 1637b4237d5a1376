import jsep from 'jsep';

const OPERATIONS: Record<string, (a: number, b: number) => number> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  '^': (a, b) => a ** b,
};

jsep.addBinaryOp('^', 11, true);

/**
 * The value of what was typed into a number field: a number, or arithmetic such as `1/3` or `2*(4+1)`. A decimal comma
 * and a trailing unit are taken, too. Undefined if it is nothing of the kind.
 */
export function evaluateTyped(text: string): number | undefined {
  const bare = text
    .trim()
    .replace(/\s*(%\s*h|%|st|k|stops?)$/i, '')
    .replace(/(\d),(\d)/g, '$1.$2');
  if (bare === '') return undefined;
  try {
    const value = evaluateNode(jsep(bare));
    return Number.isFinite(value) ? value : undefined;
  } catch {
    return undefined;
  }
}

function evaluateNode(node: jsep.Expression): number {
  switch (node.type) {
    case 'Literal':
      return typeof node.value === 'number' ? node.value : NaN;
    case 'UnaryExpression': {
      const value = evaluateNode(node.argument as jsep.Expression);
      return node.operator === '-' ? -value : node.operator === '+' ? value : NaN;
    }
    case 'BinaryExpression': {
      const operation = OPERATIONS[node.operator as string];
      return operation
        ? operation(evaluateNode(node.left as jsep.Expression), evaluateNode(node.right as jsep.Expression))
        : NaN;
    }
    default:
      return NaN;
  }
}
