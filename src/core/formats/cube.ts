import { FileError } from '../errors';
import type { CubeLut } from '../color/lut';

/** Most points along a side: 256 takes 200 MB as a table. */
const [MOST_3D, MOST_1D] = [129, 65536];

export const isCube = (name: string): boolean => /\.cube$/i.test(name);

/**
 * Reads a look-up table in the `.cube` form (Cube LUT Specification 1.0, 2013): a table of three dimensions, of one, or one of
 * one dimension before one of three. Throws {@link FileError} that names the line that does not fit.
 */
export function readCube(text: string, where: string): CubeLut {
  const head: Head = { size1: 0, size3: 0, domainMin: [0, 0, 0], domainMax: [1, 1, 1] };
  const values: number[] = [];
  let expected = 0;
  text.split(/\r\n|\r|\n/).forEach((raw, index) => {
    const line = raw.replace(/#.*$/, '').trim();
    const place = index + 1;
    if (line === '') return;
    if (/^[+-.\d]/.test(line)) {
      expected ||= countRows(head, where);
      if (values.length / 3 >= expected)
        throw problem(`has more than ${expected} rows of numbers`, where, place);
      values.push(...threeNumbers(line, where, place));
    } else if (values.length > 0)
      throw problem(`says ${JSON.stringify(line.slice(0, 40))} among the numbers`, where, place);
    else readKeyword(line, head, where, place);
  });
  expected ||= countRows(head, where);
  if (values.length / 3 < expected)
    throw new FileError(`the table ends after ${values.length / 3} of ${expected} rows`, {
      where,
      todo: 'The file is cut off: export it again',
    });
  return lutOf(head, values, where);
}

interface Head {
  size1: number;
  size3: number;
  domainMin: number[];
  domainMax: number[];
  /** Of the part of three dimensions, if it is said by itself. */
  range3?: number[];
}

const problem = (what: string, where: string, line: number): FileError =>
  new FileError(`line ${line} ${what}`, { where, todo: 'Correct the line, or export the table again' });

function threeNumbers(line: string, where: string, place: number): number[] {
  const numbers = line.split(/\s+/).map(Number);
  if (numbers.length !== 3 || !numbers.every(Number.isFinite))
    throw problem(`is not three numbers: ${JSON.stringify(line.slice(0, 40))}`, where, place);
  return numbers;
}

function countRows({ size1, size3 }: Head, where: string): number {
  if (size1 + size3 > 0) return size1 + size3 ** 3;
  throw new FileError('it tells no size before its numbers', {
    where,
    todo: 'A .cube file has a line LUT_3D_SIZE or LUT_1D_SIZE',
  });
}

function readKeyword(line: string, head: Head, where: string, place: number): void {
  const [word = '', ...rest] = line.split(/\s+/);
  const numbers = rest.map(Number);
  const wanted = (count: number): number[] => {
    if (numbers.length === count && numbers.every(Number.isFinite)) return numbers;
    throw problem(`wants ${count} number${count > 1 ? 's' : ''} behind ${word}`, where, place);
  };
  const size = (most: number): number => {
    const [count] = wanted(1) as [number];
    if (Number.isInteger(count) && count >= 2 && count <= most) return count;
    throw problem(`tells a size of ${rest[0]}; 2 to ${most} is read`, where, place);
  };
  switch (word) {
    case 'TITLE':
      return;
    case 'LUT_3D_SIZE':
      head.size3 = size(MOST_3D);
      return;
    case 'LUT_1D_SIZE':
      head.size1 = size(MOST_1D);
      return;
    case 'DOMAIN_MIN':
      head.domainMin = wanted(3);
      return;
    case 'DOMAIN_MAX':
      head.domainMax = wanted(3);
      return;
    case 'LUT_1D_INPUT_RANGE': {
      const [low, high] = wanted(2) as [number, number];
      [head.domainMin, head.domainMax] = [
        [low, low, low],
        [high, high, high],
      ];
      return;
    }
    case 'LUT_3D_INPUT_RANGE':
      head.range3 = wanted(2);
      return;
    default:
      throw problem(`begins with ${JSON.stringify(word.slice(0, 40))}, which is not known`, where, place);
  }
}

function lutOf(
  { size1, size3, domainMin, domainMax, range3 }: Head,
  values: number[],
  where: string,
): CubeLut {
  const both = size1 > 0 && size3 > 0;
  // The range of a table of three dimensions alone may be said in either form.
  if (range3 && !both)
    [domainMin, domainMax] = [range3[0]!, range3[1]!].map((v) => [v, v, v]) as [number[], number[]];
  if (domainMax.some((most, c) => most <= domainMin[c]!))
    throw new FileError('its domain ends before it begins', {
      where,
      todo: 'Correct DOMAIN_MIN and DOMAIN_MAX',
    });
  const triple = (list: number[]): [number, number, number] => [list[0]!, list[1]!, list[2]!];
  return {
    domainMin: triple(domainMin),
    domainMax: triple(domainMax),
    shaper: size1 > 0 ? { size: size1, values: Float32Array.from(values.slice(0, 3 * size1)) } : undefined,
    cube: size3 > 0 ? { size: size3, values: Float32Array.from(values.slice(3 * size1)) } : undefined,
    cubeRange: both ? [range3?.[0] ?? 0, range3?.[1] ?? 1] : undefined,
  };
}
