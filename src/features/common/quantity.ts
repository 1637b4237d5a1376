import jsep from 'jsep';

const OPERATIONS: Record<string, (a: number, b: number) => number> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  '^': (a, b) => a ** b,
};

jsep.addBinaryOp('^', 11, true);

/** Units by kind: what one of them is in the first of its kind. Names in lower case go for every case. */
const KINDS: readonly Readonly<Record<string, number>>[] = [
  {
    m: 1,
    mm: 1e-3,
    cm: 1e-2,
    dm: 0.1,
    km: 1e3,
    um: 1e-6,
    µm: 1e-6,
    μm: 1e-6,
    nm: 1e-9,
    in: 0.0254,
    '"': 0.0254,
    ft: 0.3048,
    "'": 0.3048,
  },
  { K: 1, kelvin: 1, k: 1e3, kK: 1e3 },
  { deg: 1, degree: 1, degrees: 1, '°': 1, rad: 180 / Math.PI, turn: 360, turns: 360 },
  { st: 1, stop: 1, stops: 1, ev: 1 },
  { '%': 1, '%h': 1, '%d': 1 },
  { x: 1, times: 1 },
  { y: 1, year: 1, years: 1 },
  { sat: 1 },
  { lines: 1 },
];
/** SI prefixes that may stand by themselves. */
const PREFIXES: Readonly<Record<string, number>> = { k: 1e3, M: 1e6 };

const find = (kind: Readonly<Record<string, number>>, name: string): number | undefined =>
  Object.hasOwn(kind, name)
    ? kind[name]
    : Object.hasOwn(kind, name.toLowerCase())
      ? kind[name.toLowerCase()]
      : undefined;

/** What one of a written unit is in the unit of a field; undefined if it is none of its kind. */
function unitFactor(written: string, unit: string): number | undefined {
  const [name, own] = [written, unit].map((text) => text.replace(/\s+/g, '')) as [string, string];
  const kind = KINDS.find((units) => find(units, own) !== undefined);
  const value = kind && find(kind, name);
  if (kind && value !== undefined) return value / find(kind, own)!;
  return Object.hasOwn(PREFIXES, name) ? PREFIXES[name] : undefined;
}

const NUMBER_WITH_UNIT = /(\d+(?:\.\d*)?(?:e[+-]?\d+)?|\.\d+)\s*(%\s*[hd]?|°|"|'|[a-zµμ]+)?/gi;

/**
 * What was typed into a field of a unit, in that unit: a number, or arithmetic such as `1/3` or `2*(4+1)`. Numbers may have
 * a unit of the same kind (`3 m` in millimetres is 3000), an SI prefix (`5k`), a decimal comma; an f-number its `f/`.
 * Undefined if it is nothing of the kind.
 */
export function readQuantity(text: string, unit = ''): number | undefined {
  const plain = text
    .trim()
    .replace(/(\d),(\d)/g, '$1.$2')
    .replace(/^f\s*\/\s*/i, '');
  if (plain === '') return undefined;
  let isKnown = true;
  const bare = plain.replace(NUMBER_WITH_UNIT, (_, number: string, written: string | undefined) => {
    if (written === undefined) return number;
    const factor = unitFactor(written, unit);
    if (factor === undefined) isKnown = false;
    return `(${number}*${factor ?? 1})`;
  });
  if (!isKnown) return undefined;
  try {
    const value = evaluateNode(jsep(bare));
    return Number.isFinite(value) ? Number(value.toPrecision(14)) : undefined;
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
