import { NEW_PLATE, filesOnBench, type PlateEntry, type PlateVersion } from './shot';
import { hasOlder, keepOlder, withNewerRender } from './versions';

let ids = 0;
/** A version of files by the numbers of their frames. */
const render = (frames: [frame: number | null, ...names: string[]][]): PlateVersion => ({
  id: `v${++ids}`,
  frames: frames.map(([frame, ...names]) => ({
    frame,
    files: names.map((name) => ({ id: `f${++ids}`, name })),
  })),
});
const plateOf = (version: PlateVersion, frame = 0): PlateEntry => ({
  ...NEW_PLATE,
  id: 'p',
  name: 'pier',
  versions: [version],
  frame,
});
const onBench = (plate: PlateEntry) => filesOnBench(plate).map(({ name, older }) => [name, older]);

describe('a newer render of a plate', () => {
  it('has the files of the one before behind its own, but for passes that have a file of their own', () => {
    const plate = plateOf(render([[null, 'pier_beauty.exr', 'pier_diffuse.exr', 'pier_depth.exr']]));
    const second = withNewerRender(plate, render([[null, 'pier_diffuse.exr']]));
    expect(onBench(second)).toEqual([
      ['pier_diffuse.exr', undefined],
      ['pier_beauty.exr', 'version 1'],
      ['pier_depth.exr', 'version 1'],
    ]);
    const third = withNewerRender(second, render([[null, 'pier_v003_depth.exr']]));
    expect(onBench(third)).toEqual([
      ['pier_v003_depth.exr', undefined],
      ['pier_diffuse.exr', 'version 2'],
      ['pier_beauty.exr', 'version 1'],
    ]);
    expect(hasOlder(keepOlder(third, () => false))).toBe(false);
    expect(onBench(keepOlder(third, ({ name }) => name.includes('beauty')))).toHaveLength(2);
  });

  it('of some frames has the others of the version before, and stays at the frame that was on the bench', () => {
    const plate = plateOf(
      render([
        [1, 'pier.0001.exr'],
        [2, 'pier.0002.exr'],
        [4, 'pier.0004.exr'],
      ]),
      2,
    );
    const second = withNewerRender(
      plate,
      render([
        [2, 'pier.0002.exr'],
        [3, 'pier.0003.exr'],
      ]),
    );
    const { frames } = second.versions[1]!;
    expect(frames.map(({ frame }) => frame)).toEqual([1, 2, 3, 4]);
    expect(frames[second.frame]!.frame).toBe(4);
    expect(frames[3]).toBe(plate.versions[0]!.frames[2]);
    expect(frames.map(({ older }) => older?.length ?? 0)).toEqual([0, 1, 0, 0]);
  });

  it('of another thing, or a still in the place of a sequence, stands alone', () => {
    const plate = plateOf(render([[null, 'pier.exr']]));
    expect(onBench(withNewerRender(plate, render([[null, 'crane.exr']])))).toEqual([
      ['crane.exr', undefined],
    ]);
    const sequence = plateOf(render([[1, 'pier.0001.exr']]));
    expect(withNewerRender(sequence, render([[null, 'pier.exr']])).versions[1]!.frames).toHaveLength(1);
  });

  it('pushes out the oldest when there are too many', () => {
    let plate = plateOf(render([[null, 'pier.exr']]));
    for (let k = 0; k < 105; k++) plate = withNewerRender(plate, render([[null, 'pier.exr']]));
    expect(plate.versions).toHaveLength(100);
    expect(plate.version).toBe(99);
  });
});
