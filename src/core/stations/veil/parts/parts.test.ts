import { wasmDiffraction } from '../../../kernels/diffraction/wasm';
import { serialRunner } from '../../../jobs';
import { LUMINANCE } from '../../../color/primaries';
import { assignSetting, defaultLook, parseLook, type Look } from '../../../look/look';
import { eyeGlare } from '../../../optics/glare';
import { kernelProfile } from '../kernel-profile';
import { pointSpread, type PointSpread } from '../point-spread';
import { ContentCache } from '../../../light/cache';
import type { Light } from '../../../light/light';
import { streakHalf, streakRow } from '../../../optics/streak';
import { gaussianQuadrant } from '../../../optics/gaussian';
import { mistQuadrant } from '../../../optics/mist';
import { dirt } from './dirt';
import { dirtMap } from './dirt-map';
import { arms } from '../streak-set';
import type { PartContext } from './part';
import { partColour } from './part-colour';
import { streaks } from './streaks';

const diffraction = wasmDiffraction(serialRunner);
const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());
const SIDE = 257;
const MIDDLE = SIDE >> 1;

const spread = (part: string, ...settings: string[]): Promise<PointSpread> =>
  pointSpread(
    lookOf(...settings),
    { width: SIDE, height: SIDE },
    { draft: true, diffraction },
    `veil.${part}`,
  );
const sum = (plane: Float32Array): number => plane.reduce((total, value) => total + value, 0);
const at = (plane: Float32Array, dx: number, dy: number): number =>
  plane[(MIDDLE + dy) * SIDE + MIDDLE + dx]!;

describe('every part of the veil', () => {
  // Small enough that nearly all of it falls on the picture.
  it.each([
    ['halo', 'veil.halo.radius=0.2'],
    ['streaks[0]', 'veil.streak.length=0.03'],
    ['streaks[0]', 'veil.streak.length=0.03', 'veil.streak.angle=37'],
    ['diffusion', 'veil.diffusion.shape=gaussian', 'veil.diffusion.radius=0.04'],
    ['diffusion', 'veil.diffusion.radius=0.001'],
    ['stack[0]', 'veil.stack[0].shape=gaussian', 'veil.stack[0].radius=0.05'],
  ])('%s spreads all of the light that it is given, none of it negative', async (part, ...settings) => {
    const { rgb, outside } = await spread(part, ...settings);
    for (const plane of rgb) {
      expect(plane.every((value) => value >= 0)).toBe(true);
      expect(sum(plane)).toBeGreaterThan(0.985);
      expect(sum(plane)).toBeLessThan(1.002);
    }
    expect(outside).toBeLessThan(0.015);
  });

  it.each([
    ['bloom', 'veil.bloom.law=eye'],
    ['bloom', 'veil.bloom.falloff=2.5'],
    ['stack[1]', 'veil.stack[0].radius=0.02', 'veil.stack[1].radius=0.04'],
    ['dirt', 'veil.dirt.reach=0.3'],
    ['diffusion', 'veil.diffusion.radius=0.05'],
  ])('%s reaches beyond the picture', async (part, ...settings) => {
    const { rgb, outside } = await spread(part, ...settings);
    expect(sum(rgb[0]) + outside).toBeCloseTo(1, 2);
    expect(outside).toBeGreaterThan(0);
  });

  it.each(['bloom', 'halo', 'streaks[0]', 'diffusion', 'dirt', 'spikes', 'filter'])(
    '%s is the same turned half way round',
    async (part) => {
      const { rgb } = await spread(part, 'veil.streak.angle=20', 'pupil.blades=5');
      for (const plane of rgb)
        for (let k = 0; k < MIDDLE * SIDE; k += 97)
          expect(plane[k]).toBeCloseTo(plane[SIDE * SIDE - 1 - k]!, 9);
    },
  );

  // Its definition: lengths are shares of the frame, so that a draft shows what the final will.
  it.each([
    ['bloom'],
    ['bloom', 'veil.bloom.law=eye'],
    ['stack[0]', 'veil.stack[0].shape=gaussian', 'veil.stack[0].radius=0.05'],
    ['halo', 'veil.halo.radius=0.2'],
    ['streaks[0]', 'veil.streak.angle=30'],
    ['diffusion', 'veil.diffusion.radius=0.04'],
    ['dirt', 'veil.dirt.reach=0.3'],
    ['spikes', 'pupil.blades=6', 'veil.spikes.size=20'],
    ['filter', 'veil.filter.blades=6', 'veil.filter.size=20'],
  ])('%s is the same at half the size', async (part, ...settings) => {
    const within = async (side: number): Promise<number[]> => {
      const size = { width: side, height: side };
      const { rgb } = await pointSpread(
        lookOf(...settings),
        size,
        { draft: true, diffraction },
        `veil.${part}`,
      );
      const middle = side >> 1;
      return [0.05, 0.1, 0.2, 0.4].map((radius) =>
        rgb[1].reduce(
          (total, value, i) =>
            total +
            (Math.hypot((i % side) - middle, Math.floor(i / side) - middle) < radius * side ? value : 0),
          0,
        ),
      );
    };
    const [full, half] = [await within(480), await within(240)];
    full.forEach((share, k) => expect(Math.abs(share - half[k]!)).toBeLessThan(0.03));
  });

  // Its definition: what is taken arrives; of these little more than a thousandth of a percent reaches beyond the frame.
  it.each([
    ['bloom', 'veil.bloom.falloff=4', 'veil.bloom.radius=0.004'],
    ['stack[0]', 'veil.stack[0].shape=gaussian', 'veil.stack[0].radius=0.01'],
    ['halo', 'veil.halo.radius=0.1', 'veil.halo.width=0.03'],
    ['streaks[0]', 'veil.streak.length=0.02', 'veil.streak.angle=33'],
    ['diffusion', 'veil.diffusion.shape=gaussian', 'veil.diffusion.radius=0.01'],
    ['spikes', 'pupil.blades=6', 'veil.spikes.size=0.5'],
  ])('%s makes and loses no light at any aspect or scale', async (part, ...settings) => {
    const aspects = [
      [240, 136],
      [136, 240],
      [160, 160],
      [320, 100],
      [100, 320],
      [256, 192],
    ] as const;
    for (const [width, height] of aspects)
      for (const scale of [1, 0.5, 0.25]) {
        const size = { width: scale * width, height: scale * height };
        const { rgb } = await pointSpread(
          lookOf(...settings),
          size,
          { draft: true, diffraction },
          `veil.${part}`,
        );
        for (const plane of rgb) {
          expect(sum(plane)).toBeLessThan(1.0001);
          expect(sum(plane)).toBeGreaterThan(0.9993);
        }
      }
  });

  it('refuses a part that is not there', async () => {
    await expect(spread('stack[0]')).rejects.toThrow('the veil has no part veil.stack[0]');
  });
});

describe('the glare of the eye', () => {
  // Source: Vos & van den Berg 1999, CIE 135/1, total glare function, age 35, pigment 0.5 (values computed from it).
  it('has the published values', () => {
    expect(eyeGlare(1, 35)).toBeCloseTo(19.55606, 2);
    expect(eyeGlare(10, 35)).toBeCloseTo(0.06485458, 4);
  });

  // Source: the same; the function is that of a whole image and integrates to 1.03 over the hemisphere.
  it('holds all of the light', () => {
    let total = 0;
    for (let step = -12; step < Math.log(90); step += 0.002) {
      const angle = Math.exp(step + 0.001);
      const radians = (angle * Math.PI) / 180;
      total += eyeGlare(angle, 35) * 2 * Math.PI * Math.sin(radians) * radians * 0.002;
    }
    expect(total).toBeCloseTo(1.033, 2);
  });

  // Source: CIE 146:2002, general disability glare equation 10/a^3 + (5/a^2 + 0.1 p/a)(1 + (age/62.5)^4) + 0.0025 p.
  it.each([0.3, 1, 3, 10, 30])('agrees with the general equation at %d degrees', (angle) => {
    const general =
      10 / angle ** 3 + (5 / angle ** 2 + (0.1 * 0.5) / angle) * (1 + (35 / 62.5) ** 4) + 0.0025 * 0.5;
    expect(eyeGlare(angle, 35) / general).toBeGreaterThan(0.75);
    expect(eyeGlare(angle, 35) / general).toBeLessThan(1.4);
  });

  it('goes by the angle of view: a longer lens spreads it wider over the picture', async () => {
    const wide = await spread('bloom', 'veil.bloom.law=eye', 'camera.focalLength=24');
    const long = await spread('bloom', 'veil.bloom.law=eye', 'camera.focalLength=100');
    expect(at(long.rgb[1], 20, 0)).toBeGreaterThan(at(wide.rgb[1], 20, 0));
  });
});

describe('the halo ring', () => {
  const ring = (): Promise<PointSpread> => spread('halo', 'veil.halo.radius=0.25', 'veil.halo.width=0.05');
  /** The distance at which a channel is brightest, in pixels. */
  const brightest = (plane: Float32Array): number => {
    let best = 0;
    for (let r = 1; r < MIDDLE; r++) if (at(plane, r, 0) > at(plane, best, 0)) best = r;
    return best;
  };

  // Source: diffraction by a grating goes by the wavelength (Fraunhofer); Rec.709's primaries lie near 610, 550, 465 nm.
  it('has red outside and blue inside, by their wavelengths', async () => {
    const [red, green, blue] = (await ring()).rgb.map(brightest) as [number, number, number];
    expect(green).toBeGreaterThan(0.94 * 0.25 * SIDE);
    expect(green).toBeLessThan(1.04 * 0.25 * SIDE);
    expect(red / green).toBeGreaterThan(1.05);
    expect(blue / green).toBeLessThan(0.92);
  });

  it('is white in sum', async () => {
    const [r, g, b] = (await ring()).rgb.map(sum);
    expect(r! / g!).toBeCloseTo(1, 2);
    expect(b! / g!).toBeCloseTo(1, 2);
  });
});

describe('the spikes of a filter', () => {
  /** How much brighter a direction is than the mean of all, 60 pixels from the light. */
  const inDirection = ([, green]: PointSpread['rgb'], degrees: number): number => {
    const ring = Array.from({ length: 360 }, (_, k) => {
      const turn = (k * Math.PI) / 180;
      return at(green!, Math.round(60 * Math.cos(turn)), Math.round(60 * Math.sin(turn)));
    });
    return ring[(degrees + 360) % 360]! / (ring.reduce((a, b) => a + b) / ring.length);
  };
  const sharp = ['veil.filter.size=8', 'veil.filter.softness=0', 'pupil.blades=7', 'pupil.dust.amount=0.1'];

  // Source: each straight edge of an opening bends light across itself to both sides (Fraunhofer; Goodman 1968).
  it('lie across the sides of its own opening, whatever the pupil is', async () => {
    const square = await spread('filter', ...sharp, 'veil.filter.blades=4');
    for (const degrees of [45, 135, 225, 315]) expect(inDirection(square.rgb, degrees)).toBeGreaterThan(8);
    for (const degrees of [0, 20, 90, 70]) expect(inDirection(square.rgb, degrees)).toBeLessThan(0.5);
    const turned = await spread('filter', ...sharp, 'veil.filter.blades=4', 'veil.filter.rotation=45');
    for (const degrees of [0, 90, 180, 270]) expect(inDirection(turned.rgb, degrees)).toBeGreaterThan(8);
    const round = await spread('filter', ...sharp, 'veil.filter.blades=4', 'pupil.blades=0');
    expect(round.rgb[1]).toEqual(square.rgb[1]);
  });
});

describe('the streak', () => {
  it('runs along its angle, clockwise, and fades to 1/e over its length', async () => {
    const { rgb } = await spread(
      'streaks[0]',
      'veil.streak.length=0.1',
      'veil.streak.thickness=0.01',
      'veil.streak.angle=90',
    );
    expect(at(rgb[0], 40, 0)).toBe(0);
    const length = 0.1 * SIDE;
    expect(at(rgb[0], 0, 60) / at(rgb[0], 0, 30)).toBeCloseTo(Math.exp(-30 / length), 3);
    const slant = await spread('streaks[0]', 'veil.streak.angle=45');
    expect(at(slant.rgb[0], 30, 30)).toBeGreaterThan(100 * at(slant.rgb[0], 30, -30));
  });

  it('is not beaded at a slant, however thin', async () => {
    const { rgb } = await spread(
      'streaks[0]',
      'veil.streak.thickness=0.0005',
      'veil.streak.angle=3',
      'veil.streak.length=3',
    );
    // What each column holds of the line.
    const columns = Array.from({ length: 100 }, (_, k) => {
      let total = 0;
      for (let dy = -MIDDLE; dy <= MIDDLE; dy++) total += at(rgb[0], 14 + k, dy);
      return total;
    });
    const mean = columns.reduce((a, b) => a + b) / columns.length;
    for (const value of columns) expect(Math.abs(value / mean - 1)).toBeLessThan(0.1);
  });

  // Its definition: a share of the light is drawn out, and none is made.
  it.each([0, 1, 20, 45, 70, 90])('at %d degrees is all of the light, however thin', (degrees) => {
    for (const thickness of [0.01, 0.5, 1, 4]) {
      const line = {
        length: 12,
        thickness,
        angle: (degrees * Math.PI) / 180,
        fading: 'exponential',
      } as const;
      const rows = streakHalf(line, 200, 200);
      const own = rows.subarray(0, 399);
      expect(Math.abs(2 * sum(rows) - sum(own) - 1)).toBeLessThan(1e-4);
    }
  });

  it('has a length of its own to the other side, and as much of the light', async () => {
    for (const fading of ['exponential', 'lorentzian'] as const) {
      const line = { length: 30, back: 10, thickness: 2, angle: 0, fading };
      const rowAt = streakRow(line, 400);
      const row = new Float32Array(799);
      const side = (sign: 1 | -1): number => {
        let total = 0;
        for (let dy = -39; dy <= 39; dy++) {
          rowAt(dy, row);
          for (let d = 1; d < 400; d++) total += row[399 + sign * d]!;
        }
        return total;
      };
      // Half of the source's own pixel goes to each.
      expect(Math.abs(side(1) / side(-1) / 3 - 1)).toBeLessThan(0.05);
    }
    const { rgb } = await spread('streaks[0]', 'veil.streak.length=0.1', 'veil.streak.back=0');
    expect(at(rgb[0], -3, 0)).toBeLessThan(1e-6);
    expect(sum(rgb[0])).toBeGreaterThan(0.98);
  });

  it('keeps its light and its white however uneven it is, and is so by its seed', async () => {
    const worn = ['veil.streak.length=0.05', 'veil.streak.uneven=1', 'veil.streak.unevenSize=0.03'];
    const { rgb } = await spread('streaks[0]', ...worn);
    const even = await spread('streaks[0]', 'veil.streak.length=0.05');
    for (const plane of rgb) expect(Math.abs(sum(plane) / sum(even.rgb[0]) - 1)).toBeLessThan(0.01);
    const ratio = Array.from({ length: 60 }, (_, d) => at(rgb[0], d, 0) / at(even.rgb[0], d, 0));
    expect(Math.max(...ratio) / Math.min(...ratio)).toBeGreaterThan(1.5);
    // Smooth along the line: no pixel differs much from the next.
    for (let d = 1; d < 60; d++) expect(Math.abs(ratio[d]! - ratio[d - 1]!)).toBeLessThan(0.45);
    expect((await spread('streaks[0]', ...worn)).rgb[0]).toEqual(rgb[0]);
    expect((await spread('streaks[0]', ...worn, 'veil.streak.seed=5')).rgb[0]).not.toEqual(rgb[0]);
  });

  it('flickers only if it is asked to', () => {
    const keyOf = (frameNumber: number, ...settings: string[]): string => {
      const context = { frame: { x: 0, y: 0, width: 64, height: 64 }, frameNumber } as PartContext;
      return streaks.make(lookOf('veil.streak.uneven=0.5', ...settings), context)[0]!.key;
    };
    expect(keyOf(1)).toBe(keyOf(2));
    expect(keyOf(1, 'veil.streak.flickers=true')).not.toBe(keyOf(2, 'veil.streak.flickers=true'));
  });

  it('takes colours along the way, and the luminance of white stays', async () => {
    const { rgb } = await spread(
      'streaks[0]',
      'veil.streak.length=0.04',
      'veil.streak.middleColour=#ff9020',
      'veil.streak.endColour=#2030ff',
    );
    const luminance = rgb.reduce((total, plane, c) => total + LUMINANCE[c]! * sum(plane), 0);
    expect(Math.abs(luminance - 1)).toBeLessThan(0.01);
    const blueToRed = (d: number): number => at(rgb[2], d, 0) / at(rgb[0], d, 0);
    expect(blueToRed(0)).toBeCloseTo(1, 1);
    expect(blueToRed(10)).toBeLessThan(0.3);
    expect(blueToRed(40)).toBeGreaterThan(3);
    expect(blueToRed(-40)).toBeCloseTo(blueToRed(40), 3);
  });

  it('comes in sets of arms that lie evenly round the light', async () => {
    for (const count of [2, 3, 4, 5, 6, 7]) {
      const set = arms(count, 0.1, { angle: 10, length: 0.1 });
      const look = parseLook({ veil: { streaks: set } });
      expect(look.veil.streaks.reduce((all, { amount }) => all + amount, 0)).toBeCloseTo(0.1, 9);
      const { rgb } = await pointSpread(
        { ...look, veil: { ...look.veil, bloom: { ...look.veil.bloom, amount: 0 } } },
        { width: SIDE, height: SIDE },
        { draft: true, diffraction },
      );
      const on = (degrees: number): number => {
        const turn = (degrees * Math.PI) / 180;
        return at(rgb[0], Math.round(40 * Math.cos(turn)), Math.round(40 * Math.sin(turn)));
      };
      for (let k = 0; k < count; k++) {
        expect(on(10 + (k * 360) / count)).toBeGreaterThan(2e-5);
        expect(on(10 + ((k + 0.5) * 360) / count)).toBeLessThan(1e-9);
      }
    }
  });

  // Source: the Cauchy-Lorentz distribution falls to half its height at its half-width.
  it('falls to a half by the bell', async () => {
    const { rgb } = await spread('streaks[0]', 'veil.streak.fading=lorentzian', 'veil.streak.length=0.2');
    expect(at(rgb[0], Math.round(0.2 * SIDE), 0) / at(rgb[0], 0, 0)).toBeCloseTo(0.5, 1);
  });
});

describe('dirt on the front glass', () => {
  const frame = { x: 0, y: 0, width: 160, height: 90 };

  it('follows from its seed', () => {
    const map = dirtMap({ size: 8, seed: 3 }, frame, frame);
    expect(dirtMap({ size: 8, seed: 3 }, frame, frame)).toEqual(map);
    expect(dirtMap({ size: 8, seed: 4 }, frame, frame)).not.toEqual(map);
  });

  it.each([
    [270, 480],
    [480, 270],
    [300, 300],
    [640, 200],
    [192, 108],
  ])('has a mean of 1 on %d x %d', async (width, height) => {
    const size = { width, height };
    const context = {
      frame: { x: 0, y: 0, ...size },
      size,
      cache: new ContentCache(0),
      draft: false,
      frameNumber: 0,
      diffraction,
    };
    const [part] = dirt.make(lookOf('veil.dirt.amount=0.1'), context);
    const map = await part!.modulation!({ ...size, scale: 1 } as unknown as Light);
    expect(sum(map) / map.length).toBeCloseTo(1, 5);
  });

  it('is the same at half the size', () => {
    const large = dirtMap(
      { size: 16, seed: 3 },
      { width: 320, height: 180 },
      { ...frame, width: 320, height: 180 },
    );
    const small = dirtMap({ size: 8, seed: 3 }, frame, frame);
    let [error, total] = [0, 0];
    small.forEach((value, i) => {
      const at2 = 2 * Math.floor(i / 160) * 320 + 2 * (i % 160);
      const mean = (large[at2]! + large[at2 + 1]! + large[at2 + 320]! + large[at2 + 321]!) / 4;
      error += Math.abs(mean - value);
      total += value;
    });
    expect(error / total).toBeLessThan(0.05);
  });
});

describe('the profile of the kernel', () => {
  const look = lookOf('veil.bloom.amount=0.02', 'veil.bloom.radius=0.002', 'veil.stack[0].amount=0.01');

  // Source: the inverse square of veiling glare (Stiles 1929, Holladay 1927): twice as far, a quarter of the light.
  it('falls with the square of the distance where the bloom does', async () => {
    const { radius, parts } = await kernelProfile(look, { width: 400, height: 300 }, 1, {
      diffraction,
    });
    const bloom = parts.find(({ name }) => name === 'veil.bloom')!;
    const near = radius.findIndex((r) => r > 0.03);
    const far = radius.findIndex((r) => r > 0.3);
    const slope =
      Math.log(bloom.density[far]! / bloom.density[near]!) / Math.log(radius[far]! / radius[near]!);
    expect(slope).toBeCloseTo(-2, 1);
  });

  it('sums its parts, and loses light outwards', async () => {
    const { whole, parts, outside } = await kernelProfile(look, { width: 200, height: 150 }, 0.5, {
      diffraction,
    });
    expect(parts.map(({ name }) => name)).toEqual(['veil.bloom', 'veil.stack[0]']);
    whole.forEach((value, k) => expect(value).toBeCloseTo(parts[0]!.density[k]! + parts[1]!.density[k]!, 12));
    outside.forEach((value, k) => k > 0 && expect(value).toBeLessThan(outside[k - 1]!));
    expect(outside[0]).toBeLessThan(1);
  });

  it('has white for its colour in every part', async () => {
    const { rgb } = await spread('spikes', 'pupil.blades=7');
    const luminance = LUMINANCE.reduce((total, share, c) => total + share * sum(rgb[c]!), 0);
    for (const plane of rgb) expect(sum(plane) / luminance).toBeCloseTo(1, 1);
  });
});

describe('a mist filter', () => {
  // Its definition, and van de Hulst 1957: lobes of many sizes come to a power of the distance, which no single one does.
  it('has a heavy tail, straight on logarithmic axes over a decade and a half', () => {
    const [radius, side] = [8, 600];
    const slopeOf = (plane: Float32Array, from: number, to: number): number =>
      Math.log(plane[to]! / plane[from]!) / Math.log(to / from);
    const mist = mistQuadrant(radius, side, side);
    for (const from of [8, 16, 32, 64]) {
      const slope = slopeOf(mist, from, 2 * from);
      expect(slope).toBeLessThan(-2.3);
      expect(slope).toBeGreaterThan(-3.4);
    }
    expect(slopeOf(mist, 8, 128)).toBeCloseTo(-2.8, 0);
    expect(slopeOf(gaussianQuadrant(radius, side, side), 16, 32)).toBeLessThan(-8);
  });
});

describe('the colour of a part', () => {
  it('is any that is chosen, at the luminance that it had', () => {
    const { gains } = partColour({ tint: 6500, tintColour: '#8020e0', tintShare: 1 });
    const [r, g, b] = gains;
    expect(LUMINANCE.reduce((total, weight, c) => total + weight * gains[c]!, 0)).toBeCloseTo(1, 9);
    // The ratios of the colour itself, by the curve of IEC 61966-2-1.
    const linear = (byte: number): number => ((byte / 255 + 0.055) / 1.055) ** 2.4;
    expect(r / b).toBeCloseTo(linear(0x80) / linear(0xe0), 6);
    expect(g / b).toBeCloseTo(linear(0x20) / linear(0xe0), 6);
    const half = partColour({ tint: 6500, tintColour: '#8020e0', tintShare: 0.5 }).gains;
    half.forEach((value, c) => expect(value).toBeCloseTo((1 + gains[c]!) / 2, 9));
  });

  it('is none at the defaults, exactly', () => {
    expect(partColour({ tint: 6500, tintColour: '#ffffff', tintShare: 1 })).toEqual({
      gains: [1, 1, 1],
      saturation: 1,
    });
    expect(partColour({ tint: 6500, tintColour: '#204080', tintShare: 0 }).gains).toEqual([1, 1, 1]);
  });

  it('that goes by the wavelength leaves white white in sum', async () => {
    const { rgb } = await spread(
      'bloom',
      'veil.bloom.falloff=4',
      'veil.bloom.radius=0.01',
      'veil.bloom.split=2',
    );
    const [r, g, b] = rgb.map(sum) as [number, number, number];
    expect(r / g).toBeCloseTo(1, 2);
    expect(b / g).toBeCloseTo(1, 2);
    expect(at(rgb[0], 12, 0)).toBeGreaterThan(1.2 * at(rgb[2], 12, 0));
    expect(at(rgb[0], 0, 0)).toBeLessThan(at(rgb[2], 0, 0));
  });
});
