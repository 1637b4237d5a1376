import {
  acceptableBlur,
  airyRadius,
  blurDiameter,
  fieldOfView,
  sensorPart,
  fStopForLimit,
  hyperfocal,
  pupilDiameter,
  sharpLimits,
  type Camera,
} from './camera';
import { cameraOfFile } from './file-camera';
import { pupilArea, pupilOutline } from './pupil';

const camera = (focalLength: number, fStop: number, focusDistance = 5): Camera => ({
  focalLength,
  fStop,
  focusDistance,
  sensorWidth: 36,
  sensorHeight: 24,
});

// Source: Ray, Applied Photographic Optics (1988), with a circle of confusion of 0.030 mm.
describe('the handbook', () => {
  it.each([
    [35, 8, 5139.167],
    [50, 2.8, 29811.9],
    [50, 8, 10466.67],
    [85, 5.6, 43090.95],
  ])('hyperfocal distance of %d mm at f/%d', (f, n, wanted) => {
    expect(hyperfocal(camera(f, n), 0.03) * 1000).toBeCloseTo(wanted, 0);
  });

  it.each([
    [50, 8, 5, 3389.4, 9527.4],
    [50, 2.8, 2, 1877.0, 2140.2],
    [85, 2.8, 2, 1956.4, 2045.5],
  ])('sharp limits of %d mm at f/%d and %d m', (f, n, s, near, far) => {
    const limits = sharpLimits(camera(f, n, s), 0.03);
    expect(Math.abs(limits.near * 1000 - near)).toBeLessThan(1);
    expect(Math.abs(limits.far * 1000 - far)).toBeLessThan(1);
  });

  it('the f-number for a limit is the one that gives it', () => {
    const lens = camera(50, 5.6, 4);
    const { near, far } = sharpLimits(lens);
    expect(fStopForLimit(lens, near)).toBeCloseTo(5.6, 6);
    expect(fStopForLimit(lens, far)).toBeCloseTo(5.6, 6);
    expect(fStopForLimit(lens, 4)).toBeUndefined();
  });

  it('sharp to infinity from the hyperfocal distance on', () => {
    const lens = camera(35, 8, 0);
    const h = hyperfocal(lens);
    expect(sharpLimits({ ...lens, focusDistance: h }).far).toBe(Infinity);
    expect(sharpLimits({ ...lens, focusDistance: h }).near).toBeCloseTo(h / 2, 1);
  });

  it('the accepted circle of confusion of a full frame is 0.030 mm (common practice)', () => {
    expect(acceptableBlur(camera(50, 8))).toBeCloseTo(0.03, 4);
  });
});

describe('blur discs', () => {
  // Source: geometry of the thin lens: f^2 / (N (s - f)) for infinity.
  it('of a lens that breathes', () => {
    expect(blurDiameter(camera(50, 1.4, 1.5), Infinity, true)).toBeCloseTo(1.231527, 5);
  });

  it('are negative before the focus, 0 in it, and grow to a limit behind it', () => {
    const lens = camera(50, 2, 4);
    expect(blurDiameter(lens, 4, false)).toBe(0);
    expect(blurDiameter(lens, 2, false)).toBeCloseTo(-blurDiameter(lens, Infinity, false), 9);
    expect(blurDiameter(lens, 1e9, false)).toBeCloseTo(blurDiameter(lens, Infinity, false), 6);
    expect(blurDiameter(lens, Infinity, false)).toBeCloseTo((25 * 50) / 4000, 9);
  });
});

// Source: geometry; Airy (1835).
it('angles, pupil and diffraction', () => {
  expect(fieldOfView(camera(50, 2)).horizontal).toBeCloseTo(39.59775, 4);
  // The vertical angle of a picture of 16 to 9 on the same width, 20.25 mm: 2 atan(20.25 / 100).
  const wide = sensorPart(camera(50, 2), 16 / 9);
  expect(fieldOfView(camera(50, 2), wide).vertical).toBeCloseTo(22.8955, 3);
  expect(pupilDiameter(camera(50, 2))).toBe(25);
  expect(airyRadius(camera(50, 8))).toBeCloseTo(5.366548, 3);
});

describe('the pupil', () => {
  // Source: area of a regular polygon in a circle, n/2 sin(2 pi / n).
  it.each([3, 5, 6, 8])('of %d straight blades has the area of the polygon', (blades) => {
    const wanted = ((blades / 2) * Math.sin((2 * Math.PI) / blades)) / Math.PI;
    expect(pupilArea({ blades, curvature: 0, rotation: 17 })).toBeCloseTo(wanted, 4);
  });

  it('is a circle when the blades are round, or there are none', () => {
    for (const shape of [
      { blades: 6, curvature: 1, rotation: 0 },
      { blades: 0, curvature: 0, rotation: 0 },
    ])
      expect(pupilArea(shape)).toBeCloseTo(1, 2);
  });

  it('has a corner at the top, and turns clockwise', () => {
    const [first] = pupilOutline({ blades: 6, curvature: 0, rotation: 0 });
    expect(first![0]).toBeCloseTo(0, 9);
    expect(first![1]).toBeCloseTo(-1, 9);
    expect(pupilOutline({ blades: 6, curvature: 0, rotation: 90 })[0]![0]).toBeCloseTo(1, 9);
  });
});

describe('the camera of a file', () => {
  const floats = (...values: number[]): Uint8Array => new Uint8Array(Float32Array.from(values).buffer);
  const float = (value: number) => ({ type: 'float', bytes: floats(value) });

  // Source: Academy Software Foundation, "Standard Attributes" of OpenEXR.
  it('is read from standard attributes, the nominal focal length first', () => {
    const attributes = new Map([
      ['pinholeFocalLength', float(34.2)],
      ['nominalFocalLength', float(35)],
      ['aperture', float(2.8)],
      ['focus', float(4.5)],
      ['sensorOverallDimensions', { type: 'v2f', bytes: floats(36, 24) }],
    ]);
    expect(cameraOfFile(attributes)).toEqual(camera(35, 2.8, 4.5));
  });

  it('leaves out what makes no sense', () => {
    const attributes = new Map([
      ['aperture', float(NaN)],
      ['focus', float(-2)],
      ['nominalFocalLength', { type: 'string', bytes: floats(35) }],
    ]);
    expect(cameraOfFile(attributes)).toEqual({});
  });
});
