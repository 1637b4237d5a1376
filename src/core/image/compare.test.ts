import { computePsnr, Image } from 'image-js';
import { decodeSrgb } from '../color/srgb';
import { assignSetting, defaultLook } from '../look/look';
import { differencesOf } from '../look/differences';
import { seeded } from '../optics/seeded';
import { compareRgb } from './compare';
import { blackRgb, mapRgb, type Rgb } from './rgb';

const size = { width: 48, height: 32 };
const COUNT = size.width * size.height;

/** A picture of bytes as the light that an sRGB display makes of it, and as the other library has it. */
function pictureOf(byteAt: (x: number, y: number, c: number) => number): { rgb: Rgb; image: Image } {
  const bytes = new Uint8Array(COUNT * 3);
  const rgb = mapRgb(blackRgb(COUNT), (plane, c) =>
    plane.map((_, i) => {
      const byte = Math.round(byteAt(i % size.width, Math.floor(i / size.width), c));
      bytes[3 * i + c] = byte;
      return decodeSrgb(byte / 255);
    }),
  );
  return { rgb, image: new Image(size.width, size.height, { data: bytes, colorModel: 'RGB' }) };
}

describe('the difference of two pictures', () => {
  const next = seeded(4);
  const plain = pictureOf((x, y, c) => 40 + 3 * x + y + 10 * c);
  const noisy = pictureOf((x, y, c) => 40 + 3 * x + y + 10 * c + 24 * (next() - 0.5));

  // Source: the same by image-js, a general-purpose library.
  it('has the noise that another library finds', () => {
    const { psnr } = compareRgb(plain.rgb, noisy.rgb, size);
    expect(Math.abs(psnr - computePsnr(plain.image, noisy.image))).toBeLessThan(0.01);
  });

  // Source: Wang et al. (2004), equation 6: of even pictures only the means count, (2 a b + C) / (a^2 + b^2 + C), C = (0.01 x 255)^2.
  it('has the likeness of its definition, and less of it with noise', () => {
    const even = (byte: number): Rgb => pictureOf(() => byte).rgb;
    const [a, b] = [100, 150];
    const wanted = (2 * a * b + 2.55 ** 2) / (a * a + b * b + 2.55 ** 2);
    expect(compareRgb(even(a), even(b), size).ssim).toBeCloseTo(wanted, 5);
    expect(compareRgb(plain.rgb, noisy.rgb, size).ssim).toBeLessThan(0.95);
  });

  it('is nothing between a picture and itself, and grows with what is changed', () => {
    expect(compareRgb(plain.rgb, plain.rgb, size)).toEqual({
      largest: 0,
      x: 0,
      y: 0,
      mean: 0,
      relative: 0,
      psnr: Infinity,
      ssim: 1,
    });
    const changed = mapRgb(plain.rgb, (plane) => plane.slice());
    changed[1][5 * size.width + 7]! += 30;
    changed[2][3]! = NaN;
    const { largest, x, y, mean } = compareRgb(plain.rgb, changed, size);
    expect([x, y]).toEqual([7, 5]);
    expect(largest).toBeCloseTo(30, 5);
    expect(mean).toBeCloseTo((30 + plain.rgb[2][3]!) / (3 * COUNT), 6);
  });
});

describe('the difference of two looks', () => {
  const lookOf = (...settings: string[]) => settings.reduce(assignSetting, defaultLook());

  it('is the settings that are not alike, those in lists and of passes as well', () => {
    const a = lookOf('veil.bloom.amount=0.02', 'veil.stack[0].amount=0.01', 'plate.passes.glow.gain=1');
    const b = lookOf(
      'veil.bloom.amount=0.03',
      'film.view=filmic',
      'plate.curve=-4:-4,4:5',
      'elements[1].opacity=0.5',
    );
    expect(differencesOf(a, a)).toEqual([]);
    const found = new Map(differencesOf(a, b).map(({ path, ...values }) => [path, values]));
    expect(found.get('veil.bloom.amount')).toEqual({ a: 0.02, b: 0.03 });
    expect(found.get('film.view')).toEqual({ a: 'srgb', b: 'filmic' });
    expect(found.get('plate.curve')!.b).toEqual([
      [-4, -4],
      [4, 5],
    ]);
    expect(found.get('elements[1].opacity')).toEqual({ a: 1, b: 0.5 });
    expect(found.get('veil.stack[0]')!.b).toBeUndefined();
    expect(found.get('elements[0].passes.glow')!.b).toBeUndefined();
    expect(found.size).toBe(6);
  });
});
