import { shakeCamera, shakeOf, type CameraShake } from './camera-shake';
import { defaultLook, getSetting } from './look';
import { lookAt } from './tracks';
import { shakeMove } from '../stations/glass/warp';

const frame = { x: 0, y: 0, width: 320, height: 180 };
const shake: CameraShake = { size: 0.02, roll: 1.5, rate: 0.2, seed: 3 };
const still = { look: defaultLook(), tracks: {} };
const shaken = (size: { width: number; height: number } = frame, place = frame) =>
  shakeCamera(still, shake, { frame: place, size });

describe('a camera that shakes', () => {
  it('moves smoothly, the same every time, within its size, each way by itself', () => {
    const { look, tracks } = shaken();
    const at = (path: string): number[] =>
      Array.from({ length: 200 }, (_, k) => getSetting(lookAt(look, tracks, k / 2), path) as number);
    const [x, y, roll] = ['glass.shake.x', 'glass.shake.y', 'glass.shake.roll'].map(at) as [
      number[],
      number[],
      number[],
    ];
    for (const [values, most] of [
      [x, 0.02],
      [y, 0.02],
      [roll, 1.5],
    ] as const) {
      expect(Math.max(...values.map(Math.abs))).toBeLessThanOrEqual(most);
      expect(Math.max(...values) - Math.min(...values)).toBeGreaterThan(most / 2);
      // A quintic from -1 to 1 rises by 15/8 of its height in its middle: here a tenth of a turn a step.
      values.slice(1).forEach((value, k) => expect(Math.abs(value - values[k]!)).toBeLessThan(most * 0.38));
    }
    expect(x).not.toEqual(y);
    expect(shaken().tracks).toEqual(tracks);
    expect(shakeOf(tracks)).toEqual(shake);
  });

  it.each([
    ['without overscan', frame, frame],
    ['with a little of it', { width: 332, height: 188 }, { ...frame, x: 6, y: 4 }],
  ])('shows nothing from beyond the render, %s', (_, size, place) => {
    const { look } = shaken(size, place);
    const { enlarge } = look.glass.shake;
    expect(enlarge).toBeGreaterThan(0);
    for (const [x, y, roll] of [
      [0.02, 0.02, 1.5],
      [-0.02, 0.02, -1.5],
      [0.02, -0.02, 1.5],
      [0, 0, -1.5],
    ] as const) {
      const move = shakeMove({ ...look, glass: { ...look.glass, shake: { x, y, roll, enlarge } } }, 180);
      for (const [u, v] of [
        [-160, -90],
        [160, -90],
        [160, 90],
        [-160, 90],
      ] as const) {
        const across = move.xx * u + move.xy * v + move.x0 + place.x + 160;
        const down = move.yx * u + move.yy * v + move.y0 + place.y + 90;
        expect(across).toBeGreaterThanOrEqual(0);
        expect(across).toBeLessThanOrEqual(size.width);
        expect(down).toBeGreaterThanOrEqual(0);
        expect(down).toBeLessThanOrEqual(size.height);
      }
    }
  });

  it('needs no enlarging where there is overscan enough, and is held still again', () => {
    const wide = shaken({ width: 360, height: 220 }, { ...frame, x: 20, y: 20 });
    expect(wide.look.glass.shake.enlarge).toBe(0);
    expect(shakeCamera(shaken(), undefined, { frame, size: frame })).toEqual(still);
  });
});
