import { addChannel, emptyPicture } from '../../image/picture';
import { depthWarnings } from '../../light/depth';
import { distanceAt, readDepth } from '../../light/distances';
import { makePlate, type Plate } from '../../light/plate';
import { assignSetting, defaultLook, setSetting, type Look } from '../../look/look';
import { blurFacts, solveDisc } from './blur-facts';
import { blurRadius } from './radius';

const [WIDTH, HEIGHT] = [120, 80];

/** A plate whose distances go evenly from one to another, as numbers of its depth pass. */
function plateOf(near: number, far: number): Plate {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const grey = new Float32Array(WIDTH * HEIGHT).fill(0.2);
  for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', grey);
  const depth = grey.map((_, i) => near + ((far - near) * i) / grey.length);
  addChannel(picture, 'depth.Z', 'float', depth);
  return makePlate('p', 'test.exr', picture);
}

const lookOf = (...settings: string[]): Look =>
  ['focus.on=true', 'camera.fStop=2.8', 'camera.focusDistance=3', ...settings].reduce(
    assignSetting,
    defaultLook(),
  );
const warned = (look: Look, plate: Plate): string =>
  blurFacts(look, plate, readDepth(plate, look)).warnings.join('\n');

describe('what blurs', () => {
  it('is counted, and the subjects are found', () => {
    const plate = plateOf(1, 9);
    const look = lookOf('camera.fStop=0.7');
    const { subjects, largest, blurred, warnings } = blurFacts(look, plate, readDepth(plate, look));
    expect(subjects!.near).toBeCloseTo(1.04, 1);
    expect(subjects!.far).toBeCloseTo(8.96, 1);
    expect(largest).toBeCloseTo(2 * Math.abs(blurRadius(look, plate, 1, 1)), 3);
    const sharp = readDepth(plate, look).filter((z) => Math.abs(blurRadius(look, plate, 1, z)) <= 0.5);
    expect(blurred).toBeCloseTo(1 - sharp.length / (WIDTH * HEIGHT), 2);
    expect(warnings).toEqual([]);
  });

  it('is told to be nothing, and why: mostly the unit', () => {
    // A room of 3 m that was rendered in centimetres.
    const room = warned(lookOf('camera.focusDistance=200'), plateOf(250, 400));
    expect(room).toMatch(/nothing blurs over a pixel.*Is the depth in cm instead of m\?/);
    expect(warned(lookOf('focus.amount=0'), plateOf(1, 9))).toMatch(/the amount is 0/);
    const small = warned(lookOf('camera.fStop=22'), plateOf(2.6, 3.5));
    expect(small).toMatch(/lie in what is sharp at f\/22.*f\/[\d.]+ would blur the nearest/);
    expect(small).not.toMatch(/Is the depth in/);
  });

  it('is told to be too much for a lens in a distant view, and too near for a scene', () => {
    const valley = plateOf(40, 900);
    const toy = lookOf(
      'camera.focusDistance=50',
      'camera.focalLength=50',
      'focus.amount=10',
      'camera.fStop=0.7',
    );
    expect(warned(toy, valley)).toMatch(/larger than a lens could make: its pupil would be 714 mm wide/);
    // The same f-stop as a lens has it.
    expect(warned(lookOf('camera.focusDistance=50', 'camera.fStop=1.4'), valley)).not.toMatch(/larger than/);
    expect(warned(lookOf('camera.focusDistance=0.1'), plateOf(0.02, 0.2))).toMatch(/all of it lies within/);
  });
});

describe('a wished disc', () => {
  const frame = { width: WIDTH, height: HEIGHT };
  // By definition: the setting that is found gives the disc.
  it.each(['fStop', 'amount'] as const)('is made by the %s that is found', (by) => {
    const plate = plateOf(1, 9);
    for (const distance of [1, 2, 5, 1e6])
      for (const pixels of [0.4, 1, 2]) {
        const look = lookOf('camera.focalLength=100', 'focus.amount=0.8', 'focus.limit=0.25');
        const solved = solveDisc(look, frame, { distance, pixels, by });
        if (!('value' in solved)) throw new Error(solved.why);
        const made = setSetting(look, solved.path, solved.value);
        expect((2 * Math.abs(blurRadius(made, plate, 1, distance))) / pixels).toBeCloseTo(1, 2);
      }
  });

  it('that cannot be is refused in words', () => {
    const why = (settings: string[], wish: Partial<Parameters<typeof solveDisc>[2]>): string => {
      const solved = solveDisc(lookOf(...settings), frame, { distance: 6, pixels: 4, by: 'fStop', ...wish });
      return 'why' in solved ? solved.why : '';
    };
    expect(why([], { distance: 3 })).toMatch(/3 m away is in focus/);
    expect(why([], { distance: 3, by: 'amount' })).toMatch(/is in focus/);
    expect(why(['focus.amount=0'], {})).toMatch(/the amount is 0/);
    expect(why(['focus.limit=0.01'], { pixels: 20 })).toMatch(/limit of Focus/);
    expect(why(['focus.limit=0.25'], { distance: 3.2, pixels: 20 })).toMatch(
      /would take f\/0\.\d+: f-stops go/,
    );
    expect(why(['camera.fStop=64', 'focus.limit=0.25'], { by: 'amount', distance: 3.2, pixels: 20 })).toMatch(
      /an amount of/,
    );
  });
});

describe('a depth of 8 bits', () => {
  const coarse = (): Plate => {
    const plate = plateOf(0, 1);
    const { samples } = plate.depth!.channels[0]!.channel;
    (samples as Float32Array).forEach(
      (value, i) => ((samples as Float32Array)[i] = Math.round(value * 200) / 255),
    );
    return plate;
  };
  const range = ['focus.depth.reading=normalised', 'focus.depth.near=2', 'focus.depth.far=53'];

  it('is smoothed unless that is switched off, and its step is told in metres', () => {
    const look = lookOf(...range);
    const rough = lookOf(...range, 'focus.depth.smooth=false');
    const [smooth, banded] = [readDepth(coarse(), look), readDepth(coarse(), rough)];
    expect(new Set(banded).size).toBe(201);
    expect(new Set(smooth).size).toBeGreaterThan(1000);
    // By the range: 51 m in 255 steps.
    expect(depthWarnings(coarse(), look).join()).toMatch(
      /201 distances in steps of 0\.2 m, smoothed within surfaces/,
    );
    expect(depthWarnings(coarse(), rough).join()).toMatch(/which band when they are blurred/);
    // What is picked is within half a step of what is blurred.
    const picked = distanceAt(coarse(), look, 60, 40)!;
    expect(Math.abs(picked - smooth[40 * WIDTH + 60]!)).toBeLessThan(0.11);
  });
});
