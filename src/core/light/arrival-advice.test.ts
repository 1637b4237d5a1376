import { gaussianBlur } from '../image/gaussian-blur';
import { addChannel, emptyPicture } from '../image/picture';
import { arrivalAdvice } from './arrival-advice';
import { makePlate, type Plate } from './plate';

const [W, H] = [160, 240];
/** Two surfaces, the near one brighter, whose edge leans so that it crosses pixels at every place. */
const isNear = (x: number, y: number): boolean => x < 50 + 0.2 * y;

function plateOf(light: Float32Array): Plate {
  const picture = emptyPicture(W, H);
  for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', light);
  const z = Float32Array.from({ length: W * H }, (_, i) => (isNear(i % W, Math.floor(i / W)) ? 2 : 9));
  // A second edge, so that there are enough of them.
  for (let i = 0; i < z.length; i++) if (i % W > 120) z[i] = 2;
  addChannel(picture, 'Z', 'float', z);
  return makePlate('p', 'test.exr', picture);
}

const light = (near: number, far: number): Float32Array =>
  Float32Array.from({ length: W * H }, (_, i) => {
    const x = i % W;
    return isNear(x, Math.floor(i / W)) || x > 120 ? near : far;
  });

describe('what is said of a render as it arrives', () => {
  it('is nothing of one that is sharp and has light above white', () => {
    const lit = light(0.8, 0.1);
    lit[5] = 40;
    lit.fill(1, 300, 340);
    expect(arrivalAdvice(plateOf(lit))).toEqual([]);
  });

  it('is that its light was cut off, where it ends at white', () => {
    const cut = light(0.8, 0.1);
    cut.fill(1, 300, 340);
    expect(arrivalAdvice(plateOf(cut))).toEqual([
      expect.stringMatching(/cut off at 1 \(0\.10 % .* lift the highlights/),
    ]);
    cut.fill(0.9, 300, 340);
    expect(arrivalAdvice(plateOf(cut))).toEqual([]);
  });

  // Common practice: a renderer's depth is not blurred where its picture is.
  it.each([
    [0.5, false],
    [4, true],
  ])('is that it was blurred already, if edges are %d px soft', (deviation, said) => {
    const soft = gaussianBlur(light(0.8, 0.1), W, H, deviation, deviation);
    const advice = arrivalAdvice(plateOf(soft));
    expect(advice.some((text) => text.includes('soft where the depth is hard'))).toBe(said);
  });
});
