import { addChannel, emptyPicture } from '../image/picture';
import { serialRunner } from '../jobs';
import { kernelsOn } from '../kernels';
import { ContentCache } from '../light/cache';
import { makePlate, type Plate } from '../light/plate';
import type { StationContext } from '../light/station';
import { assignSetting, defaultLook, type Look } from '../look/look';
import { lampCores } from './lamp-cores';
import { contributorsOf, weigh, type Weight } from './weigh';

const [WIDTH, HEIGHT] = [96, 64];
type Paint = (x: number, y: number) => number;

/** A plate of passes whose beauty is their sum. */
function plateOf(passes: Record<string, Paint>): Plate {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const plane = (paint: Paint): Float32Array =>
    Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => paint(i % WIDTH, Math.floor(i / WIDTH)));
  const beauty: Paint = (x, y) => Object.values(passes).reduce((sum, paint) => sum + paint(x, y), 0);
  for (const c of ['R', 'G', 'B']) {
    addChannel(picture, c, 'float', plane(beauty));
    for (const [name, paint] of Object.entries(passes))
      addChannel(picture, `${name}.${c}`, 'float', plane(paint));
  }
  return makePlate('p', 'test.exr', picture);
}

const contextOf = (plate: Plate): StationContext => ({
  plate,
  cache: new ContentCache(1e8),
  kernels: kernelsOn(serialRunner),
});
const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());

describe('weighing', () => {
  const plate = plateOf({
    diffuse: () => 0.2,
    emission: (x, y) => ((x - 20) ** 2 + (y - 30) ** 2 < 9 ? 800 : 0),
    specular: (x) => (x > 80 ? 0.6 : 0),
  });
  const of = async (settings: string[], timed = false): Promise<Map<string, Weight>> => {
    const weights = await weigh(lookOf(...settings), contextOf(plate), { scale: 1, timed });
    return new Map(weights.map((weight) => [weight.path, weight]));
  };

  it('finds what a picture is made with, in the order of the light, and nothing that has no amount', () => {
    const look = lookOf(
      'plate.source=sum',
      'plate.passes.diffuse.on=false',
      'veil.bloom.amount=0.02',
      'veil.halo.amount=0.01',
      'veil.halo.on=false',
      'veil.stack[0].amount=0.01',
      'veil.streaks[0].amount=0.01',
      'veil.streaks[1].amount=0',
      'glass.on=false',
      'film.grain.amount=0.02',
    );
    expect(contributorsOf(look, plate).map(({ path, label }) => [path, label])).toEqual([
      ['elements[0].passes.emission.on', 'emission'],
      ['elements[0].passes.specular.on', 'specular'],
      ['veil.bloom.on', 'Bloom'],
      ['veil.stack[0].on', 'Layer 1'],
      ['veil.streaks[0].on', 'Streak 1'],
      ['film.grain.on', 'Grain'],
    ]);
  });

  // By addition: a pass brings its share of the light, and is missed most where it is all there is.
  it('gives passes their shares, and says where they are missed most', async () => {
    const weights = await of(['plate.source=sum', 'film.on=false']);
    const sums = { diffuse: 0.2 * 96 * 64, specular: 0.6 * 15 * 64, emission: 800 * 25 };
    const all = sums.diffuse + sums.specular + sums.emission;
    for (const name of ['diffuse', 'specular', 'emission'] as const)
      expect(weights.get(`elements[0].passes.${name}.on`)!.share).toBeCloseTo(sums[name] / all, 5);
    const specular = weights.get('elements[0].passes.specular.on')!;
    expect(specular.x).toBeGreaterThan(80);
    const dark = 0.18 / 64;
    expect(specular.stops).toBeCloseTo(Math.log2((0.8 + dark) / (0.2 + dark)), 4);
    const emission = weights.get('elements[0].passes.emission.on')!;
    expect(Math.hypot(emission.x - 20, emission.y - 30)).toBeLessThan(4);
  });

  it('tells a part that still matters from one that does not, and what each costs', async () => {
    const weights = await of(
      [
        'veil.bloom.amount=0.05',
        'veil.stack[0].amount=0.01',
        'veil.stack[0].threshold=5000',
        'film.grain.amount=0.05',
      ],
      true,
    );
    const [bloom, layer] = [weights.get('veil.bloom.on')!, weights.get('veil.stack[0].on')!];
    expect(bloom.stops).toBeGreaterThan(1);
    expect(bloom.share).toBeGreaterThan(0.02);
    expect(layer).toMatchObject({ stops: 0, share: 0 });
    for (const { milliseconds } of weights.values()) expect(milliseconds).toBeGreaterThanOrEqual(0);
    const untimed = await of(['veil.bloom.amount=0.05']);
    expect(untimed.get('veil.bloom.on')!.milliseconds).toBeUndefined();
  });

  it('is the same whether or not it is timed, and gives up when it is told to', async () => {
    const settings = ['veil.bloom.amount=0.05', 'veil.streaks[0].amount=0.02', 'film.sharpen.amount=0.5'];
    const [timed, plain] = [await of(settings, true), await of(settings)];
    for (const [path, { share, stops, x, y }] of plain)
      expect(timed.get(path)).toMatchObject({ share, stops, x, y });
    const control = new AbortController();
    control.abort();
    const context = { ...contextOf(plate), signal: control.signal };
    await expect(weigh(lookOf(...settings), context, { scale: 1, timed: false })).rejects.toThrow();
  });
});

describe('lamp cores', () => {
  /** A lamp with a filament: dim glass of 1.5 with a bright line, over dim ground. */
  const lit = (glass: number, filament: number): Plate =>
    plateOf({
      emission: (x, y) =>
        (x - 48) ** 2 + (y - 32) ** 2 >= 100 ? 0.1 : Math.abs(x - 48) < 3 ? filament : glass,
    });
  const found = (plate: Plate, ...settings: string[]) =>
    lampCores(lookOf('film.view=filmic', ...settings), contextOf(plate), 1);

  it('are as the render has them in a look that does nothing', async () => {
    expect(await found(lit(1.5, 12))).toEqual({ flat: undefined, clamped: 0 });
    // What no view could show is no fault of the look.
    expect((await found(lit(4000, 40000))).flat).toBeUndefined();
  });

  it('that are flat white are put down to what makes them so', async () => {
    const place = { count: 1, x: 48, y: 32 };
    const scattered = await found(
      lit(1.5, 90000),
      'veil.bloom.amount=0.9',
      'veil.bloom.radius=0.1',
      'veil.mode=add',
    );
    expect(scattered.flat).toEqual({ cause: 'amount', ...place });
    expect((await found(lit(1.5, 12), 'film.exposure=7')).flat).toEqual({ cause: 'exposure', ...place });
    expect((await found(lit(1.5, 12), 'plate.exposure=7')).flat).toEqual({ cause: 'exposure', ...place });
    expect((await found(lit(1.5, 12), 'film.view=srgb')).flat).toEqual({ cause: 'view', ...place });
  });

  it('that a clamp has taken out of the feed are measured', async () => {
    const plate = lit(1.5, 500);
    const { clamped } = await found(plate, 'plate.clamp=5', 'veil.streaks[0].amount=0.02');
    // By its area: about 5 of 20 columns hold 500, the rest 1.5.
    expect(clamped).toBeGreaterThan(0.95);
    expect((await found(plate, 'plate.clamp=600')).clamped).toBe(0);
  });
});
