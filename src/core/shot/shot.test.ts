import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { BokeluxError, FileError } from '../errors';
import { assignSetting, defaultLook } from '../look/look';
import { bytesSource, openArchive, packShot, writeArchive } from './archive';
import { withFreshIds } from './fresh-ids';
import {
  elementsOfPlate,
  EMPTY_SHOT,
  frameAmongElements,
  parseShot,
  partsOfPlates,
  plateOfFile,
  shotDocument,
  type PlateEntry,
  type Shot,
} from './shot';

const shot: Shot = {
  name: 'Quay at night',
  plates: [plateOfFile('a', 'quay.exr'), plateOfFile('b', '../../naughty.exr')],
  references: [
    { id: 'r', name: 'harbour', file: { id: 'c', name: 'harbour.jpg' }, exposure: -1, white: [1, 1, 1.5] },
  ],
  images: [{ id: 'm', name: 'leaf.png' }],
  proofs: [
    {
      id: 'p',
      name: 'Warm',
      note: 'the one from Tuesday',
      time: 1700000000000,
      of: { plate: 'a', version: 'a', frame: 0 },
      picture: { id: 'pp', name: 'Warm.png' },
      look: assignSetting(defaultLook(), 'veil.bloom.amount=0.08'),
    },
  ],
  activePlate: 'b',
  follows: { name: 'Harbour at night', look: defaultLook() },
  tracks: {},
  reel: EMPTY_SHOT.reel,
  look: assignSetting(defaultLook(), 'veil.bloom.amount=0.02'),
};
const files = new Map([
  ['a', Uint8Array.of(1, 2, 3)],
  ['b', new Uint8Array(5000).fill(7)],
  ['c', Uint8Array.of(9)],
  ['m', Uint8Array.of(4, 4)],
  ['pp', Uint8Array.of(5, 6)],
]);

const archive = (content: Record<string, string>): Uint8Array =>
  zipSync(Object.fromEntries(Object.entries(content).map(([name, text]) => [name, strToU8(text)])));

const open = (bytes: Uint8Array) => openArchive(bytesSource(bytes), 'x.bokelux');

describe('a shot file', () => {
  it('brings everything back', async () => {
    const packed = await packShot({ shot, files });
    const again = await open(packed);
    expect(again.shot).toEqual(shot);
    for (const [id, bytes] of files) {
      expect(await again.read(id)).toEqual(bytes);
      // Pictures lie in it as they are.
      const { offset, size } = (await again.locate(id))!;
      expect(packed.slice(offset, offset + size)).toEqual(bytes);
    }
  });

  it('says which plate has no file', async () => {
    await expect(packShot({ shot, files: new Map() })).rejects.toThrow(/quay\.exr are missing/);
  });

  it('may be larger than 4 GiB', async () => {
    // [APPNOTE 6.3.10, 4.3.14: the record that ends the central directory of ZIP64 begins with PK 6 6.]
    const block = new Uint8Array(64 * 1024 ** 2);
    const [blocks, least] = [66, 4 * 1024 ** 3];
    let left = blocks;
    const big = (): ReadableStream<Uint8Array> =>
      new ReadableStream({
        pull: (control) => (left-- > 0 ? control.enqueue(block) : control.close()),
      });
    // Zeros are only counted; the rest is kept with where it stood.
    const kept: { at: number; bytes: Uint8Array }[] = [];
    let size = 0;
    const target = new WritableStream<Uint8Array>({
      write(bytes) {
        if (bytes.length < 65536) kept.push({ at: size, bytes });
        size += bytes.length;
      },
    });
    const only = {
      ...shot,
      plates: [shot.plates[0]!],
      references: [],
      images: [],
      proofs: [],
      activePlate: 'a',
    };
    await writeArchive(only, () => Promise.resolve(big()), target);
    expect(size).toBeGreaterThan(least);
    const tail = Buffer.concat(kept.slice(-6).map(({ bytes }) => bytes));
    expect(tail.includes(Buffer.from([0x50, 0x4b, 6, 6]))).toBe(true);
    const read = (offset: number, length: number): Promise<Uint8Array> => {
      const out = new Uint8Array(length);
      for (const { at, bytes } of kept)
        for (let k = Math.max(0, offset - at); k < bytes.length && at + k < offset + length; k++)
          out[at + k - offset] = bytes[k]!;
      return Promise.resolve(out);
    };
    const again = await openArchive({ size, read }, 'big.bokelux');
    expect(again.shot).toEqual(only);
    expect((await again.locate('a'))!.size).toBe(blocks * block.length);
  }, 120_000);

  it.each([
    ['no archive at all', strToU8('hello'), /not a shot file/],
    ['nothing', new Uint8Array(0), /not a shot file/],
    ['an archive of something else', archive({ 'a.txt': 'x' }), /holds no shot\.json/],
    ['a document that is not JSON', archive({ 'shot.json': '{' }), /is not JSON/],
    ['a document of another kind', archive({ 'shot.json': '{"kind":"letter"}' }), /damaged: kind/],
    [
      'a newer version',
      archive({ 'shot.json': '{"kind":"bokelux shot","version":8}' }),
      /version 8; this program knows up to 6/,
    ],
    ['a missing plate', archive({ 'shot.json': JSON.stringify(shotDocument(shot)) }), /lacks quay\.exr/],
    [
      'a look that does not fit',
      archive({
        'shot.json': JSON.stringify({ ...(shotDocument(shot) as object), look: { veil: { mode: 'x' } } }),
      }),
      /veil\.mode/,
    ],
  ])('with %s is refused', async (_, bytes, message) => {
    await expect(open(bytes)).rejects.toThrow(message);
    await expect(open(bytes)).rejects.toThrow(BokeluxError);
  });

  it('survives any cut or flipped byte', async () => {
    const whole = await packShot({ shot, files });
    await fc.assert(
      fc.asyncProperty(
        fc.nat(whole.length - 1),
        fc.integer({ min: 1, max: 255 }),
        fc.boolean(),
        async (at, flip, cut) => {
          const bytes = whole.slice(0, cut ? at : whole.length);
          if (!cut) bytes[at]! ^= flip;
          try {
            const opened = await open(bytes);
            for (const id of files.keys()) await opened.read(id);
          } catch (error) {
            expect(error).toBeInstanceOf(BokeluxError);
          }
        },
      ),
      { numRuns: 300 },
    );
  });

  it('refuses any other JSON by a typed error', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (data) => {
        expect(() => parseShot(data)).toThrow(FileError);
      }),
      { numRuns: 200 },
    );
  });
});

describe('the elements of a plate', () => {
  const sequence = (id: string, ...numbers: (number | null)[]): PlateEntry => ({
    ...plateOfFile(id, `${id}.exr`),
    versions: [
      { id, frames: numbers.map((frame) => ({ frame, files: [{ id: `${id}${frame}`, name: 'f.exr' }] })) },
    ],
  });
  const [set, smoke, card] = [sequence('set', 1, 2, 3), sequence('smoke', 2, 3, 4), sequence('card', null)];
  const whole = { ...set, elements: ['card', 'set', 'smoke'] };
  const plates = [whole, smoke, card];

  it('are plates of the shot in an order of their own', () => {
    expect(elementsOfPlate(whole, plates).map(({ id }) => id)).toEqual(['card', 'set', 'smoke']);
    expect(elementsOfPlate(smoke, plates)).toEqual([smoke]);
    expect([...partsOfPlates(plates)]).toEqual([
      ['card', 'set'],
      ['smoke', 'set'],
    ]);
  });

  it('follow the frame of their plate by its number, and are not there where they have none', () => {
    const at = (frame: number) => ({ ...whole, frame });
    expect([0, 1, 2].map((frame) => frameAmongElements(smoke, at(frame)))).toEqual([undefined, 0, 1]);
    expect(frameAmongElements(card, at(2))).toBe(0);
    expect(frameAmongElements(whole, at(2))).toBe(0);
    expect(frameAmongElements(smoke, { ...card, elements: [] })).toBe(0);
  });

  it('keep together when a shot gets ids of its own, and stand in its file', () => {
    let next = 0;
    const own: Shot = {
      ...shot,
      plates,
      references: [],
      images: [],
      proofs: [],
      follows: null,
      tracks: EMPTY_SHOT.tracks,
      reel: EMPTY_SHOT.reel,
      activePlate: 'set',
    };
    const { shot: fresh } = withFreshIds(own, () => `id${next++}`);
    const ids = new Map(own.plates.map(({ id }, k) => [id, fresh.plates[k]!.id]));
    expect(fresh.plates[0]!.elements).toEqual(whole.elements.map((id) => ids.get(id)));
    expect(parseShot(JSON.parse(JSON.stringify(shotDocument(own)))).plates[0]!.elements).toEqual(
      whole.elements,
    );
  });

  it('are none in shots of before, and are refused where they are not there', () => {
    const { id, name, versions } = plateOfFile('a', 'quay.exr');
    const old = { id, name, versions };
    const document = { ...(shotDocument(shot) as object), version: 2, plates: [old] };
    expect(parseShot(document).plates[0]!.elements).toEqual([]);
    for (const elements of [['a', 'gone'], ['b']])
      expect(() =>
        parseShot({ ...document, version: 3, plates: [{ ...old, elements }] }, 'x.bokelux'),
      ).toThrow(/quay\.exr names elements that are not there/);
  });
});
