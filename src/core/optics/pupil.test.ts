import { pupilArea, pupilOutline, shapeAt } from './pupil';

describe('the shape of a pupil', () => {
  // Source: area of a regular polygon in its circle, n sin(2 pi / n) / (2 pi) of it (Euclid's geometry).
  it.each([3, 5, 6, 8, 16])('of %d straight blades has the area of the polygon', (blades) => {
    const area = (blades * Math.sin((2 * Math.PI) / blades)) / (2 * Math.PI);
    expect(pupilArea({ blades, curvature: 0, rotation: 33 })).toBeCloseTo(area, 3);
    expect(pupilArea({ blades, curvature: 1, rotation: 0 })).toBeCloseTo(1, 2);
  });

  it('has a corner at the top, and turns clockwise', () => {
    const top = pupilOutline({ blades: 5, curvature: 0, rotation: 0 }).reduce((a, b) =>
      b[1] < a[1] ? b : a,
    );
    expect(top[0]).toBeCloseTo(0, 9);
    expect(top[1]).toBeCloseTo(-1, 9);
    const right = pupilOutline({ blades: 4, curvature: 0, rotation: 90 });
    expect(Math.max(...right.map(([x]) => x))).toBeCloseTo(1, 9);
  });

  // Common practice: wide open the blades lie behind the round rim.
  it('grows round towards the f-stop at which the blades have drawn back', () => {
    const blades = { blades: 7, curvature: 0.2, rotation: 10, openAt: 2 };
    expect(shapeAt(blades, 1.4).curvature).toBe(1);
    expect(shapeAt(blades, 2).curvature).toBe(1);
    // Two stops on.
    expect(shapeAt(blades, 4).curvature).toBeCloseTo(0.2, 12);
    expect(shapeAt(blades, 11).curvature).toBeCloseTo(0.2, 12);
    const between = [2.2, 2.8, 3.5].map((fStop) => shapeAt(blades, fStop).curvature);
    expect([...between].sort((a, b) => b - a)).toEqual(between);
    expect(shapeAt({ ...blades, openAt: 0 }, 1).curvature).toBe(0.2);
  });
});
