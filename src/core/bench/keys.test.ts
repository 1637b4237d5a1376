import { addChannel, emptyPicture } from '../image/picture';
import type { GreyImage } from '../image/grey-image';
import { serialRunner } from '../jobs';
import { kernelsOn } from '../kernels';
import { ContentCache } from '../light/cache';
import { makePlate, stackPlates, type Plate } from '../light/plate';
import type { StationContext } from '../light/station';
import { withOwnLens } from '../look/own-lens';
import { assignSetting, defaultLook, SETTINGS, setSetting, type Look } from '../look/look';
import { LENS_DESIGNS } from '../optics/lens/designs';
import { NAME, PLACE, type Setting, type SettingValue } from '../settings/setting';
import { evaluate, type Evaluation } from './evaluate';

const [WIDTH, HEIGHT] = [48, 28];

/** A lamp over a dim ramp, in passes with alpha, depth and a matte. */
function plate(): Plate {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const add = (name: string, at: (x: number, y: number) => number): void =>
    addChannel(
      picture,
      name,
      'float',
      Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => at(i % WIDTH, Math.floor(i / WIDTH))),
    );
  ['R', 'G', 'B'].forEach((name, c) => {
    const ground = (x: number, y: number): number => 0.05 + 0.01 * ((x * 5 + y * 3 + c) % 11);
    const lamp = (x: number, y: number): number => ((x - 15) ** 2 + (y - 9) ** 2 < 4 ? 400 - 90 * c : 0);
    add(`diffuse.${name}`, ground);
    add(`emission.${name}`, lamp);
    add(`transmission.${name}`, (x, y) => 0.2 * ground(y, x));
    add(name, (x, y) => ground(x, y) + lamp(x, y) + 0.2 * ground(y, x));
  });
  add('A', (x) => (x < 40 ? 1 : 0.25));
  add('Z', (x, y) => 1.5 + x / 6 + (y > 14 ? 3 : 0));
  add('far.Z', (x) => 4 + x / 3);
  add('matte.boat', (x) => (x > 20 ? 1 : 0));
  for (const [pass, lean] of [
    ['N', 0.3],
    ['M', 0.5],
  ] as const) {
    add(`${pass}.X`, (x) => lean * Math.sin(x / 5));
    add(`${pass}.Y`, () => lean);
    add(`${pass}.Z`, () => 0.7);
  }
  return makePlate('p', 'test.exr', picture);
}

const greyImage = (key: string, at: (x: number) => number): GreyImage => ({
  key,
  width: 8,
  height: 8,
  plane: Float32Array.from({ length: 64 }, (_, i) => at(i % 8)),
});
const IMAGES: Readonly<Record<string, GreyImage>> = {
  leaf: greyImage('leaf', (x) => x / 8),
  star: greyImage('star', (x) => (x > 3 ? 1 : 0.2)),
};

const MASKS = [
  { id: 'a', name: 'A', invert: false, shapes: [{ kind: 'gradient', from: [0, 0], to: [1, 0] }] },
  { id: 'b', name: 'B', invert: true, shapes: [{ kind: 'gradient', from: [0, 0], to: [1, 0] }] },
];

/** Everything on, so that every setting has something to change. */
const EVERYTHING = [
  `masks=${JSON.stringify(MASKS)}`,
  'plate.source=sum plate.clamp=300 plate.despike=20 plate.contrast=1.1 plate.highlightLift=0.2 plate.mask=a',
  'plate.background=#203040 plate.levels.gamma=1.1 plate.passes.diffuse.gain=0.1',
  'focus.on=true focus.catsEye=0.4 focus.rim=0.3 focus.squeeze=1.2 focus.depth.reading=planar camera.focusDistance=4',
  'camera.fStop=2 pupil.blades=7 pupil.openAt=1 pupil.obstruction=0.2 pupil.mask=leaf',
  'pupil.dust.amount=0.05 pupil.scratches.count=4 pupil.fibres.count=3 pupil.ring.count=20 pupil.grating.lines=9',
  'veil.feed.mask=b veil.bloom.amount=0.02 veil.stack[0].amount=0.02 veil.spikes.amount=0.05 veil.halo.amount=0.02',
  'veil.streak.amount=0.02 veil.streak.uneven=0.4 veil.streak.boost=2 veil.streak.boostAbove=9 veil.filter.amount=0.02 veil.diffusion.amount=0.05 veil.dirt.amount=0.05 veil.spikes.feed.own=true',
  'ghosts.on=true ghosts.quality=quick ghosts.amount=50 ghosts.find.on=true ghosts.find.count=2 ghosts.lights[0].x=0.6 ghosts.lights[0].gain=3000',
  'ghosts.lights[0].group=g ghosts.lights[0].veil=1 ghosts.lights[0].cone=120 ghosts.lights[0].turn=50 ghosts.lights[0].distance=6',
  'ghosts.shafts.amount=0.3 ghosts.air.amount=0.2 ghosts.mirror[0].amount=0.1 ghosts.mirror[0].scaleX=-0.7 ghosts.mirror[0].blurX=0.05',
  'ghosts.pairs.3-4.gain=2 ghosts.groups.g.gain=1.5',
  'glass.lateral=0.02 glass.axial=0.02 glass.k1=0.03 glass.vignette.natural=0.6 glass.vignette.optical=0.4 glass.vignette.amount=0.2',
  'glass.scene.on=true glass.scene.matte=matte.boat glass.pieces[0].on=true glass.pieces[0].matte=matte.boat',
  'film.exposure=0.5 film.temperature=5000 film.contrast=1.1 film.lift=0.01 film.saturation=1.1 film.hues.red.shift=5',
  'film.halation.amount=0.05 film.halation.radius=2000 film.grain.amount=0.05 film.sharpen.amount=0.5 film.sharpen.radius=0.04',
].flatMap((line) => (line.startsWith('masks=') ? [line] : line.split(' ')));

/** A second element that covers some of the first, and what is set of it. */
function card(): Plate {
  const base = plate();
  return { ...base, id: 'card', name: 'card.exr' };
}
const ELEMENTS = [
  'veil.on=false elements[1].opacity=0.8 elements[1].distance=2 elements[1].source=sum elements[1].clamp=300',
  'elements[1].despike=20 elements[1].exposure=0.2 elements[1].mask=a elements[1].passes.diffuse.gain=0.1',
  'elements[1].contrast=1.1 elements[1].corrections[0].exposure=0.1 elements[1].corrections[0].mask=b',
  'elements[1].corrections[0].contrast=1.1',
].flatMap((line) => line.split(' '));

/** A value that a setting does not have in a look, near the present one. */
function anotherValue(setting: Setting, value: SettingValue): SettingValue | undefined {
  switch (setting.kind) {
    case 'number': {
      const step = Math.max(setting.step, (setting.max - setting.min) * 0.02);
      const next = (value as number) + step;
      return next <= setting.max ? next : (value as number) - step;
    }
    case 'switch':
      return !value;
    case 'choice':
      return setting.options.find((option) => option.value !== value)!.value;
    case 'pass':
      if (setting.path.endsWith('.normals')) return 'M';
      return setting.of === 'light' ? 'emission' : 'far';
    case 'colour':
      return '#c08040';
    case 'curve':
      return [
        [-4, -5],
        [4, 5],
      ];
    case 'order':
      return ['emission', 'diffuse'];
    case 'weights':
      return { emission: 0.5 };
    case 'mask':
      return value === 'a' ? 'b' : 'a';
    case 'image':
      return 'star';
    case 'text':
      return `${value as string}x`;
    case 'document':
      return LENS_DESIGNS.get('telephoto-f5.6')! as unknown as SettingValue;
    case 'masks':
      return JSON.parse(JSON.stringify(MASKS).replace('"invert":false', '"invert":true')) as SettingValue;
  }
}

describe('keys of the caches', () => {
  const shared = { plate: plate(), kernels: kernelsOn(serialRunner), draft: true };
  const everything: Look = withOwnLens(
    EVERYTHING.reduce(assignSetting, defaultLook()),
    LENS_DESIGNS.get('triplet-f5')!,
  );
  // Spikes and ghosts take most of the time, and only some settings reach them.
  const withoutSpikes = ['veil.spikes.on=false', 'veil.filter.on=false'].reduce(assignSetting, everything);
  const withoutGhosts = assignSetting(everything, 'ghosts.on=false');
  const withoutBoth = assignSetting(withoutSpikes, 'ghosts.on=false');
  const withoutEnd = (look: Look): Look => ['glass.on=false', 'film.on=false'].reduce(assignSetting, look);
  const bases = {
    everything,
    lens: withoutEnd(everything),
    spikes: withoutEnd(withoutGhosts),
    ghosts: withoutEnd(withoutSpikes),
    traced: assignSetting(withoutSpikes, 'glass.fromLens=true'),
    plate: withoutSpikes,
    glass: assignSetting(withoutBoth, 'veil.on=false'),
    film: ['veil.on=false', 'focus.on=false'].reduce(assignSetting, withoutBoth),
    others: withoutEnd(withoutBoth),
    elements: ELEMENTS.reduce(assignSetting, withoutEnd(withoutBoth)),
  };
  /** A look in which a setting has a say, with as little besides as may be. */
  const baseFor = (path: string): Look => {
    if (/^elements/.test(path)) return bases.elements;
    if (/^camera/.test(path)) return bases.everything;
    if (/^pupil/.test(path)) return bases.lens;
    if (/^veil\.(spikes|filter|edge)/.test(path)) return bases.spikes;
    if (/^ghosts\.(design|own)$/.test(path)) return bases.traced;
    if (/^(ghosts|focus\.depth|veil\.feed)/.test(path)) return bases.ghosts;
    if (/^(plate|masks)/.test(path)) return bases.plate;
    if (/^glass/.test(path)) return bases.glass;
    return /^film/.test(path) ? bases.film : bases.others;
  };
  const warm = new ContentCache(1e9);
  const stacked = stackPlates(shared.plate, [shared.plate, card()]);
  const run = (look: Look, cache: ContentCache): Promise<Evaluation> => {
    const own = look.elements.length > 1 ? stacked : shared.plate;
    const context: StationContext = { ...shared, plate: own, cache, image: (name) => IMAGES[name] };
    return evaluate(look, context, { scale: 1 });
  };
  beforeAll(async () => {
    for (const base of Object.values(bases)) await run(base, warm);
  });

  const settings = SETTINGS.map((setting) => ({
    ...setting,
    path: setting.path
      .replace(`pairs.${NAME}`, 'pairs.3-4')
      .replace(`groups.${NAME}`, 'groups.g')
      .replace(NAME, 'diffuse')
      .replace(/^elements\[i\]/, 'elements[1]')
      .replaceAll(PLACE, '[0]'),
  }));

  it.each(settings.map((setting) => [setting.path, setting] as const))(
    'tell looks apart that differ in %s',
    async (path, setting) => {
      const base = baseFor(path);
      const keys = path.replace(/\[(\d+)\]/g, '.$1').split('.');
      const value = keys.reduce<unknown>((node, key) => (node as Record<string, unknown>)[key], base);
      const changed = setSetting(base, path, anotherValue(setting, value as SettingValue)!);
      expect(changed).not.toEqual(base);
      const [kept, fresh] = [await run(changed, warm), await run(changed, new ContentCache(0))];
      kept.light.total.forEach((plane, c) => expect(plane).toEqual(fresh.light.total[c]));
      expect(kept.light.separations.map(({ name }) => name)).toEqual(
        fresh.light.separations.map(({ name }) => name),
      );
    },
  );
});
