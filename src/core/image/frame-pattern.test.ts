import { framesAmong, nameOfFrame, readFrames, readPattern } from './frame-pattern';

it('gives the number of a frame its place in a name, filled up with zeros', () => {
  const name = (pattern: string, frame: number): string => nameOfFrame(readPattern(pattern)!, frame);
  expect(name('quay.####.exr', 7)).toBe('quay.0007.exr');
  expect(name('quay.%04d.exr', 7)).toBe('quay.0007.exr');
  expect(name('quay_%d.exr', 12)).toBe('quay_12.exr');
  expect(name('a#b/quay.##.exr', 1234)).toBe('a#b/quay.1234.exr');
  expect(name('quay.###.exr', -3)).toBe('quay.-003.exr');
  expect(readPattern('quay.exr')).toBeUndefined();
  expect(() => readPattern(`quay.${'#'.repeat(13)}.exr`)).toThrow(/12 digits/);
});

it('finds the frames that are there, however far they are filled up', () => {
  const names = ['quay.1.exr', 'quay.0012.exr', 'quay.0003.exr', 'quay.exr', 'quay.x.exr', 'pier.0004.exr'];
  expect([...framesAmong(readPattern('quay.####.exr')!, names)]).toEqual([
    [1, 'quay.1.exr'],
    [3, 'quay.0003.exr'],
    [12, 'quay.0012.exr'],
  ]);
});

it('reads lists of frames', () => {
  expect(readFrames('1-4,9, 3')).toEqual([1, 2, 3, 4, 9]);
  expect(readFrames('10-20x5,-2--1')).toEqual([-2, -1, 10, 15, 20]);
  for (const wrong of ['', 'a', '5-1', '1-5x0', '1..5', '1-9999999'])
    expect(() => readFrames(wrong)).toThrow();
});
