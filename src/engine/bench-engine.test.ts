import { writeExr } from '../core/formats/exr/write';
import { addChannel, emptyPicture } from '../core/image/picture';
import { serialRunner } from '../core/jobs';
import type { TaskRunner } from '../core/kernels/runtime/parallel';
import { assignSetting, defaultLook, type Look } from '../core/look/look';
import { readExr } from '../core/formats/exr/read';
import { bytesSource } from '../core/shot/archive';
import { EMPTY_SHOT, plateOfFile } from '../core/shot/shot';
import { BenchEngine } from './bench-engine';
import type { QueryInput, QueryName } from '../core/bench/queries';
import { describeFailure } from './outcome';
import type { Outcome, Shown, ShowRequest, SourceFile } from './messages';

const [WIDTH, HEIGHT] = [64, 36];

async function file(): Promise<Uint8Array> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  for (const name of ['R', 'G', 'B']) {
    addChannel(
      picture,
      name,
      'float',
      Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
        i === 700 ? 500 : i === 3 && name === 'G' ? NaN : 0.1,
      ),
    );
  }
  addChannel(
    picture,
    'depth.Z',
    'float',
    Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => 2 + i),
  );
  return await writeExr(picture);
}

function source(name: string, bytes: Uint8Array): SourceFile[] {
  return [{ name, read: () => Promise.resolve(bytes) }];
}

function value<T>(outcome: Outcome<T>): T {
  if ('failure' in outcome) throw new Error(outcome.failure.what);
  return outcome.value;
}

const look = ['veil.bloom.amount=0.1', 'veil.bloom.radius=0.02'].reduce(assignSetting, defaultLook());
const request = (change: Partial<ShowRequest> = {}): ShowRequest => ({
  lane: 'view',
  plate: 'q',
  look,
  scale: 1,
  subject: { kind: 'final' },
  viewExposure: 0,
  ...change,
});

async function openEngine(parallel: TaskRunner = serialRunner): Promise<BenchEngine> {
  const engine = new BenchEngine(parallel);
  value(await engine.openPlate('q', 'quay.exr', source('quay.exr', await file())));
  return engine;
}

/** Asks an engine about plate `q`, or another. */
const asker =
  (engine: BenchEngine) =>
  <Name extends QueryName>(name: Name, of: Look, input: QueryInput<Name>, plate = 'q') =>
    engine.ask({ name, look: of, input, plate });

describe('the engine', () => {
  it('takes another look from the picture, signed and about grey, with its largest and mean', async () => {
    const engine = await openEngine();
    const bright = assignSetting(look, 'film.exposure=1');
    const at = { subject: { kind: 'difference' as const, gain: 0 } };
    const same = value(await engine.show(request({ ...at, against: look })));
    expect(same.report!.difference).toEqual({ max: 0, mean: 0 });
    expect([...same.pixels.slice(0, 4)]).toEqual([128, 128, 128, 255]);
    const more = value(await engine.show(request({ ...at, look: bright, against: look })));
    const less = value(await engine.show(request({ ...at, against: bright })));
    expect(more.report!.difference!.max).toBeCloseTo(less.report!.difference!.max, 9);
    expect(more.pixels[0]!).toBeGreaterThan(134);
    expect(less.pixels[0]! + more.pixels[0]!).toBeGreaterThanOrEqual(254);
    expect(less.pixels[0]! + more.pixels[0]!).toBeLessThanOrEqual(256);
    // Two stops more make it four times as much.
    const raised = value(
      await engine.show(request({ look: bright, against: look, subject: { kind: 'difference', gain: 2 } })),
    );
    expect((raised.pixels[0]! - 127.5) / (more.pixels[0]! - 127.5)).toBeCloseTo(4, 0);
    expect(engine.readPixel(30, 30)!.rgb[0]).toBeGreaterThan(0);
  });

  it('reads patches and scopes of what is shown and of what it is held against', async () => {
    const engine = await openEngine();
    const part = { x: 0, y: 0.5, width: 0.25, height: 0.25 };
    expect(engine.readPatch('shown', part)).toBeUndefined();
    value(await engine.show(request({ look: defaultLook() })));
    value(
      await engine.show(
        request({
          lane: 'compare',
          look: assignSetting(defaultLook(), 'film.exposure=2'),
          gains: [2, 1, 0.5],
        }),
      ),
    );
    expect(engine.readPatch('shown', part)![1]).toBeCloseTo(0.1, 6);
    // Gains belong to the view: what is read is the light as it is.
    engine.readPatch('compared', part)!.forEach((mean) => expect(mean).toBeCloseTo(0.4, 6));
    expect(engine.scopes('compared')!.histogram.red).not.toEqual(engine.scopes('shown')!.histogram.red);
    expect(engine.scopes('compared')!.histogram.red).not.toEqual(engine.scopes('compared')!.histogram.blue);
  });

  it('tells what a plate holds', async () => {
    const info = value(
      await new BenchEngine(serialRunner).openPlate('q', 'quay.exr', source('quay.exr', await file())),
    );
    expect(info).toMatchObject({
      width: WIDTH,
      height: HEIGHT,
      beauty: 'beauty',
      depth: 'depth',
      sampleType: 'float',
      nan: 1,
      infinite: 0,
      compression: 'zip',
    });
    expect(info.passes.map(({ name, kind, light }) => [name, kind, light])).toEqual([
      ['beauty', 'colour', true],
      ['depth', 'depth', false],
    ]);
    expect(info.thumbnail.pixels).toHaveLength(info.thumbnail.width * info.thumbnail.height * 4);
    expect(info.bytes).toBe(WIDTH * HEIGHT * 16);
  });

  it('answers a broken file with a failure in words, and keeps what was open', async () => {
    const engine = await openEngine();
    const outcome = await engine.openPlate(
      'z',
      'letter.txt',
      source('letter.txt', new TextEncoder().encode('dear render, where are you')),
    );
    expect(outcome).toEqual({
      failure: {
        kind: 'input',
        what: 'this is not a picture that is understood',
        where: 'letter.txt',
        todo: 'Choose OpenEXR, Radiance HDR, TIFF, PNG, JPEG or PFM',
      },
    });
    expect(value(await engine.show(request())).width).toBe(WIDTH);
  });

  it('shows final, plate, feed and separation', async () => {
    const engine = await openEngine();
    const final = value(await engine.show(request()));
    expect([final.width, final.height, final.pixels.length]).toEqual([WIDTH, HEIGHT, WIDTH * HEIGHT * 4]);
    expect(final.accounts.veil!.moved).toBeGreaterThan(0);
    expect(final.feed!.pixels).toBeCloseTo(1 / (WIDTH * HEIGHT), 9);
    const behind = value(await engine.show(request({ subject: { kind: 'behind', station: 'plate' } })));
    expect(behind.pixels[4 * 701]).toBeLessThan(final.pixels[4 * 701]!);
    const feed = value(await engine.show(request({ subject: { kind: 'feed' } })));
    expect([...feed.pixels.subarray(2800, 2803)]).toEqual([232, 163, 61]);
    const alone = value(await engine.show(request({ subject: { kind: 'separation', name: 'veil.bloom' } })));
    expect(alone.pixels[2800]).toBe(0);
    expect(alone.pixels[4 * 701]).toBeGreaterThan(0);
    const missing = value(
      await engine.show(request({ subject: { kind: 'separation', name: 'veil.spikes' } })),
    );
    expect(Math.max(...missing.pixels.filter((_, i) => i % 4 < 3))).toBe(0);
  });

  it('exposes the view without touching the values', async () => {
    const engine = await openEngine();
    const plain = value(await engine.show(request()));
    const before = engine.readPixel(10, 10);
    const dark = value(await engine.show(request({ viewExposure: -4 })));
    expect(dark.pixels[4]).toBeLessThan(plain.pixels[4]!);
    expect(engine.readPixel(10, 10)).toEqual(before);
  });

  it('reads values under a pixel of the full-size picture, at any scale', async () => {
    const engine = await openEngine();
    value(await engine.show(request({ look: defaultLook() })));
    expect(engine.readPixel(60, 10)!).toEqual({ rgb: [500, 500, 500], depth: 702, blur: 0 });
    value(await engine.show(request({ look: defaultLook(), scale: 0.25 })));
    const reading = engine.readPixel(63, 35)!;
    expect(reading.rgb[0]).toBeCloseTo(0.1, 6);
    expect(reading.depth).toBe(2 + WIDTH * HEIGHT - 1);
    expect(engine.readPixel(-1, 0)).toBeUndefined();
    expect(engine.readPixel(WIDTH, 0)).toBeUndefined();
  });

  it('gives up work of a lane that newer work replaces, and of no other', async () => {
    const engine = await openEngine();
    const old = engine.show(request());
    const compare = engine.show(request({ lane: 'compare' }));
    const newer = engine.show(request({ viewExposure: 1 }));
    expect(await old).toMatchObject({ failure: { kind: 'cancelled' } });
    expect(await compare).toHaveProperty('value');
    expect(await newer).toHaveProperty('value');
  });

  it('prints what the command line would, and says how far it is', async () => {
    const engine = await openEngine();
    const heard: number[] = [];
    engine.listen((lane, done) => lane === 'print' && heard.push(done));
    const { bytes } = value(
      await engine.print({ plate: 'q', look, format: { kind: 'exr', samples: 'plate', separations: true } }),
    );
    expect([...(await readExr(bytes)).channels.keys()]).toContain('veil.bloom.R');
    expect(heard.at(-1)).toBe(1);
    expect([...heard].sort((a, b) => a - b)).toEqual(heard);
    const png = value(
      await engine.print({
        plate: 'q',
        look,
        format: { kind: 'png', bits: 8 },
        region: { x: 1, y: 1, width: 2, height: 2 },
      }),
    );
    expect([...png.bytes.subarray(0, 4)]).toEqual([0x89, 0x50, 0x4e, 0x47]);
  });

  it('says that a closed plate is not open', async () => {
    const engine = await openEngine();
    value(await engine.show(request()));
    engine.closePlate('q');
    expect(engine.readPixel(0, 0)).toBeUndefined();
    expect(await engine.show(request())).toMatchObject({
      failure: { kind: 'setting', what: 'the plate is not open' },
    });
  });

  it('packs and unpacks shots', async () => {
    const engine = new BenchEngine(serialRunner);
    const shot = {
      name: 'S',
      plates: [plateOfFile('q', 'quay.exr')],
      references: [],
      images: [],
      proofs: [],
      follows: null,
      tracks: EMPTY_SHOT.tracks,
      reel: EMPTY_SHOT.reel,
      activePlate: 'q',
      look,
    };
    const { readable, writable } = new TransformStream<Uint8Array>();
    const bytes = new Uint8Array(await file());
    const packed = new Response(readable as ReadableStream<Uint8Array<ArrayBuffer>>).arrayBuffer();
    value(await engine.writeShot(shot, () => Promise.resolve(bytes), writable));
    const source = bytesSource(new Uint8Array(await packed));
    const opened = value(await engine.openShot(source, 's.bokelux'));
    expect(opened.shot).toEqual(shot);
    expect(await opened.read('q')).toEqual(bytes);
    expect(await engine.openShot(bytesSource(new Uint8Array(3)), 's.bokelux')).toMatchObject({
      failure: { where: 's.bokelux' },
    });
  });

  it('tells running out of memory from a fault of its own', () => {
    expect(describeFailure(new RangeError('Array buffer allocation failed'))).toMatchObject({
      kind: 'input',
      what: 'there is not enough memory for this',
    });
    expect(describeFailure(new TypeError('x is not a function'))).toMatchObject({ kind: 'fault' });
    expect(describeFailure('odd')).toMatchObject({ kind: 'fault', what: 'odd' });
  });
});

/** A plate of several files: a beauty of two passes that add up to it, a depth, normals, mattes. */
function passFiles(): Promise<SourceFile[]> {
  const fill = async (name: string, channels: Record<string, (i: number) => number>): Promise<SourceFile> => {
    const picture = emptyPicture(WIDTH, HEIGHT);
    for (const [channel, value] of Object.entries(channels))
      addChannel(
        picture,
        channel,
        'float',
        Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(i)),
      );
    const bytes = await writeExr(picture);
    return { name, read: () => Promise.resolve(bytes) };
  };
  const same = (value: (i: number) => number) => ({ R: value, G: value, B: value });
  return Promise.all([
    fill(
      'pier_beauty.exr',
      same((i) => 0.25 + (i === 700 ? 80 : 0)),
    ),
    fill(
      'pier_diffuse.exr',
      same(() => 0.25),
    ),
    fill(
      'pier_emission.exr',
      same((i) => (i === 700 ? 80 : 0)),
    ),
    fill('pier_depth.exr', { Z: (i) => (i < WIDTH ? 1e10 : 1 + i) }),
    fill('pier_N.exr', { X: () => 1, Y: () => 0, Z: () => -1 }),
    fill('pier_matte.exr', { boat: (i) => (i < 100 ? 1 : 0), rope: () => 0.5 }),
  ]);
}

describe('looking at the plate', () => {
  const open = async (): Promise<BenchEngine> => {
    const engine = new BenchEngine(serialRunner);
    value(await engine.openPlate('q', 'pier', await passFiles()));
    return engine;
  };
  const show = async (engine: BenchEngine, change: Partial<ShowRequest>): Promise<Shown> =>
    value(await engine.show(request({ look: defaultLook(), ...change })));
  const at = ({ pixels }: Shown, i: number): number[] => [...pixels.subarray(4 * i, 4 * i + 3)];

  it('opens passes from files of their own, and tells what each is', async () => {
    const info = value(await new BenchEngine(serialRunner).openPlate('q', 'pier', await passFiles()));
    expect(info.passes.map(({ name, role, component }) => [name, role, component])).toEqual([
      ['beauty', 'beauty', false],
      ['diffuse', 'diffuse', true],
      ['emission', 'emission', true],
      ['depth', 'depth', false],
      ['n', 'normal', false],
      ['matte', 'matte', false],
    ]);
    expect(info.depth).toBe('depth');
    expect(info.frame).toEqual({ x: 0, y: 0, width: WIDTH, height: HEIGHT });
  });

  it('takes corrected roles, and makes a small picture of every pass', async () => {
    const engine = await open();
    const info = value(await engine.setRoles('q', { emission: 'other' }));
    expect(info.passes.find(({ name }) => name === 'emission')).toMatchObject({
      role: 'other',
      component: false,
    });
    const thumbnails = value(await engine.thumbnails('q'));
    expect(Object.keys(thumbnails)).toEqual(['beauty', 'diffuse', 'emission', 'depth', 'n', 'matte']);
    for (const { width, height, pixels } of Object.values(thumbnails))
      expect(pixels).toHaveLength(width * height * 4);
    expect(await engine.setRoles('gone', {})).toMatchObject({ failure: { what: 'the plate is not open' } });
  });

  it('shows passes as what they are', async () => {
    const engine = await open();
    const light = await show(engine, { subject: { kind: 'pass', pass: 'emission' } });
    expect([at(light, 0), at(light, 700)]).toEqual([
      [0, 0, 0],
      [255, 255, 255],
    ]);
    const depth = await show(engine, { subject: { kind: 'pass', pass: 'depth' } });
    // What is infinitely far does not count for the range; near is bright.
    expect(depth.report!.range).toEqual([1 + WIDTH, WIDTH * HEIGHT]);
    expect(at(depth, WIDTH)[0]).toBe(255);
    expect(at(depth, WIDTH * HEIGHT - 1)[0]).toBe(0);
    expect(engine.readPixel(0, 1)!.rgb[0]).toBe(1 + WIDTH);
    const normal = await show(engine, { subject: { kind: 'pass', pass: 'n' } });
    expect(at(normal, 5)).toEqual([255, 128, 0]);
    const matte = await show(engine, { subject: { kind: 'pass', pass: 'matte', channel: 'matte.rope' } });
    expect(at(matte, 5)).toEqual([128, 128, 128]);
    const all = await show(engine, { subject: { kind: 'pass', pass: 'matte' } });
    expect(at(all, 5)).not.toEqual(at(all, 500));
    expect(await engine.show(request({ subject: { kind: 'pass', pass: 'fog' } }))).toMatchObject({
      failure: { kind: 'setting' },
    });
  });

  it('proves that the passes add up to the beauty, with figures of the full size', async () => {
    const engine = await open();
    const shown = await show(engine, { scale: 0.5, subject: { kind: 'rebuild', part: 'difference' } });
    expect(shown.report!.difference!.max).toBeLessThan(1e-5);
    expect(Math.max(...shown.pixels.filter((_, i) => i % 4 < 3))).toBe(0);
    const look = assignSetting(defaultLook(), 'plate.passes.emission.on=false');
    const without = await show(engine, { look, subject: { kind: 'rebuild', part: 'difference' } });
    expect(without.report!.difference!.max).toBeCloseTo(80, 5);
    expect(without.report!.difference!.mean).toBeCloseTo(80 / (WIDTH * HEIGHT), 6);
    const sum = await show(engine, { look, subject: { kind: 'rebuild', part: 'sum' } });
    expect(at(sum, 700)).toEqual(at(sum, 0));
  });

  it('paints what clean-up touched and what a mask covers', async () => {
    const engine = await open();
    const look = ['plate.clamp=25', 'masks=[{"id":"m","name":"M","shapes":[]}]'].reduce(
      assignSetting,
      defaultLook(),
    );
    const cleaned = await show(engine, { look, subject: { kind: 'cleaned' } });
    expect(at(cleaned, 700)).toEqual([224, 96, 76]);
    expect(at(cleaned, 0)).not.toEqual([224, 96, 76]);
    const final = await show(engine, { look });
    expect(final.touched).toEqual({ despiked: 0, clamped: 1 });
    const mask = await show(engine, { look, subject: { kind: 'mask', mask: 'm' } });
    expect(at(mask, 3)[0]).toBeGreaterThan(at(mask, 3)[2]! + 50);
  });

  it('shows the depth as it is read, and finds the distance and the share of a place', async () => {
    const engine = await openEngine();
    const ask = asker(engine);
    const { picture, warnings } = value(await ask('depthSurvey', defaultLook(), {}));
    expect([picture!.width, picture!.height]).toEqual([WIDTH, HEIGHT]);
    expect(picture!.pixels[0]).toBe(255);
    expect(picture!.pixels.at(-4)).toBeLessThan(40);
    expect(warnings).toEqual([]);
    expect(await ask('depthSurvey', defaultLook(), {}, 'nothing')).toMatchObject({
      failure: { kind: 'setting' },
    });
    const other = assignSetting(defaultLook(), 'focus.depth.pass=beauty');
    expect(value(await ask('depthSurvey', { ...other }, {})).picture!.width).toBe(WIDTH);
    // The median of a disc about the place.
    expect(value(await ask('pickDistance', defaultLook(), { x: 10, y: 10 }))).toEqual({
      distance: 2 + 10 * WIDTH + 10,
    });
    const near = ['focus.depth.reading=normalised', 'focus.depth.near=1', 'focus.depth.far=9'];
    const read = near.reduce(assignSetting, defaultLook());
    expect(value(await ask('pickDistance', read, { x: 10, y: 10 }))).toEqual({ distance: 9, share: 1 });
    const outside = await ask('pickDistance', read, { x: -20, y: 10 });
    expect('failure' in outside && outside.failure.what).toMatch(/outside the picture/);
  });

  it('draws out grain and tells how strong it is where the lens is sharp and where it blurs', async () => {
    const [width, height] = [96, 64];
    const picture = emptyPicture(width, height);
    let state = 7;
    const grain = (): number => (state = (state * 16807) % 2147483647) / 2147483647 - 0.5;
    const light = Float32Array.from({ length: width * height }, () => 0.2 + 0.05 * grain());
    for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', light);
    const depth = Float32Array.from({ length: width * height }, (_, i) => (i % width < 48 ? 5 : 500));
    addChannel(picture, 'depth.Z', 'float', depth);
    const engine = new BenchEngine(serialRunner);
    value(await engine.openPlate('q', 'grain.exr', source('grain.exr', await writeExr(picture))));
    const grainOf = async (...settings: string[]) => {
      const asked = settings.reduce(assignSetting, defaultLook());
      return value(await engine.show(request({ look: asked, subject: { kind: 'grain' } })));
    };
    const still = (await grainOf()).report!.grain!;
    expect(still.sharp).toBeGreaterThan(0.005);
    expect(still.blurred).toBeUndefined();
    const blurred = await grainOf('focus.on=true', 'camera.fStop=0.1', 'camera.focusDistance=5');
    const { sharp, blurred: soft } = blurred.report!.grain!;
    expect(sharp! / still.sharp!).toBeCloseTo(1, 1);
    expect(soft!).toBeLessThan(sharp! / 5);
    // Flat light is grey, grain goes to both sides of it.
    const bytes = [...blurred.pixels].filter((_, i) => i % 4 === 0 && i % (4 * width) < 4 * 40);
    expect(Math.min(...bytes)).toBeLessThan(100);
    expect(Math.max(...bytes)).toBeGreaterThan(155);
  });

  it('counts the light on show and draws it in false colour', async () => {
    const engine = await open();
    expect(engine.histogram()).toBeUndefined();
    await show(engine, { falseColour: true, look: assignSetting(defaultLook(), 'plate.levels.inLow=0.26') });
    const histogram = engine.histogram()!;
    expect(histogram.negative).toBeCloseTo(1 - 1 / (WIDTH * HEIGHT), 9);
    expect(histogram.clipped).toBeCloseTo(1 / (WIDTH * HEIGHT), 9);
    const plain = await show(engine, { falseColour: true });
    expect(at(plain, 0)).toEqual([136, 136, 136]);
  });

  it('lays a plate of the shot under another', async () => {
    const engine = await open();
    const picture = emptyPicture(WIDTH, HEIGHT);
    for (const name of ['R', 'G', 'B', 'A'])
      addChannel(picture, name, 'float', new Float32Array(WIDTH * HEIGHT));
    value(await engine.openPlate('cut', 'cut.exr', source('cut.exr', await writeExr(picture))));
    const look = assignSetting(defaultLook(), 'plate.background=plate:q');
    await show(engine, { plate: 'cut', look });
    expect(engine.readPixel(0, 0)!.rgb[0]).toBeCloseTo(0.25, 5);
  });
});

describe('pupil, kernel and region', () => {
  const lit = (...settings: string[]) => settings.reduce(assignSetting, defaultLook());

  /** An image that is open on its left half. */
  async function halfOpen(): Promise<SourceFile> {
    const picture = emptyPicture(8, 8);
    for (const name of ['R', 'G', 'B'])
      addChannel(
        picture,
        name,
        'float',
        Float32Array.from({ length: 64 }, (_, i) => (i % 8 < 4 ? 1 : 0)),
      );
    return source('half.exr', await writeExr(picture))[0]!;
  }

  it('draws the pupil with its mask, and the image of a point', async () => {
    const engine = await openEngine();
    const ask = asker(engine);
    // Looks name an image by its key.
    const masked = lit('pupil.mask=half');
    expect(await ask('pupilPictures', masked, {})).toMatchObject({
      failure: { what: 'there is no image half' },
    });
    const thumbnail = value(await engine.openImage('half', await halfOpen()));
    expect(thumbnail.width).toBe(8);
    const { pupil, point, reach, stops } = value(await ask('pupilPictures', masked, {}));
    const at = (x: number): number => pupil.pixels[4 * ((pupil.height >> 1) * pupil.width + x)]!;
    expect(at(pupil.width >> 2)).toBeGreaterThan(200);
    expect(at((3 * pupil.width) >> 2)).toBeLessThan(40);
    // The middle is the brightest, by the scale of stops.
    const middle = 4 * ((point.height >> 1) * point.width + (point.width >> 1));
    expect(Math.max(...point.pixels.subarray(middle, middle + 3))).toBe(255);
    expect(reach).toBeGreaterThan(10);
    expect(stops).toBeGreaterThan(10);
  });

  it('refuses an image that is none', async () => {
    const engine = await openEngine();
    const broken = source('leaf.png', new Uint8Array(20))[0]!;
    expect(await engine.openImage('i', broken)).toMatchObject({ failure: { kind: 'input' } });
  });

  it('tells how the veil falls off, and from which brightness a share of the pixels feeds', async () => {
    const engine = await openEngine();
    const ask = asker(engine);
    const profile = value(await ask('kernelProfile', look, {}));
    expect(profile.parts.map(({ name }) => name)).toEqual(['veil.bloom']);
    expect(profile.whole[0]).toBeGreaterThan(profile.whole.at(-1)!);
    // One pixel of 2304 is brighter than 0.1; the knee lets in what lies half a stop below the threshold.
    const knee = 2 ** look.veil.feed.knee;
    const over = async (share: number): Promise<number> =>
      value(await ask('feedThreshold', look, { share, of: 'pixels' }));
    expect((await over(0.0001)) / (500 * knee)).toBeCloseTo(1, 2);
    expect((await over(0.1)) / (0.1 * knee)).toBeCloseTo(1, 2);
    expect(await ask('kernelProfile', look, {}, 'x')).toMatchObject({ failure: { kind: 'setting' } });
  });

  it('shows a region by itself, and reads values in it and about it', async () => {
    const engine = await openEngine();
    value(await engine.show(request()));
    const outside = engine.readPixel(2, 20)!.rgb[0];
    const region = { x: 40, y: 4, width: 20, height: 16 };
    const shown = value(await engine.show(request({ look: lit('plate.exposure=1'), region })));
    expect([shown.width, shown.height, shown.region]).toEqual([20, 16, region]);
    expect(engine.readPixel(50, 12)!.rgb[0]).toBeCloseTo(0.2, 5);
    expect(engine.readPixel(2, 20)!.rgb[0]).toBe(outside);
    value(await engine.show(request()));
    expect(engine.readPixel(50, 12)!.rgb[0]).toBeLessThan(0.15);
  });

  it('tells the feeds of parts that have one of their own, and paints them', async () => {
    const engine = await openEngine();
    const own = lit('veil.halo.amount=0.1', 'veil.halo.feed.own=true', 'veil.halo.feed.threshold=0.05');
    const shown = value(await engine.show(request({ look: own })));
    expect(shown.feed!.pixels).toBeLessThan(0.01);
    expect(shown.ownFeeds['veil.halo']!.pixels).toBeGreaterThan(0.9);
    const pixel = ({ pixels }: Shown): number[] => [...pixels.subarray(0, 3)];
    const common = value(await engine.show(request({ look: own, subject: { kind: 'feed' } })));
    const halo = value(
      await engine.show(request({ look: own, subject: { kind: 'feed', part: 'veil.halo' } })),
    );
    expect(pixel(halo)).not.toEqual(pixel(common));
  });

  it('parts what was computed at once when a part is looked at alone', async () => {
    const engine = await openEngine();
    const two = lit('veil.bloom.amount=0.1', 'veil.streak.amount=0.1');
    const alone = async (name: string): Promise<number> => {
      value(await engine.show(request({ look: two, subject: { kind: 'separation', name } })));
      return engine.readPixel(60, 10)!.rgb[0];
    };
    // The lamp is at (60, 10); a streak keeps more of its light on its line.
    expect(await alone('veil.bloom')).toBeLessThan(0);
    expect(await alone('veil.bloom')).not.toBe(await alone('veil.streaks[0]'));
  });
});

describe('a plate of several elements', () => {
  async function flat(colour: number, alpha: (x: number) => number, distance: number): Promise<Uint8Array> {
    const picture = emptyPicture(WIDTH, HEIGHT);
    const add = (name: string, at: (x: number) => number): void =>
      addChannel(
        picture,
        name,
        'float',
        Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => at(i % WIDTH)),
      );
    for (const name of ['R', 'G', 'B']) add(name, (x) => colour * alpha(x));
    add('A', alpha);
    add('depth.Z', () => distance);
    return await writeExr(picture);
  }
  const plain = defaultLook();
  async function stacked(): Promise<BenchEngine> {
    const engine = new BenchEngine(serialRunner);
    const open = async (id: string, bytes: Uint8Array): Promise<unknown> =>
      value(await engine.openPlate(id, `${id}.exr`, source(`${id}.exr`, bytes)));
    await open('wall', await flat(0.1, () => 1, 8));
    await open('post', await flat(0.9, (x) => (x < 20 ? 1 : 0), 3));
    value(await engine.stackPlate('both', 'wall', [{ id: 'wall' }, { id: 'post' }]));
    return engine;
  }
  const redAt = async (engine: BenchEngine, x: number, change: Partial<ShowRequest>): Promise<number> =>
    value(await engine.show(request({ plate: 'both', look: plain, ...change }))).pixels[4 * (5 * WIDTH + x)]!;

  it('is shown, read and measured as one', async () => {
    const engine = await stacked();
    expect(await redAt(engine, 10, {})).toBeGreaterThan(await redAt(engine, 40, {}));
    expect([engine.readPixel(10, 5)!.depth, engine.readPixel(40, 5)!.depth]).toEqual([3, 8]);
    const { elements } = value(await asker(engine)('elementFacts', plain, {}, 'both'));
    expect(elements).toMatchObject([
      { index: 0, near: 8, far: 8, coverage: 1, fitsBehind: false },
      { index: 1, near: 3, far: 3, fitsBehind: false },
    ]);
    expect(elements[1]!.coverage).toBeCloseTo(20 / WIDTH, 5);
  });

  it('shows passes and sums of the element that is meant', async () => {
    const engine = await stacked();
    const beauty = (element: number) => ({ subject: { kind: 'pass', pass: 'beauty', element } }) as const;
    expect(await redAt(engine, 40, beauty(1))).toBe(0);
    expect(await redAt(engine, 40, beauty(0))).toBeGreaterThan(0);
    const alpha = { subject: { kind: 'pass', pass: 'beauty', channel: 'A', element: 1 } } as const;
    expect(await redAt(engine, 10, alpha)).toBe(255);
  });

  it('has nothing where an element is missing, and says which plate is not open', async () => {
    const engine = await stacked();
    value(await engine.stackPlate('both', 'wall', [{ id: 'wall' }, { missing: 'post' }]));
    expect(await redAt(engine, 10, {})).toBe(await redAt(engine, 40, {}));
    expect(await engine.stackPlate('other', 'wall', [{ id: 'wall' }, { id: 'gone' }])).toMatchObject({
      failure: { what: 'the plate is not open', where: 'gone' },
    });
    engine.closePlate('both');
    expect(await engine.show(request({ plate: 'both', look: plain }))).toMatchObject({
      failure: { where: 'both' },
    });
  });
});
