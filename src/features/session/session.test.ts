import { defaultLook } from '../../core/look/look';
import { plateOfFile, type Shot } from '../../core/shot/shot';
import { useDesk } from '../../state/desk-store';
import { EMPTY_SHOT, redo, startShot, undo, useShot } from '../../state/shot-store';
import { dropOlder } from './bring-in';
import { useChoice } from './choices';
import { forgetOpenPlates } from './engine-plates';
import { makeRoom, useKept } from './kept';
import { useLooks } from './looks';
import { setNotify } from './notices';
import {
  benchLook,
  chooseVersion,
  removeImage,
  removePlate,
  removeReference,
  setRole,
  syncEngine,
  tryAgain,
} from './open-plates';
import { usePlates } from './plates';
import {
  bringBackProof,
  editProof,
  lastRemovedProof,
  proofPicture,
  proofThumbnail,
  putBack,
  removeProof,
  saveProof,
} from './proofs';
import { packCurrentShot, startSession, takeFiles } from './session';
import { stopWatching, useWatchedFolder, watchFolder } from './watch-folder';

/** An engine that opens everything but files called "bad", and says so as the real one would. */
const mockEngine = {
  open: new Map<string, { name: string; files: string[]; roles: object; older?: string | undefined }>(),
  passes: ['beauty', 'diffuse'],
  nan: 0,
  isIncomplete: false,
  card(id: string) {
    const { name, older } = mockEngine.open.get(id)!;
    const lacking = ['beauty', 'diffuse'].filter((pass) => older && !mockEngine.passes.includes(pass));
    const passes = [
      ...mockEngine.passes.map((pass) => ({ name: pass })),
      ...lacking.map((pass) => ({ name: pass, older })),
    ];
    const camera = name.startsWith('lens') ? { focalLength: 85, fStop: 2 } : undefined;
    return {
      value: {
        camera,
        id,
        name,
        width: 8,
        height: 4,
        nan: mockEngine.nan,
        infinite: 0,
        isIncomplete: mockEngine.isIncomplete,
        warnings: [],
        bytes: 100,
        passes,
      },
    };
  },
  openPlate(id: string, name: string, files: { name: string; older?: string }[], roles: object) {
    const names = files.map((file) => file.name);
    const bad = names.find((file) => file.startsWith('bad'));
    if (bad) return { failure: { kind: 'input', what: 'damaged', where: bad, todo: undefined } };
    const older = files.find((file) => file.older !== undefined)?.older;
    mockEngine.open.set(id, { name, files: names, roles, older });
    return mockEngine.card(id);
  },
  setRoles(id: string, roles: object) {
    mockEngine.open.get(id)!.roles = roles;
    return mockEngine.card(id);
  },
  stackPlate(id: string, base: string, parts: { id?: string; missing?: string }[]) {
    const names = parts.map((part) => part.missing ?? mockEngine.open.get(part.id!)!.name);
    mockEngine.open.set(id, { name: mockEngine.open.get(base)!.name, files: names, roles: {} });
    return { value: null };
  },
  thumbnails: () => ({ value: {} }),
  show: () => ({ value: { bitmap: { width: 8, height: 4, close: () => undefined } } }),
  openImage: (_: string, name: string): unknown =>
    name.startsWith('bad')
      ? { failure: { kind: 'input', what: 'damaged', where: name, todo: undefined } }
      : { value: { name } },
  closePlate: (id: string) => void mockEngine.open.delete(id),
  closeImage: () => undefined,
  packShot: ({ files }: { files: Map<string, Blob> }) => ({ value: new Blob([[...files.keys()].join()]) }),
  unpackShot: (): unknown => mockEngine.unpacked,
  unpacked: undefined as unknown,
};

jest.mock('../../engine/browser/client', () => ({
  EngineError: class EngineError extends Error {
    constructor(readonly failure: { what: string }) {
      super(failure.what);
    }
  },
  benchEngine: () => mockEngine,
  setEngineEvents: (events: typeof mockEvents.current) => (mockEvents.current = events),
  unwrap(outcome: { value?: unknown; failure?: { what: string; where: string } }) {
    if (outcome.failure) throw new Error(`${outcome.failure.where}: ${outcome.failure.what}`);
    return outcome.value;
  },
}));

globalThis.OffscreenCanvas = class {
  getContext = () => ({ drawImage: () => undefined });
  convertToBlob = () => Promise.resolve(new Blob(['png']));
} as unknown as typeof OffscreenCanvas;

/** What the page hears of the engine. */
const mockEvents: { current?: { replaced(ends: number): void; notice(text: string): void } } = {};

/** The browser's store: a map that can be full. */
const mockStore = {
  files: new Map<string, Blob>(),
  document: undefined as unknown,
  earlier: [] as { savedAt: number; shot: Shot }[],
  full: false,
};

/** This tab has a seat. */
jest.mock('../../state/seat', () => ({
  watchSeat: () => undefined,
  takeSeat: () => Promise.resolve({ seat: 1, isFree: true }),
  takenSeats: () => Promise.resolve(new Set([1])),
  ownSeat: () => 1,
}));

jest.mock('../../state/storage', () => ({
  saveFile: (id: string, blob: Blob) => {
    if (mockStore.full) return Promise.reject(new Error('the quota has been exceeded'));
    mockStore.files.set(id, blob);
    return Promise.resolve();
  },
  loadFile: (id: string) => Promise.resolve(mockStore.files.get(id)),
  keptFiles: () => Promise.resolve(new Set(mockStore.files.keys())),
  removeFiles: (ids: Iterable<string>) => {
    for (const id of ids) mockStore.files.delete(id);
    return Promise.resolve();
  },
  saveDocument: (shot: Shot) => {
    mockStore.document = shot;
    return Promise.resolve();
  },
  saveDocumentNow: () => undefined,
  isDocumentKept: () => Promise.resolve(mockStore.document !== undefined),
  loadDocument: () => Promise.resolve(mockStore.document),
  loadLooks: () => Promise.resolve([]),
  saveLook: () => Promise.resolve(),
  earlierShots: () => Promise.resolve(mockStore.earlier),
  keepEarlier: (shot: Shot) => {
    mockStore.earlier.unshift({ savedAt: 0, shot });
    return Promise.resolve();
  },
  collectSeats: () => Promise.resolve(),
  askQuota: () => Promise.resolve({ used: 1, granted: 10 }),
  askToKeep: () => Promise.resolve(),
}));

const told: string[] = [];
const file = (name: string): File => new File([name], name);
const plate = (name: string) => useShot.getState().plates.find((one) => one.name === name)!;
const empty: Shot = {
  ...EMPTY_SHOT,
  plates: [],
  activePlate: null,
  look: defaultLook(),
};

beforeEach(() => {
  told.length = 0;
  setNotify((text, kind) => told.push(`${kind}: ${text}`));
  mockEngine.open.clear();
  mockEngine.passes = ['beauty', 'diffuse'];
  mockEngine.isIncomplete = false;
  Object.assign(mockStore, { full: false, document: undefined, earlier: [] });
  mockStore.files.clear();
  forgetOpenPlates();
  startShot(empty);
  useKept.setState({ earlier: [] });
  usePlates.setState({
    cards: {},
    failures: {},
    thumbnails: {},
    references: {},
    images: {},
    fileBytes: {},
    quota: undefined,
  });
});

describe('an engine that ended', () => {
  it('is given everything of the shot again, and the person is told', async () => {
    await takeFiles([file('quay.exr'), file('pier.exr')]);
    await startSession();
    await takeFiles([file('quay.exr'), file('pier.exr')]);
    const open = [...mockEngine.open.keys()].sort();
    const { plates, look } = useShot.getState();
    mockEngine.open.clear();
    told.length = 0;
    const starts = useDesk.getState().engineStarts;
    mockEvents.current!.replaced(1);
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect([...mockEngine.open.keys()].sort()).toEqual(open);
    expect(useShot.getState()).toMatchObject({ plates, look });
    expect(told).toEqual([expect.stringMatching(/warning: the engine ended.*no edit is lost/)]);
    expect(useDesk.getState().engineStarts).toBe(starts + 1);
  });

  it('again and again is not fed what may end it', async () => {
    await startSession();
    mockEngine.open.clear();
    told.length = 0;
    mockEvents.current!.replaced(4);
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(mockEngine.open.size).toBe(0);
    expect(told).toEqual([expect.stringContaining('error: the engine ended again and again')]);
  });
});

describe('files that are brought in', () => {
  it('become plates by their names, each kept as it came', async () => {
    await takeFiles([file('pier_depth.exr'), file('pier_beauty.exr'), file('quay.exr')]);
    expect(useShot.getState().plates.map(({ name }) => name)).toEqual(['pier', 'quay.exr']);
    const [version] = plate('pier').versions;
    expect(mockEngine.open.get(version!.id)!.files).toEqual(['pier_beauty.exr', 'pier_depth.exr']);
    expect(mockStore.files.size).toBe(3);
    expect(useShot.getState().activePlate).toBe(plate('quay.exr').id);
    expect(usePlates.getState().quota).toEqual({ used: 1, granted: 10 });
    expect(usePlates.getState().opening).toBeNull();
  });

  it('of one name from two folders are two plates, told apart by their folders', async () => {
    const inFolder = (path: string) => Object.assign(file('quay.exr'), { path });
    await takeFiles([inFolder('./day/quay.exr'), inFolder('./night/quay.exr')]);
    expect(useShot.getState().plates.map(({ name }) => name)).toEqual(['quay.exr (day)', 'quay.exr (night)']);
    expect(mockEngine.open.size).toBe(2);
  });

  it('tell of what is no number as soon as they come in', async () => {
    mockEngine.nan = 3;
    await takeFiles([file('holes.exr')]);
    mockEngine.nan = 0;
    expect(told).toEqual([expect.stringMatching(/holes\.exr: 3 samples are not a number/)]);
  });

  it('with numbers become a sequence of which one frame is open', async () => {
    await takeFiles(['walk.0003.exr', 'walk.0001.exr', 'walk.0002.exr'].map(file));
    const { id, versions } = plate('walk');
    expect(versions[0]!.frames.map(({ frame }) => frame)).toEqual([1, 2, 3]);
    expect([...mockEngine.open.values()].map(({ files }) => files)).toEqual([['walk.0001.exr']]);
    await chooseVersion(id, 0, 2);
    expect([...mockEngine.open.values()].map(({ files }) => files)).toEqual([['walk.0003.exr']]);
    expect(plate('walk').frame).toBe(2);
    await chooseVersion(id, 0, 99);
    expect(plate('walk').frame).toBe(2);
  });

  it('that cannot be read leave everything as it was', async () => {
    await takeFiles([file('quay.exr')]);
    await takeFiles([file('bad.exr')]);
    expect(told).toEqual(['error: bad.exr: damaged']);
    expect(useShot.getState().plates).toHaveLength(1);
    expect(mockStore.files.size).toBe(1);
  });

  it('are not taken for leftovers while they are on their way to the shelf', async () => {
    mockStore.files.set('leftover', new Blob(['x']));
    const bringing = takeFiles([file('quay.exr')]);
    for (let k = 0; k < 20; k++) await makeRoom();
    await bringing;
    const { id } = plate('quay.exr').versions[0]!.frames[0]!.files[0]!;
    expect([...mockStore.files.keys()]).toEqual([id]);
  });

  it('are held in memory when the browser is full, so that the shot can still be saved', async () => {
    mockStore.full = true;
    await takeFiles([file('quay.exr')]);
    expect(told[0]).toMatch(/warning: quay\.exr is open, but this browser has no room/);
    const { blob } = await packCurrentShot();
    expect(await blob!.text()).toBe(plate('quay.exr').versions[0]!.frames[0]!.files[0]!.id);
  });

  it('take the look’s place when they are one', async () => {
    const look = new File(['{"version":1,"veil":{"bloom":{"amount":0.5}}}'], 'a.look.json');
    await takeFiles([look]);
    expect(useShot.getState().look.veil.bloom.amount).toBe(0.5);
    await takeFiles([new File(['{'], 'b.json')]);
    expect(told.at(-1)).toMatch(/error: b\.json: this is not JSON/);
  });
});

describe('a newer render', () => {
  const replace = (name: string): Promise<void> =>
    takeFiles([file(name)], { kind: 'replace', plate: useShot.getState().plates[0]!.id });

  it('takes the place of the old one, which can be brought back', async () => {
    await takeFiles([file('quay.exr')]);
    const { id } = plate('quay.exr');
    useShot.getState().change('plate.exposure', 2);
    await replace('quay_v2.exr');
    expect(plate('quay.exr')).toMatchObject({ version: 1 });
    expect([...mockEngine.open.values()].map(({ files }) => files)).toEqual([['quay_v2.exr']]);
    expect(useShot.getState().look.plate.exposure).toBe(2);
    expect(told).toEqual(['success: quay.exr: the new render is on the bench; all passes are there']);
    await chooseVersion(id, 0, 0);
    expect([...mockEngine.open.values()].map(({ files }) => files)).toEqual([['quay.exr']]);
    expect(mockStore.files.size).toBe(2);
  });

  it('of another thing tells which passes it lacks', async () => {
    await takeFiles([file('quay.exr')]);
    mockEngine.passes = ['beauty'];
    await replace('pier.exr');
    expect(told).toEqual(['warning: quay.exr: the new render lacks diffuse.']);
  });

  it('has the passes that it lacks from the version before, until they are left out', async () => {
    await takeFiles([file('quay.exr')]);
    mockEngine.passes = ['beauty'];
    await replace('quay_v2.exr');
    const { id } = plate('quay.exr');
    const files = () => [...mockEngine.open.values()].map((one) => one.files);
    expect(files()).toEqual([['quay_v2.exr', 'quay.exr']]);
    expect(told).toEqual([
      'warning: quay.exr: the new render has only some passes; diffuse is still of version 1',
    ]);
    // A whole one needs nothing of those before it.
    mockEngine.passes = ['beauty', 'diffuse'];
    await replace('quay_v3.exr');
    expect(files()).toEqual([['quay_v3.exr']]);
    await chooseVersion(id, 1, 0);
    expect(files()).toEqual([['quay_v2.exr', 'quay.exr']]);
    await dropOlder(id);
    expect(files()).toEqual([['quay_v2.exr']]);
    undo();
    await syncEngine();
    expect(files()).toEqual([['quay_v2.exr', 'quay.exr']]);
  });

  it('of some frames leaves the others as they were', async () => {
    await takeFiles([file('quay.0001.exr'), file('quay.0002.exr'), file('quay.0003.exr')]);
    await replace('quay.0002.exr');
    expect(told).toEqual([
      'success: quay: the new render is on the bench; all passes are there',
      'warning: quay: frame 2 is new; the other 2 are those of version 1',
    ]);
    const [first, second] = plate('quay').versions;
    expect(second!.frames.map(({ frame }) => frame)).toEqual([1, 2, 3]);
    const idsOf = ({ frames }: typeof first & object) => frames.map(({ files }) => files[0]!.id);
    const [before, after] = [idsOf(first!), idsOf(second!)];
    expect(after.map((id, index) => id === before[index])).toEqual([true, false, true]);
  });

  it('that is two renders asks which of them it is', async () => {
    await takeFiles([file('quay.exr')]);
    const replacing = takeFiles([file('pier.exr'), file('crane.exr')], {
      kind: 'replace',
      plate: useShot.getState().plates[0]!.id,
    });
    await new Promise((resolve) => setTimeout(resolve, 0));
    expect(useChoice.getState().choice).toMatchObject({ options: ['pier.exr', 'crane.exr'] });
    useChoice.getState().choice!.answer('crane.exr');
    await replacing;
    expect([...mockEngine.open.values()].map(({ files }) => files)).toEqual([['crane.exr']]);
  });

  it('that is damaged changes nothing', async () => {
    await takeFiles([file('quay.exr')]);
    await replace('bad.exr');
    expect(plate('quay.exr').versions).toHaveLength(1);
    expect([...mockEngine.open.values()].map(({ files }) => files)).toEqual([['quay.exr']]);
  });
});

describe('a folder that is watched', () => {
  /** What lies in it, by name: content, and when it was written. */
  const content = new Map<string, [text: string, written: number]>();
  const folder = {
    name: 'renders',
    async *values() {
      for (const [name, [text, lastModified]] of content)
        yield await Promise.resolve({
          kind: 'file',
          name,
          getFile: () => Promise.resolve(new File([text], name, { lastModified })),
        });
    },
  };
  const wait = (): Promise<unknown> => jest.advanceTimersByTimeAsync(5000);

  beforeEach(() => {
    jest.useFakeTimers();
    content.clear();
    Object.assign(globalThis, { window: { showDirectoryPicker: () => Promise.resolve(folder) } });
  });
  afterEach(() => {
    stopWatching();
    jest.useRealTimers();
    Reflect.deleteProperty(globalThis, 'window');
  });

  it('brings in what lies there, and every file that is written anew as a version', async () => {
    content.set('quay.exr', ['one', 1]);
    content.set('notes.txt', ['-', 1]);
    void watchFolder();
    await wait();
    expect(useWatchedFolder.getState().name).toBe('renders');
    expect(plate('quay.exr').versions).toHaveLength(1);
    content.set('quay.exr', ['two', 2]);
    content.set('pier.exr', ['new', 2]);
    await wait();
    expect(plate('quay.exr')).toMatchObject({ version: 1 });
    expect(useShot.getState().activePlate).toBe(plate('quay.exr').id);
    expect(useShot.getState().plates.map(({ name }) => name)).toEqual(['quay.exr', 'pier.exr']);
    // Written again, but the same.
    content.set('quay.exr', ['two', 3]);
    await wait();
    expect(plate('quay.exr').versions).toHaveLength(2);
    stopWatching();
    content.set('quay.exr', ['three', 4]);
    await wait();
    expect(plate('quay.exr').versions).toHaveLength(2);
    expect(useWatchedFolder.getState().name).toBeNull();
  });

  it('waits for files that are still being written', async () => {
    void watchFolder();
    for (let k = 0; k < 12; k++) {
      content.set('quay.exr', ['x'.repeat(k + 1), k]);
      await jest.advanceTimersByTimeAsync(900);
    }
    expect(useShot.getState().plates).toEqual([]);
    await wait();
    expect(plate('quay.exr').versions).toHaveLength(1);
    // One that rests half way is known by what it lacks.
    mockEngine.isIncomplete = true;
    content.set('quay.exr', ['half', 50]);
    await wait();
    expect(plate('quay.exr').versions).toHaveLength(1);
    expect(told.at(-1)).toMatch(/quay\.exr.*not whole yet.*when the file changes/);
    mockEngine.isIncomplete = false;
    content.set('quay.exr', ['all of it', 51]);
    await wait();
    expect(plate('quay.exr').versions).toHaveLength(2);
  });

  it('leaves plates alone that were taken off the shelf', async () => {
    content.set('quay.exr', ['one', 1]);
    void watchFolder();
    await wait();
    removePlate(plate('quay.exr').id);
    content.set('quay.exr', ['two', 2]);
    await wait();
    expect(useShot.getState().plates).toEqual([]);
  });
});

describe('the shelf', () => {
  it('keeps corrected roles in the shot and tells the engine', async () => {
    await takeFiles([file('quay.exr')]);
    const { id, versions } = plate('quay.exr');
    await setRole(id, 'diffuse', 'emission');
    expect(plate('quay.exr').roles).toEqual({ diffuse: 'emission' });
    expect(mockEngine.open.get(versions[0]!.id)!.roles).toEqual({ diffuse: 'emission' });
    await setRole(id, 'diffuse', null);
    expect(plate('quay.exr').roles).toEqual({});
  });

  it('removes a plate as one step, which brings it back with its file', async () => {
    await takeFiles([file('sky.exr'), file('quay.exr')]);
    const { id } = plate('sky.exr');
    useShot.getState().change('plate.background', `plate:${id}`);
    removePlate(id);
    await syncEngine();
    expect(mockEngine.open.size).toBe(1);
    expect(useShot.getState().look.plate.background).toBe('none');
    expect(told.at(-1)).toMatch(/sky\.exr was removed; undo brings it back.*no background now/);
    expect(mockStore.files.size).toBe(2);
    undo();
    await syncEngine();
    expect(mockEngine.open.size).toBe(2);
    expect(useShot.getState().look.plate.background).toBe(`plate:${id}`);
    expect(useShot.getState().plates.map(({ name }) => name)).toEqual(['sky.exr', 'quay.exr']);
  });

  it('opens only the last of frames that are asked for in quick turns', async () => {
    await takeFiles(['walk.0001.exr', 'walk.0002.exr', 'walk.0003.exr', 'walk.0004.exr'].map(file));
    const { id } = plate('walk');
    void chooseVersion(id, 0, plate('walk').frame + 1);
    void chooseVersion(id, 0, plate('walk').frame + 1);
    await chooseVersion(id, 0, plate('walk').frame + 1);
    expect(plate('walk').frame).toBe(3);
    expect([...mockEngine.open.values()].map(({ files }) => files)).toEqual([['walk.0004.exr']]);
  });

  it('holds images that looks name, each under a name of its own', async () => {
    const purpose = { kind: 'image', path: 'pupil.mask' } as const;
    await takeFiles([file('leaf.png')], purpose);
    await takeFiles([file('leaf.png')], { kind: 'image', path: 'veil.dirt.image' });
    const { images, look } = useShot.getState();
    expect(images.map(({ name }) => name)).toEqual(['leaf.png', 'leaf 2.png']);
    expect([look.pupil.mask, look.veil.dirt.image]).toEqual(['leaf.png', 'leaf 2.png']);
    expect(Object.keys(usePlates.getState().images)).toEqual(images.map(({ id }) => id));
    expect(benchLook(look).pupil.mask).toBe(images[0]!.id);
    expect(mockStore.files.size).toBe(2);
    await takeFiles([file('bad.png')], purpose);
    expect(useShot.getState().images).toHaveLength(2);
    expect(useShot.getState().look.pupil.mask).toBe('leaf.png');
    removeImage(images[0]!.id);
    expect(useShot.getState().images.map(({ name }) => name)).toEqual(['leaf 2.png']);
    expect(useShot.getState().look.pupil.mask).toBe('');
  });

  it('saves proofs with their pictures, edits, removes and brings them back', async () => {
    await saveProof();
    expect(told.at(-1)).toMatch(/bring a render in/);
    await takeFiles([file('quay.exr')]);
    await saveProof();
    await saveProof();
    const { proofs, change } = useShot.getState();
    expect(proofs.map(({ name }) => name)).toEqual(['Proof 1', 'Proof 2']);
    const { id, versions } = plate('quay.exr');
    expect(proofs[0]!.of).toEqual({ plate: id, version: versions[0]!.id, frame: 0 });
    expect(mockStore.files.get(proofs[0]!.picture!.id)).toBeDefined();
    editProof(proofs[0]!.id, { name: 'Warm', note: 'the best' });
    change('veil.bloom.amount', 0.5);
    putBack(useShot.getState().proofs[0]!);
    expect(useShot.getState().look).toEqual(defaultLook());
    undo();
    expect(useShot.getState().look.veil.bloom.amount).toBe(0.5);
    useDesk.getState().set({ against: { kind: 'proof', id: proofs[0]!.id }, compare: 'wipe' });
    removeProof(proofs[0]!.id);
    expect(useShot.getState().proofs.map(({ name }) => name)).toEqual(['Proof 2']);
    expect(lastRemovedProof()!.name).toBe('Warm');
    bringBackProof();
    expect(useShot.getState().proofs[0]).toMatchObject({ name: 'Warm', note: 'the best' });
    // A picture that this browser has lost leaves the look.
    const lost = useShot.getState().proofs[1]!;
    useShot.getState().setProofs([{ ...lost, picture: null }]);
    await expect(proofPicture(useShot.getState().proofs[0]!)).rejects.toThrow(
      /is lost; its look is still there/,
    );
    expect(await proofThumbnail(useShot.getState().proofs[0]!)).toBeUndefined();
  });

  it('holds references, which stand beside the picture', async () => {
    await takeFiles([file('harbour.jpg')], { kind: 'references' });
    const [reference] = useShot.getState().references;
    expect(reference).toMatchObject({ name: 'harbour.jpg', exposure: 0 });
    expect(useDesk.getState()).toMatchObject({
      compare: 'beside',
      against: { kind: 'reference', id: reference!.id },
    });
    expect(mockEngine.open.has(`reference ${reference!.id}`)).toBe(true);
    removeReference(reference!.id);
    await syncEngine();
    expect(useShot.getState().references).toEqual([]);
    expect(useDesk.getState()).toMatchObject({ compare: null, against: { kind: 'plate' } });
    expect(mockEngine.open.size).toBe(0);
  });

  it('names the plate that is laid under another as the engine knows it', async () => {
    await takeFiles([file('sky.exr'), file('quay.exr')]);
    const sky = plate('sky.exr');
    const look = defaultLook();
    const wished = { ...look, plate: { ...look.plate, background: `plate:${sky.id}` } };
    expect(benchLook(wished).plate.background).toBe(`plate:${sky.versions[0]!.id}`);
    expect(benchLook(look)).toBe(look);
  });
});

describe('a look file', () => {
  const fileOf = (data: unknown): File => new File([JSON.stringify(data)], 'rain.look.json');

  it('takes the place of the present look, or joins those that are kept if it has a name', async () => {
    await takeFiles([fileOf({ film: { contrast: 1.2 } })]);
    expect(useShot.getState().look.film.contrast).toBe(1.2);
    const named = {
      kind: 'bokelux look',
      name: 'Rain',
      note: 'after dark',
      look: { film: { contrast: 1.4 } },
    };
    await takeFiles([fileOf(named)]);
    await takeFiles([fileOf(named)]);
    expect(useShot.getState().look.film.contrast).toBe(1.2);
    expect(useDesk.getState().looks).toBe(true);
    expect(
      useLooks
        .getState()
        .looks.map(({ name }) => name)
        .sort(),
    ).toEqual(['Rain', 'Rain 2']);
    await takeFiles([fileOf({ ...named, note: 7 })]);
    expect(told.join()).toMatch(/no look: note/);
  });
});

describe('a kept shot', () => {
  const kept: Shot = {
    ...empty,
    plates: [plateOfFile('a', 'here.exr'), plateOfFile('b', 'gone.exr'), plateOfFile('c', 'bad.exr')],
    activePlate: 'b',
  };

  it('comes back whole; what cannot be opened is named, and tried again when it is asked for', async () => {
    mockStore.document = kept;
    mockStore.files.set('a', new Blob(['x'])).set('c', new Blob(['x']));
    await startSession();
    expect(useShot.getState()).toMatchObject({ activePlate: 'b', plates: kept.plates });
    expect(told).toHaveLength(2);
    expect(told.join()).toMatch(/gone\.exr: this browser no longer has the file.*bad\.exr: damaged/);
    expect(Object.keys(usePlates.getState().failures)).toEqual(['b', 'c']);
    expect([...mockEngine.open.keys()]).toEqual(['a']);
    mockStore.files.set('b', new Blob(['x']));
    tryAgain('b');
    await syncEngine();
    expect([...mockEngine.open.keys()].sort()).toEqual(['a', 'b']);
    const { blob } = await packCurrentShot();
    expect((await blob!.text()).split(',').sort()).toEqual(['a', 'b', 'c']);
  });

  it('can be saved without what is lost of it, and says so', async () => {
    const plates = [plateOfFile('d', 'here.exr'), plateOfFile('e', 'gone.exr')];
    mockStore.document = { ...kept, plates, activePlate: 'd' };
    mockStore.files.set('d', new Blob(['x']));
    await startSession();
    told.length = 0;
    expect(await (await packCurrentShot()).blob!.text()).toBe('d');
    expect(told[0]).toMatch(/gone\.exr can no longer be read/);
  });

  it('of a file takes the present one’s place only if all of it opens, and can be undone', async () => {
    await takeFiles([file('quay.exr')]);
    const own = plate('quay.exr').versions[0]!.frames[0]!.files[0]!.id;
    const shot: Shot = {
      ...empty,
      name: 'Other',
      // The file has the ids of what is open.
      plates: [plateOfFile(own, 'pier.exr'), plateOfFile('b', 'bad.exr')],
    };
    const files = new Map([
      [own, new Blob(['a'])],
      ['b', new Blob(['b'])],
    ]);
    mockEngine.unpacked = { value: { shot, files } };
    await takeFiles([file('other.bokelux')]);
    expect(useShot.getState().name).toBe(EMPTY_SHOT.name);
    expect([...mockEngine.open.values()].map(({ name }) => name)).toEqual(['quay.exr']);
    expect(await mockStore.files.get(own)!.text()).toBe('quay.exr');
    expect(mockStore.files.size).toBe(1);
    mockEngine.unpacked = { value: { shot: { ...shot, plates: shot.plates.slice(0, 1) }, files } };
    await takeFiles([file('other.bokelux')]);
    await syncEngine();
    expect(useShot.getState()).toMatchObject({ name: 'Other', plates: [{ name: 'pier.exr' }] });
    expect([...mockEngine.open.values()].map(({ name }) => name)).toEqual(['pier.exr']);
    expect(mockStore.earlier.map(({ shot: { name } }) => name)).toEqual([EMPTY_SHOT.name]);
    expect(await mockStore.files.get(own)!.text()).toBe('quay.exr');
    undo();
    await syncEngine();
    expect([...mockEngine.open.values()].map(({ name }) => name)).toEqual(['quay.exr']);
    redo();
    await syncEngine();
    expect([...mockEngine.open.values()].map(({ name }) => name)).toEqual(['pier.exr']);
  });

  it('takes the camera of a file while nobody has touched it, as one step', async () => {
    await takeFiles([file('lens.exr')]);
    expect(useShot.getState().look.camera).toMatchObject({ focalLength: 85, fStop: 2 });
    expect(told.some((text) => text.includes('85 mm at f/2'))).toBe(true);

    useShot.getState().change('camera.fStop', 4);
    await takeFiles([file('lens2.exr')]);
    expect(useShot.getState().look.camera).toMatchObject({ focalLength: 85, fStop: 4 });
  });
});

describe('elements of a plate', () => {
  const whole = () => useShot.getState().plates[0]!;
  const card = () => usePlates.getState().cards[whole().id]!;
  /** What the plate on the bench is put together of, back to front. */
  const parts = (): string[] => mockEngine.open.get(card().id)!.files;
  beforeEach(async () => {
    await takeFiles([file('set.exr')]);
    await takeFiles([file('hero.exr')], { kind: 'element', plate: whole().id });
    await takeFiles([file('hero.exr')], { kind: 'element', plate: whole().id });
  });

  it('are opened by themselves and put together, by names of their own', () => {
    expect(parts()).toEqual(['set.exr', 'hero.exr', 'hero.exr 2']);
    expect(card().own).toBe(whole().versions[0]!.id);
    expect(useShot.getState().activePlate).toBe(whole().id);
    expect(useDesk.getState().element).toBe(2);
    expect(told).toContainEqual(expect.stringMatching(/warning: hero\.exr has no alpha/));
  });

  it('are put together anew by undo, by an order, by a newer render, and by roles', async () => {
    const before = card().id;
    useShot.getState().moveElement(whole().id, 0, 2);
    await syncEngine();
    expect(parts()).toEqual(['hero.exr', 'hero.exr 2', 'set.exr']);
    expect(mockEngine.open.has(before)).toBe(false);
    undo();
    await syncEngine();
    expect(parts()).toEqual(['set.exr', 'hero.exr', 'hero.exr 2']);
    const hero = plate('hero.exr').id;
    let id = card().id;
    await takeFiles([file('hero_v2.exr')], { kind: 'replace', plate: hero });
    await syncEngine();
    expect(card().id).not.toBe(id);
    id = card().id;
    await setRole(hero, 'diffuse', 'emission');
    expect(card().id).not.toBe(id);
    expect([...mockEngine.open.keys()].filter((key) => key.startsWith('stack'))).toHaveLength(1);
  });

  it('go one by one, and leave a plate of one as it was', async () => {
    removePlate(plate('hero.exr 2').id);
    await syncEngine();
    removePlate(plate('hero.exr').id);
    await syncEngine();
    expect(card()).toMatchObject({ id: whole().versions[0]!.id });
    expect(card().parts).toBeUndefined();
    expect(mockEngine.open.size).toBe(1);
  });

  it('keep their places when one cannot be opened any more', async () => {
    const hero = plate('hero.exr').id;
    const [kept] = plate('hero.exr').versions[0]!.frames[0]!.files;
    const frames = [{ frame: null, files: [{ id: kept!.id, name: 'bad.exr' }] }];
    useShot.getState().editPlate(hero, { versions: [{ id: 'damaged', frames }] });
    forgetOpenPlates();
    mockEngine.open.clear();
    usePlates.setState({ cards: {}, failures: {} });
    await syncEngine();
    expect(parts()).toEqual(['set.exr', 'hero.exr', 'hero.exr 2']);
    expect(usePlates.getState().failures[hero]).toBeDefined();
    expect(mockEngine.open.get(card().id)!.files).toHaveLength(3);
  });

  it('follow the frame of their plate', async () => {
    startShot(empty);
    await takeFiles([1, 2, 3].map((k) => file(`beach.000${k}.exr`)));
    await takeFiles(
      [2, 3].map((k) => file(`foam.000${k}.exr`)),
      { kind: 'element', plate: whole().id },
    );
    await chooseVersion(whole().id, 0, 2);
    expect(plate('foam').frame).toBe(1);
    await chooseVersion(whole().id, 0, 0);
    expect(parts()).toEqual(['beach', 'foam']);
    expect(plate('foam').frame).toBe(1);
    await chooseVersion(whole().id, 0, 1);
    expect(plate('foam').frame).toBe(0);
  });
});
