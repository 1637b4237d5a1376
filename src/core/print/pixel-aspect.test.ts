import { viewOf } from '../color/view';
import { evaluate } from '../bench/evaluate';
import { readExr } from '../formats/exr/read';
import { floatsToHalves } from '../image/half';
import { addChannel, channelFloats, emptyPicture, type Picture } from '../image/picture';
import { pixelAspectAttribute, pixelAspectOf } from '../image/pixel-aspect';
import { serialRunner } from '../jobs';
import { kernelsOn } from '../kernels';
import { ContentCache } from '../light/cache';
import { makePlate } from '../light/plate';
import { assignSetting, defaultLook } from '../look/look';
import { print } from './print';

const kernels = kernelsOn(serialRunner);

function fileOf(
  width: number,
  height: number,
  aspect: number,
  value: (i: number, c: number) => number,
): Picture {
  const picture = emptyPicture(width, height);
  ['R', 'G', 'B'].forEach((name, c) =>
    addChannel(
      picture,
      name,
      'half',
      floatsToHalves(Float32Array.from({ length: width * height }, (_, i) => value(i, c))),
    ),
  );
  addChannel(picture, 'Z', 'float', new Float32Array(width * height).fill(4));
  picture.attributes.set(...pixelAspectAttribute(aspect));
  return picture;
}

/** The print of a file as OpenEXR, read again. */
async function printed(file: Picture, settings: string[] = []): Promise<Picture> {
  const plate = makePlate('p', 'squeezed.exr', file);
  const look = settings.reduce(assignSetting, defaultLook());
  const { light } = await evaluate(look, { plate, cache: new ContentCache(1e8), kernels }, { scale: 1 });
  const format = { kind: 'exr', samples: 'float', separations: false } as const;
  return readExr((await print({ plate, view: viewOf('srgb'), light, format })).bytes);
}

describe('pixels that are not square', () => {
  // Source: OpenEXR standard attributes: pixelAspectRatio is the width of a pixel over its height.
  it.each([
    [2, 48, 20],
    [0.5, 24, 40],
    [1.8, 43, 20],
    [1, 24, 20],
  ])('of %f become square, %i x %i', (aspect, width, height) => {
    const plate = makePlate(
      'p',
      'squeezed.exr',
      fileOf(24, 20, aspect, () => 1),
    );
    expect([plate.picture.width, plate.picture.height]).toEqual([width, height]);
    expect([plate.frame.width, plate.frame.height]).toEqual([width, height]);
    expect(plate.picture.warnings.some((warning) => warning.includes('unsqueezed'))).toBe(aspect !== 1);
    expect(pixelAspectOf(plate.picture.attributes)).toBe(1);
  });

  it.each([2, 0.5, 3])('of %f come out of a print as they came in', async (aspect) => {
    const file = fileOf(24, 20, aspect, (i, c) => ((i * 37 + c * 11) % 997) / 100);
    file.dataWindow = { xMin: -3, yMin: 5, xMax: 20, yMax: 24 };
    file.displayWindow = { xMin: -1, yMin: 6, xMax: 18, yMax: 23 };
    const back = await printed(file);
    for (const name of ['R', 'G', 'B'])
      expect(back.channels.get(name)!.samples).toEqual(channelFloats(file.channels.get(name)!));
    expect([back.dataWindow, back.displayWindow]).toEqual([file.dataWindow, file.displayWindow]);
    expect(pixelAspectOf(back.attributes)).toBe(aspect);
  });

  it('that cannot be divided evenly keep their light', async () => {
    const file = fileOf(30, 20, 1.8, (i) => (i === 315 ? 50 : 0.25));
    const [red] = [(await printed(file)).channels.get('R')!];
    const sum = (samples: Float32Array): number => samples.reduce((a, b) => a + b, 0);
    expect(sum(channelFloats(red)) / sum(channelFloats(file.channels.get('R')!))).toBeCloseTo(1, 4);
  });

  it('take distances from one pixel, never from two', () => {
    const file = fileOf(30, 20, 1.8, () => 1);
    addChannel(
      file,
      'Z',
      'float',
      Float32Array.from({ length: 600 }, (_, i) => (i % 30 < 14 ? 1 : 9)),
    );
    const { samples } = makePlate('p', 'squeezed.exr', file).depth!.channels[0]!.channel;
    expect([...new Set(samples)].sort()).toEqual([1, 9]);
  });

  // What is round on the unsqueezed picture is half as wide as high in pixels that are twice as wide.
  it.each([
    ['bloom', ['veil.bloom.amount=0.5', 'veil.bloom.falloff=3']],
    [
      'spikes',
      ['veil.bloom.amount=0', 'veil.spikes.on=true', 'veil.spikes.amount=0.5', 'veil.spikes.size=30'],
    ],
    ['diffusion', ['veil.bloom.amount=0', 'veil.diffusion.on=true', 'veil.diffusion.amount=0.3']],
    ['halo', ['veil.bloom.amount=0', 'veil.halo.on=true', 'veil.halo.amount=0.3', 'veil.halo.radius=0.1']],
    [
      'discs',
      ['veil.on=false', 'focus.on=true', 'camera.focusDistance=1', 'camera.fStop=2', 'focus.amount=4'],
    ],
  ])('give round %s on the unsqueezed picture', async (_, settings) => {
    const [width, height] = [120, 160];
    const middle = 80 * width + 60;
    const file = fileOf(width, height, 2, (i) => (i === middle ? 100 : 0));
    const look = [
      'camera.sensorWidth=36',
      'pupil.blades=0',
      'pupil.curvature=1',
      'veil.feed.threshold=1',
      ...settings,
    ];
    const red = channelFloats((await printed(file, look)).channels.get('R')!);
    // Light within and without, along both axes from the source, at the same distance as it is seen.
    const at = (x: number, y: number): number => red[(80 + y) * width + 60 + x]!;
    const profile = (read: (d: number) => number): number[] =>
      [3, 6, 9, 12].map((d) => (read(d - 1) + 2 * read(d) + read(d + 1)) / 4);
    const across = profile((d) => (at(d, 0) + at(-d, 0)) / 2);
    const down = profile((d) => (at(0, 2 * d) + at(0, 2 * d + 1) + at(0, 2 * d - 1) + at(0, -2 * d)) / 4);
    const strongest = Math.max(...down);
    expect(strongest).toBeGreaterThan(0);
    across.forEach((value, k) => expect(Math.abs(value - down[k]!)).toBeLessThan(0.12 * strongest));
  });
});
