// Writes the butterflies of the convolution kernel: straight code in AssemblyScript for every radix, which nobody would
// want to write by hand. Numbers are complex and four lanes wide: a vector of real parts, after it one of imaginary parts.

const RADICES = [2, 3, 4, 5];

const add = (a, b) => `f32x4.add(${a}, ${b})`;
const sub = (a, b) => `f32x4.sub(${a}, ${b})`;
const mul = (a, b) => `f32x4.mul(${a}, ${b})`;
const splat = (value) => `f32x4.splat(${value})`;

/** Lines of one function's body, with names for what is computed in them. */
class Code {
  constructor() {
    this.lines = [];
    this.count = 0;
  }

  let(expression) {
    const name = `t${this.count++}`;
    this.lines.push(`const ${name} = ${expression};`);
    return name;
  }

  store(to, value, offset) {
    this.lines.push(`v128.store(${to}, ${value}, ${offset});`);
  }

  plus([ar, ai], [br, bi]) {
    return [this.let(add(ar, br)), this.let(add(ai, bi))];
  }

  minus([ar, ai], [br, bi]) {
    return [this.let(sub(ar, br)), this.let(sub(ai, bi))];
  }

  times([ar, ai], [br, bi]) {
    return [this.let(sub(mul(ar, br), mul(ai, bi))), this.let(add(mul(ar, bi), mul(ai, br)))];
  }

  scaled([r, i], factor) {
    return [this.let(mul(r, splat(factor))), this.let(mul(i, splat(factor)))];
  }
}

/** A number times -i. Its second part is to be subtracted: {@link plusTurned} and {@link minusTurned} see to that. */
const plusTurned = (code, [ar, ai], [br, bi]) => [code.let(add(ar, bi)), code.let(sub(ai, br))];
const minusTurned = (code, [ar, ai], [br, bi]) => [code.let(sub(ar, bi)), code.let(add(ai, br))];

/** The forward transform of `r` numbers. */
function butterfly(code, x) {
  switch (x.length) {
    case 2:
      return [code.plus(x[0], x[1]), code.minus(x[0], x[1])];
    case 3: {
      const sum = code.plus(x[1], x[2]);
      const turned = code.scaled(code.minus(x[1], x[2]), Math.sin(Math.PI / 3));
      const middle = code.minus(x[0], code.scaled(sum, 0.5));
      return [code.plus(x[0], sum), plusTurned(code, middle, turned), minusTurned(code, middle, turned)];
    }
    case 4: {
      const [even, odd] = [code.plus(x[0], x[2]), code.plus(x[1], x[3])];
      const [rest, turned] = [code.minus(x[0], x[2]), code.minus(x[1], x[3])];
      return [
        code.plus(even, odd),
        plusTurned(code, rest, turned),
        code.minus(even, odd),
        minusTurned(code, rest, turned),
      ];
    }
    case 5: {
      const [c1, c2] = [1, 2].map((k) => Math.cos((2 * Math.PI * k) / 5));
      const [s1, s2] = [1, 2].map((k) => Math.sin((2 * Math.PI * k) / 5));
      const [outer, inner] = [code.plus(x[1], x[4]), code.plus(x[2], x[3])];
      const [across, between] = [code.minus(x[1], x[4]), code.minus(x[2], x[3])];
      const p = code.plus(x[0], code.plus(code.scaled(outer, c1), code.scaled(inner, c2)));
      const q = code.plus(x[0], code.plus(code.scaled(outer, c2), code.scaled(inner, c1)));
      const u = code.plus(code.scaled(across, s1), code.scaled(between, s2));
      const v = code.minus(code.scaled(across, s2), code.scaled(between, s1));
      return [
        code.plus(x[0], code.plus(outer, inner)),
        plusTurned(code, p, u),
        plusTurned(code, q, v),
        minusTurned(code, q, v),
        minusTurned(code, p, u),
      ];
    }
    default:
      throw new Error(`there is no butterfly of radix ${x.length}`);
  }
}

const range = (count) => Array.from({ length: count }, (_, k) => k);
const indented = (lines, depth) => lines.map((line) => ' '.repeat(depth) + line).join('\n');
const load = (code, at, offset) => code.let(`v128.load(${at}, ${offset})`);
/** Exchanging real and imaginary parts before and after makes an inverse of a forward transform. */
const PARTS = { forward: [0, 16], inverse: [16, 0] };

/** Butterflies of one level, with its twiddle factors: behind them on the way forward, before them on the way back. */
function level(radix, way) {
  const code = new Code();
  const [re, im] = PARTS[way];
  const at = (k) => (k === 0 ? 'base' : `base + ${k === 1 ? '' : `${k} * `}apart`);
  const places = range(radix).map((k) => code.let(at(k)));
  let x = places.map((place) => [load(code, place, re), load(code, place, im)]);
  const twiddled = (values) =>
    values.map((value, k) => (k === 0 ? value : code.times(value, [`c${k}`, `s${k}`])));
  if (way === 'inverse') x = twiddled(x);
  let y = butterfly(code, x);
  if (way === 'forward') y = twiddled(y);
  places.forEach((place, k) => {
    code.store(place, y[k][0], re);
    code.store(place, y[k][1], im);
  });
  const factors = range(radix - 1).flatMap((k) => [
    `const c${k + 1} = v128.load32_splat(twiddles, ${8 * k});`,
    `const s${k + 1} = v128.load32_splat(twiddles, ${8 * k + 4});`,
  ]);
  return `
function ${way}${radix}(base: usize, count: i32, bytes: usize, twiddles: usize): void {
  const apart = <usize>count * bytes;
  const stop = base + apart;
  while (base < stop) {
${indented(factors, 4)}
    const end = base + bytes;
    while (base < end) {
${indented(code.lines, 6)}
      base += 32;
    }
    twiddles += ${8 * (radix - 1)};
  }
}
`;
}

/**
 * Butterflies of the last level, which has no twiddle factors; `convolve` goes there, multiplies, and comes back;
 * `multiply` takes what has gone there already, and comes back.
 */
function leaf(radix, way) {
  const code = new Code();
  const [re, im] = PARTS[way === 'inverse' ? 'inverse' : 'forward'];
  const extra = FURTHER[way] ?? [];
  const places = range(radix).map((k) =>
    code.let(k === 0 ? 'place' : `place + ${k === 1 ? '' : `${k} * `}bytes`),
  );
  const sources = way === 'multiply' ? places.map((place) => code.let(`${place} + source`)) : places;
  const read = sources.map((place) => [load(code, place, re), load(code, place, im)]);
  let y = way === 'multiply' ? read : butterfly(code, read);
  let parts = [re, im];
  if (extra.includes('spectrum')) {
    const product = y.map((value, k) => {
      const other = code.let(`${places[k]} + spectrum`);
      return code.times(value, [load(code, other, 0), load(code, other, 16)]);
    });
    parts = PARTS.inverse;
    y = butterfly(
      code,
      product.map(([r, i]) => [i, r]),
    );
  }
  places.forEach((place, k) => {
    code.store(place, y[k][0], parts[0]);
    code.store(place, y[k][1], parts[1]);
  });
  const name = `${way}Leaf${radix}`;
  return `
function ${name}(base: usize, stop: usize, bytes: usize${extra.map((one) => `, ${one}: usize`).join('')}): void {
  while (base < stop) {
    const end = base + bytes;
    for (let place = base; place < end; place += 32) {
${indented(code.lines, 6)}
    }
    base += ${radix} * bytes;
  }
}
`;
}

/** What leaves take besides: how far behind each number its factor lies, and what has gone there already. */
const FURTHER = { convolve: ['spectrum'], multiply: ['spectrum', 'source'] };

function choice(name, parameters, pass, call) {
  const cases = RADICES.map((radix) => `    case ${radix}:\n      return ${call(radix)}(${pass});`);
  return `
export function ${name}(radix: i32, ${parameters}): void {
  switch (radix) {
${cases.join('\n')}
    default:
      unreachable();
  }
}
`;
}

/** The text of the module. */
export function butterflies() {
  const levels = ['forward', 'inverse'].flatMap((way) => [
    ...RADICES.map((radix) => level(radix, way)),
    choice(
      `${way}Level`,
      'base: usize, count: i32, bytes: usize, twiddles: usize',
      'base, count, bytes, twiddles',
      (radix) => `${way}${radix}`,
    ),
  ]);
  const leaves = ['forward', 'inverse', 'convolve', 'multiply'].flatMap((way) => {
    const extra = FURTHER[way] ?? [];
    return [
      ...RADICES.map((radix) => leaf(radix, way)),
      choice(
        `${way}Leaf`,
        `base: usize, stop: usize, bytes: usize${extra.map((one) => `, ${one}: usize`).join('')}`,
        `base, stop, bytes${extra.map((one) => `, ${one}`).join('')}`,
        (radix) => `${way}Leaf${radix}`,
      ),
    ];
  });
  return `// Made by scripts/butterflies.mjs; do not edit.\n${[...levels, ...leaves].join('')}`;
}
