import { FileError } from '../errors';
import { coverPlane } from './cover';
import { fillFrame, frameOf } from './frame';
import { HISTOGRAM_BINS, histogramOf } from './histogram';
import { mergePictures, type PassFile } from './merge';
import { passesOf } from './passes';
import { addChannel, emptyPicture, type Picture } from './picture';
import { groupFiles, readFileName } from './file-names';

function picture(names: readonly string[], width = 4, height = 2): Picture {
  const made = emptyPicture(width, height);
  for (const [k, name] of names.entries())
    addChannel(
      made,
      name,
      'float',
      Float32Array.from({ length: width * height }, (_, i) => i + 100 * k),
    );
  return made;
}

describe('names of files', () => {
  it.each([
    ['shot_emission.exr', { base: 'shot', pass: 'emission', role: 'emission', frame: undefined }],
    ['shot.diffuse.0001.exr', { base: 'shot', pass: 'diffuse', role: 'diffuse', frame: 1 }],
    ['shot_0042_depth.exr', { base: 'shot_0042', pass: 'depth', role: 'depth', frame: undefined }],
    ['pier.1001.exr', { base: 'pier', pass: undefined, role: undefined, frame: 1001 }],
    ['folder/pier-Z.tif', { base: 'pier', pass: 'z', role: 'depth', frame: undefined }],
    ['n_over_z_street.exr', { base: 'n_over_z_street', pass: undefined, role: undefined, frame: undefined }],
    ['depth.png', { base: '', pass: 'depth', role: 'depth', frame: undefined }],
    ['take2.exr', { base: 'take2', pass: undefined, role: undefined, frame: undefined }],
    [
      'pier_DiffuseLighting.exr',
      { base: 'pier', pass: 'diffuselighting', role: 'diffuse', frame: undefined },
    ],
    ['pier_z_depth.0007.exr', { base: 'pier', pass: 'z_depth', role: 'depth', frame: 7 }],
    [
      'pier_global_illumination.exr',
      { base: 'pier', pass: 'global_illumination', role: 'indirect', frame: undefined },
    ],
    ['pier_diffuse_direct.exr', { base: 'pier', pass: 'diffuse_direct', role: 'diffuse', frame: undefined }],
    ['pier_object_id.exr', { base: 'pier', pass: 'object_id', role: 'matte', frame: undefined }],
    ['pier_light_diffuse.exr', { base: 'pier_light', pass: 'diffuse', role: 'diffuse', frame: undefined }],
    ['pier-Emission2.exr', { base: 'pier', pass: 'emission2', role: 'emission', frame: undefined }],
    [
      'main_hall_fog_street.exr',
      { base: 'main_hall_fog_street', pass: undefined, role: undefined, frame: undefined },
    ],
    ['pier_fog.exr', { base: 'pier', pass: 'fog', role: 'volume', frame: undefined }],
    ['0001.exr', { base: '0001', pass: undefined, role: undefined, frame: undefined }],
  ])('%s tells its base, pass and frame', (file, wanted) => {
    expect(readFileName(file)).toEqual(wanted);
  });
});

describe('many files', () => {
  const names = (files: string[]) =>
    groupFiles(files.map((name) => ({ name }))).map((group) => ({
      name: group.name,
      frames: group.frames.map(({ frame, files: members }) => [frame, members.map(({ file }) => file.name)]),
    }));

  it('of one base are passes of one picture, the beauty first', () => {
    expect(names(['pier_depth.exr', 'pier_diffuse.exr', 'pier_beauty.exr', 'quay.exr'])).toEqual([
      { name: 'pier', frames: [[undefined, ['pier_beauty.exr', 'pier_depth.exr', 'pier_diffuse.exr']]] },
      { name: 'quay.exr', frames: [[undefined, ['quay.exr']]] },
    ]);
  });

  it('called only by their pass go with the one picture beside them', () => {
    expect(names(['shot.png', 'depth.png'])).toEqual([
      { name: 'shot', frames: [[undefined, ['shot.png', 'depth.png']]] },
    ]);
    expect(names(['shot.png', 'other.png', 'depth.png'])).toHaveLength(3);
    // A picture of noise or a texture is as often one of its own.
    expect(names(['shot.png', 'noise.png'])).toHaveLength(2);
    expect(names(['texture.png', 'noise.png'])).toHaveLength(2);
  });

  it('with numbers are frames of a sequence, in order', () => {
    expect(names(['a.0010.exr', 'a.0002.exr', 'a_emission.0002.exr', 'a_emission.0010.exr'])).toEqual([
      {
        name: 'a',
        frames: [
          [2, ['a.0002.exr', 'a_emission.0002.exr']],
          [10, ['a.0010.exr', 'a_emission.0010.exr']],
        ],
      },
    ]);
  });

  const file = (name: string, made: Picture): PassFile => ({
    name,
    about: readFileName(name),
    picture: made,
  });

  it('become one picture whose passes have the files’ names', () => {
    const merged = mergePictures([
      file('pier_beauty.exr', picture(['R', 'G', 'B', 'A'])),
      file('pier_emission.exr', picture(['R', 'G', 'B'])),
      file('pier_depth.exr', picture(['Z'])),
      file('pier_extra.exr', picture(['R', 'G', 'B', 'sheen.R'])),
    ]);
    expect([...merged.channels.keys()]).toEqual([
      'R',
      'G',
      'B',
      'A',
      'emission.R',
      'emission.G',
      'emission.B',
      'depth.Z',
      'pier_extra.R',
      'pier_extra.G',
      'pier_extra.B',
      'sheen.R',
    ]);
    expect(merged.channels.get('emission.G')!.name).toBe('emission.G');
    const roles = Object.fromEntries(passesOf(merged).map((pass) => [pass.name, pass.role]));
    expect(roles).toMatchObject({ beauty: 'beauty', emission: 'emission', depth: 'depth' });
  });

  it('that bring the same channel twice keep both', () => {
    const merged = mergePictures([
      file('a_beauty.exr', picture(['R', 'G', 'B', 'N.X'])),
      file('a_diffuse.exr', picture(['R', 'G', 'B', 'N.X'])),
      file('a_diffuse_2.exr', picture(['R', 'G', 'B', 'N.X'])),
    ]);
    expect([...merged.channels.keys()]).toEqual(
      expect.arrayContaining(['N.X', 'diffuse.N.X', 'diffuse.R', 'diffuse.diffuse.R']),
    );
    expect(merged.channels.size).toBe(12);
  });

  const older = (render: string, name: string, made: Picture): PassFile => ({
    ...file(name, made),
    older: render,
  });
  const origins = ({ older: of = new Map<string, string>() }: Picture) => Object.fromEntries(of);

  it('of older renders stand in for passes that the newest lacks', () => {
    const [diffuse, beauty] = [picture(['R', 'G', 'B']), picture(['R', 'G', 'B', 'A', 'Z', 'emission.R'])];
    const merged = mergePictures([
      file('pier_diffuse.exr', diffuse),
      older('version 2', 'pier_depth.exr', picture(['depth.Z', 'extra.R'])),
      older('version 1', 'pier_beauty.exr', beauty),
      older('version 1', 'pier_diffuse.exr', picture(['R', 'G', 'B'])),
    ]);
    // There is one depth, whatever it is called.
    expect(origins(merged)).toEqual({
      beauty: 'version 1',
      depth: 'version 2',
      extra: 'version 2',
      emission: 'version 1',
    });
    expect(merged.channels.get('diffuse.R')!.samples).toBe(diffuse.channels.get('R')!.samples);
    expect(merged.channels.get('R')!.samples).toBe(beauty.channels.get('R')!.samples);
    expect(merged.channels.has('Z')).toBe(false);
  });

  it('of older renders of another size are left out, and it is said', () => {
    const merged = mergePictures([
      file('pier.exr', picture(['R', 'G', 'B'])),
      older('version 1', 'pier.exr', picture(['R', 'G', 'B', 'fog.R'], 5, 2)),
    ]);
    expect(merged.older).toBeUndefined();
    expect(merged.warnings).toEqual([expect.stringMatching(/fog of version 1 is left out: it is 5 x 2/)]);
  });

  it('of different sizes are refused, and it is said which and how', () => {
    const files = [file('a_beauty.exr', picture(['R'])), file('a_depth.exr', picture(['Z'], 5, 2))];
    expect(() => mergePictures(files)).toThrow(FileError);
    expect(() => mergePictures(files)).toThrow(/5 x 2 pixels, but a_beauty\.exr is 4 x 2/);
  });
});

describe('roles corrected by hand', () => {
  it('decide what a pass is and how it is read', () => {
    const made = picture(['R', 'G', 'B', 'extra.R', 'extra.G', 'extra.B', 'far.V']);
    const kinds = (roles: Parameters<typeof passesOf>[1]) =>
      Object.fromEntries(passesOf(made, roles).map((pass) => [pass.name, [pass.role, pass.kind]]));
    expect(kinds({})).toMatchObject({ extra: ['other', 'colour'], far: ['other', 'other'] });
    expect(kinds({ extra: 'emission', far: 'depth' })).toMatchObject({
      extra: ['emission', 'colour'],
      far: ['depth', 'depth'],
    });
    expect(passesOf(made, { extra: 'beauty' })[0]!.role).toBe('beauty');
  });
});

describe('the frame', () => {
  const windowed = (data: [number, number], frame: [number, number, number, number]): Picture => ({
    ...picture(['R']),
    dataWindow: { xMin: data[0], yMin: data[1], xMax: data[0] + 3, yMax: data[1] + 1 },
    displayWindow: { xMin: frame[0], yMin: frame[1], xMax: frame[2], yMax: frame[3] },
  });

  it('is filled with black where the pixels do not reach', () => {
    const filled = fillFrame(windowed([1, 1], [0, 0, 5, 3]));
    expect([filled.width, filled.height]).toEqual([6, 4]);
    const samples = [...filled.channels.get('R')!.samples];
    expect(samples.slice(0, 7)).toEqual([0, 0, 0, 0, 0, 0, 0]);
    expect(samples.slice(7, 11)).toEqual([0, 1, 2, 3]);
    expect(frameOf(filled)).toEqual({ x: 0, y: 0, width: 6, height: 4 });
  });

  it('leaves overscan where it is', () => {
    const overscanned = windowed([-1, 0], [0, 0, 1, 1]);
    expect(fillFrame(overscanned)).toBe(overscanned);
    expect(frameOf(overscanned)).toEqual({ x: 1, y: 0, width: 2, height: 2 });
  });

  it('that is absurd is left out with a word, before memory is taken', () => {
    const filled = fillFrame(windowed([0, 0], [0, 0, 2_000_000, 2_000_000]));
    expect([filled.width, filled.height]).toEqual([4, 2]);
    expect(filled.warnings[0]).toMatch(/far larger than its pixels/);
    expect(frameOf(windowed([0, 0], [50, 50, 60, 60]))).toEqual({ x: 0, y: 0, width: 4, height: 2 });
  });
});

describe('a picture that covers another', () => {
  it('is cut evenly and keeps flat light flat', () => {
    const flat = coverPlane(new Float32Array(40 * 10).fill(0.3), 40, 10, 16, 16);
    flat.forEach((value) => expect(value).toBeCloseTo(0.3, 6));
    const ramp = Float32Array.from({ length: 40 * 10 }, (_, i) => i % 40);
    const middle = coverPlane(ramp, 40, 10, 10, 10);
    expect(middle[0]).toBeCloseTo(15, 5);
    expect(middle[9]).toBeCloseTo(24, 5);
    const grown = coverPlane(Float32Array.of(0, 1), 2, 1, 8, 4);
    expect(grown[0]).toBe(0);
    expect(grown[7]).toBe(1);
    expect(grown[3]).toBeCloseTo(0.375, 6);
  });
});

describe('the histogram', () => {
  it('counts shares of pixels by stops from middle grey', () => {
    const plane = Float32Array.of(0.18, 0.18 * 2, 1.5, -0.2, 0, 1e9);
    const { channels, clipped, negative, black } = histogramOf([plane, plane, plane]);
    expect(channels[0][HISTOGRAM_BINS / 2]).toBeCloseTo(1 / 6, 12);
    expect(channels[0][HISTOGRAM_BINS / 2 + 4]).toBeCloseTo(1 / 6, 12);
    expect(channels[0][HISTOGRAM_BINS - 1]).toBeCloseTo(1 / 6, 12);
    expect(channels[0].reduce((sum, share) => sum + share, 0)).toBeCloseTo(4 / 6, 12);
    expect([clipped, negative, black].map((share) => Math.round(share * 6))).toEqual([2, 1, 1]);
  });
});
