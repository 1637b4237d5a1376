import { changedOriginal, rememberOriginal } from './originals';

const fileOf = (text: string, lastModified: number): File => new File([text], 'a.exr', { lastModified });

/** A handle that gives a file, or refuses to. */
const handleOf = (getFile: () => Promise<File>): FileSystemFileHandle =>
  ({ getFile }) as unknown as FileSystemFileHandle;

/** A file whose bytes the browser refuses to read. */
const refused = (name: string): File =>
  Object.assign(fileOf('old', 1), {
    slice: () => ({ arrayBuffer: () => Promise.reject(new DOMException('no', name)) }),
  }) as unknown as File;

describe('a file that was brought in', () => {
  it('is told from what its handle reads now, which can be followed on', async () => {
    let now = fileOf('old', 1);
    const handle = handleOf(() => Promise.resolve(now));
    rememberOriginal('dropped', Object.assign(fileOf('old', 1), { handle }));
    expect(await changedOriginal('dropped')).toBeUndefined();
    now = fileOf('newer', 2);
    const changed = (await changedOriginal('dropped'))!;
    expect(await changed.text()).toBe('newer');
    rememberOriginal('taken', changed);
    expect(await changedOriginal('taken')).toBeUndefined();
    // One that is being written has nothing in it yet.
    now = fileOf('', 3);
    expect(await changedOriginal('taken')).toBeUndefined();
  });

  it('without a handle is known to be another when the browser refuses to read it', async () => {
    rememberOriginal('chosen', fileOf('old', 1));
    expect(await changedOriginal('chosen')).toBeUndefined();
    rememberOriginal('written', refused('NotReadableError'));
    expect(await changedOriginal('written')).toBeNull();
    rememberOriginal('gone', refused('NotFoundError'));
    expect(await changedOriginal('gone')).toBeUndefined();
    expect(await changedOriginal('unknown')).toBeUndefined();
  });
});
