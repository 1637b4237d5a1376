import { ViewScheduler, type Quality } from './view-scheduler';

class Cancelled extends Error {}

/** Work whose duration the test decides, and a record of all that happened. */
function bench(milliseconds: Record<Quality, number> = { draft: 20, full: 300 }) {
  const log: string[] = [];
  let stop: (() => void) | undefined;
  const scheduler = new ViewScheduler<string, { ms: number }>({
    show: (request, quality) =>
      new Promise((resolve, reject) => {
        const timer = setTimeout(() => resolve({ ms: milliseconds[quality] }), milliseconds[quality]);
        stop = () => {
          clearTimeout(timer);
          reject(new Cancelled());
        };
        log.push(`start ${quality} ${request}`);
        if (request === 'bad') reject(new Error('bad'));
      }),
    cancel: () => {
      log.push('cancel');
      stop?.();
    },
    onStart: () => undefined,
    onShown: (_, quality) => log.push(`shown ${quality}`),
    onFailed: (error) => log.push(`failed ${(error as Error).message}`),
    isCancelled: (error) => error instanceof Cancelled,
    cost: ({ ms }) => ms,
  });
  return { scheduler, log, stop: () => stop?.() };
}

const pass = (ms: number): Promise<void> => jest.advanceTimersByTimeAsync(ms);

describe('the view scheduler', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('computes the full picture at once when nothing moves', async () => {
    const { scheduler, log } = bench();
    scheduler.request('a', false);
    await pass(1000);
    expect(log).toEqual(['start full a', 'shown full']);
  });

  it('shows a draft while the hand moves and refines when it rests', async () => {
    const { scheduler, log } = bench();
    scheduler.request('a', true);
    await pass(60);
    expect(log).toEqual(['start draft a', 'shown draft']);
    await pass(1000);
    expect(log).toEqual(['start draft a', 'shown draft', 'start full a', 'shown full']);
  });

  it('never starves: a steady drag keeps showing drafts of the newest request', async () => {
    const { scheduler, log } = bench({ draft: 50, full: 900 });
    for (let k = 0; k < 40; k++) {
      scheduler.request(`r${k}`, true);
      await pass(16);
    }
    expect(log.filter((line) => line === 'shown draft').length).toBeGreaterThan(8);
    expect(log).not.toContain('cancel');
    expect(log.some((line) => line.startsWith('start full'))).toBe(false);
    await pass(2000);
    expect(log.slice(-2)).toEqual(['start full r39', 'shown full']);
  });

  it('takes requests in quick succession for a moving hand, as when a key is held down', async () => {
    const { scheduler, log } = bench({ draft: 20, full: 400 });
    for (let k = 0; k < 10; k++) {
      scheduler.request(`k${k}`, false);
      await pass(40);
    }
    expect(log.slice(0, 3)).toEqual(['start full k0', 'cancel', 'start draft k1']);
    expect(log.filter((line) => line === 'shown draft').length).toBeGreaterThan(6);
    await pass(1000);
    expect(log.slice(-2)).toEqual(['start full k9', 'shown full']);
  });

  it('gives up a full picture as soon as something newer is wanted', async () => {
    const { scheduler, log } = bench();
    scheduler.request('a', false);
    await pass(100);
    scheduler.request('b', true);
    await pass(5);
    expect(log).toEqual(['start full a', 'cancel', 'start draft b']);
  });

  it('skips the draft when full pictures are quick', async () => {
    const { scheduler, log } = bench({ draft: 10, full: 30 });
    scheduler.request('a', false);
    await pass(100);
    scheduler.request('b', true);
    await pass(100);
    expect(log).toEqual(['start full a', 'shown full', 'start full b', 'shown full']);
  });

  it('computes nothing more of what it was told to forget', async () => {
    const { scheduler, log } = bench();
    scheduler.request('a', true);
    await pass(60);
    scheduler.forget();
    await pass(1000);
    expect(log).toEqual(['start draft a', 'shown draft']);
  });

  it('does not begin again by itself what was given up from outside', async () => {
    const { scheduler, log, stop } = bench();
    scheduler.request('a', false);
    await pass(50);
    stop();
    await pass(1000);
    expect(log).toEqual(['start full a']);
    scheduler.request('a', false);
    await pass(1000);
    expect(log.slice(1)).toEqual(['start full a', 'shown full']);
  });

  it('tells a failure once and goes on', async () => {
    const { scheduler, log } = bench();
    scheduler.request('bad', false);
    await pass(1000);
    expect(log).toEqual(['start full bad', 'failed bad']);
    scheduler.request('good', false);
    await pass(1000);
    expect(log.slice(-2)).toEqual(['start full good', 'shown full']);
  });
});
