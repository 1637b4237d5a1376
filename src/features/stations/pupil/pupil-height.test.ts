import { pupilHeight } from './pupil-height';

describe('the ray bundle at the pupil', () => {
  it('narrows with the f-stop, and is widest at f/1.4', () => {
    const heights = [1.4, 2.8, 5.6, 22].map(pupilHeight);
    heights.slice(1).forEach((height, index) => expect(height).toBeLessThan(heights[index]!));
    expect(pupilHeight(0.01)).toBe(pupilHeight(1.4));
  });
});
