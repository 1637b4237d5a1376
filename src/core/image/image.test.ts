import fc from 'fast-check';
import { BEAUTY, findBeauty, findDepth, holdsLight, lightChannels, passesOf } from './passes';
import { addChannel, channelFloats, emptyPicture, pictureBytes, type Picture } from './picture';
import { resampleArea } from './resample';
import { channelStatistics, countNonFinite } from './statistics';

function pictureOf(...names: string[]): Picture {
  const picture = emptyPicture(2, 1);
  for (const name of names) addChannel(picture, name, 'half', new Uint16Array(2));
  return picture;
}

const kinds = (picture: Picture): Record<string, string> =>
  Object.fromEntries(passesOf(picture).map((pass) => [pass.name, pass.kind]));

describe('passes', () => {
  // Source: OpenEXR's naming convention `layer.channel`, the last dot being the separator (technical introduction).
  it('are the layers of channel names, the main channels being the beauty', () => {
    const picture = pictureOf(
      'A',
      'B',
      'G',
      'R',
      'diffuse.B',
      'diffuse.G',
      'diffuse.R',
      'depth.Z',
      'N.X',
      'N.Y',
      'N.Z',
    );
    expect(kinds(picture)).toEqual({ beauty: 'colour', diffuse: 'colour', depth: 'depth', N: 'normal' });
    expect(passesOf(picture)[0]!.name).toBe(BEAUTY);
    expect(passesOf(picture)[0]!.channels.map(({ label }) => label)).toEqual(['R', 'G', 'B', 'A']);
  });

  it('split at the last dot only', () => {
    expect(kinds(pictureOf('left.light.key.R', 'left.light.key.G', 'left.light.key.B'))).toEqual({
      'left.light.key': 'colour',
    });
  });

  it.each([['Z'], ['depth'], ['depth.V'], ['camera.Z'], ['depth.Z']])('%s is depth', (name) => {
    expect(findDepth(passesOf(pictureOf('R', 'G', 'B', name)))).toBeDefined();
  });

  it('know mattes and grey pictures, and keep what they do not know', () => {
    expect(kinds(pictureOf('Y', 'A', 'matte.boats', 'matte.water', 'heat'))).toEqual({
      beauty: 'grey',
      matte: 'matte',
      heat: 'other',
    });
  });

  it('take the layer that says it is the whole picture, or the first with light', () => {
    expect(
      findBeauty(passesOf(pictureOf('spec.R', 'spec.G', 'spec.B', 'rgba.R', 'rgba.G', 'rgba.B')))!.name,
    ).toBe('rgba');
    expect(findBeauty(passesOf(pictureOf('spec.R', 'spec.G', 'spec.B')))!.name).toBe('spec');
    expect(findBeauty(passesOf(pictureOf('Z')))).toBeUndefined();
  });

  it('give a grey pass three times as colour', () => {
    const [pass] = passesOf(pictureOf('Y'));
    const { rgb, alpha } = lightChannels(pass!);
    expect(holdsLight(pass!)).toBe(true);
    expect(rgb.map(({ name }) => name)).toEqual(['Y', 'Y', 'Y']);
    expect(alpha).toBeUndefined();
  });
});

describe('pictures', () => {
  it('refuse a channel of another size', () => {
    expect(() => addChannel(emptyPicture(2, 2), 'R', 'float', new Float32Array(3))).toThrow(
      /3 samples for 2x2/,
    );
  });

  it('give samples of every type as floats, and count their bytes', () => {
    const picture = emptyPicture(1, 1);
    addChannel(picture, 'h', 'half', Uint16Array.of(0x3c00));
    addChannel(picture, 'f', 'float', Float32Array.of(2.5));
    addChannel(picture, 'u', 'uint', Uint32Array.of(7));
    expect([...picture.channels.values()].map((channel) => channelFloats(channel)[0])).toEqual([1, 2.5, 7]);
    expect(pictureBytes(picture)).toBe(10);
  });
});

describe('statistics', () => {
  it('count what is not finite and leave it out', () => {
    expect(channelStatistics(Float32Array.of(1, NaN, Infinity, -3, -Infinity, 5))).toEqual({
      min: -3,
      max: 5,
      mean: 1,
      nan: 1,
      infinite: 2,
    });
    expect(channelStatistics(Float32Array.of(NaN))).toEqual({ min: 0, max: 0, mean: 0, nan: 1, infinite: 0 });
  });
});

describe('samples that are not finite', () => {
  // Source: IEEE 754-2008, binary16: exponent 31 with and without a payload.
  it('are counted in the type they are stored in', () => {
    const half = Uint16Array.of(0x3c00, 0x7c00, 0xfc00, 0x7e00, 0x7c01, 0x7bff);
    expect(countNonFinite({ name: 'h', type: 'half', samples: half })).toEqual({ nan: 2, infinite: 2 });
    const float = Float32Array.of(1, NaN, -Infinity);
    expect(countNonFinite({ name: 'f', type: 'float', samples: float })).toEqual({ nan: 1, infinite: 1 });
    expect(countNonFinite({ name: 'u', type: 'uint', samples: Uint32Array.of(0xffffffff) })).toEqual({
      nan: 0,
      infinite: 0,
    });
  });
});

describe('reducing by area', () => {
  it('takes the mean of blocks when the size divides', () => {
    const plane = Float32Array.from([1, 3, 5, 7, 1, 3, 5, 7]);
    expect([...resampleArea(plane, 4, 2, 2, 1)]).toEqual([2, 6]);
  });

  it('gives the plane itself at full size', () => {
    const plane = Float32Array.of(1, 2, 3, 4);
    expect(resampleArea(plane, 2, 2, 2, 2)).toBe(plane);
  });

  it('keeps the light at any size', () => {
    const sizes = fc.record({
      w: fc.integer({ min: 1, max: 50 }),
      h: fc.integer({ min: 1, max: 50 }),
      a: fc.float({ min: Math.fround(0.05), max: 1, noNaN: true }),
      b: fc.float({ min: Math.fround(0.05), max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(
        sizes,
        fc.infiniteStream(fc.float({ min: 0, max: 1000, noNaN: true })),
        ({ w, h, a, b }, values) => {
          const plane = Float32Array.from({ length: w * h }, () => values.next().value as number);
          const [toW, toH] = [Math.max(1, Math.round(w * a)), Math.max(1, Math.round(h * b))];
          const small = resampleArea(plane, w, h, toW, toH);
          const mean = (of: Float32Array): number => of.reduce((sum, value) => sum + value, 0) / of.length;
          expect(Math.abs(mean(small) - mean(plane))).toBeLessThan(1e-4 * (1 + mean(plane)));
        },
      ),
      { numRuns: 60 },
    );
  });
});
