import { assignSetting, defaultLook, type Look } from '../../core/look/look';
import type { PlateCard } from '../session';
import { FeedShifts } from './feed-shift';
import { lookableSubjects, stepPass, subjectKey } from './subjects';

jest.mock('../session', () => ({}));

const look = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());
const fed = (light: number) => ({ pixels: light / 10, light });

describe('a shift of the feed', () => {
  it('is told when the plate’s preparation changed it', () => {
    const shifts = new FeedShifts();
    expect(shifts.notice({ look: look(), plate: 'a' }, fed(0.01))).toEqual({});
    expect(shifts.notice({ look: look('plate.exposure=2'), plate: 'a' }, fed(0.04))).toEqual({
      feedShift: { before: 0.01, after: 0.04 },
    });
  });

  it('is not told for small changes, and goes when the veil is turned or the plate changed', () => {
    const shifts = new FeedShifts();
    shifts.notice({ look: look(), plate: 'a' }, fed(0.01));
    expect(shifts.notice({ look: look('plate.exposure=0.01'), plate: 'a' }, fed(0.0101))).toEqual({});
    expect(shifts.notice({ look: look('veil.feed.threshold=4'), plate: 'a' }, fed(0.001))).toEqual({
      feedShift: null,
    });
    expect(shifts.notice({ look: look('veil.feed.threshold=4'), plate: 'b' }, fed(0.5))).toEqual({
      feedShift: null,
    });
    expect(
      shifts.notice({ look: look('film.exposure=1', 'veil.feed.threshold=4'), plate: 'b' }, fed(0.9)),
    ).toEqual({});
    expect(shifts.notice(undefined, undefined)).toEqual({});
  });
});

describe('what can be looked at', () => {
  const card = {
    passes: [
      { name: 'beauty', channels: ['R', 'G', 'B'] },
      { name: 'depth', channels: ['Z'] },
    ],
  } as PlateCard;

  it('has the bench, every pass and every channel', () => {
    const groups = lookableSubjects(card);
    expect(groups.map(({ title, entries }) => [title, entries.length])).toEqual([
      ['Bench', 5],
      ['Passes', 2],
      ['Channels', 4],
    ]);
    const keys = groups.flatMap(({ entries }) => entries.map(({ subject }) => subjectKey(subject)));
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('is stepped through pass by pass, over the final', () => {
    const steps = [{ kind: 'final' } as const];
    let at = stepPass(card, steps[0]!, 1);
    expect(at).toEqual({ kind: 'pass', pass: 'beauty' });
    at = stepPass(card, at, 1);
    expect(at).toEqual({ kind: 'pass', pass: 'depth' });
    expect(stepPass(card, at, 1)).toEqual({ kind: 'final' });
    expect(stepPass(card, { kind: 'final' }, -1)).toEqual({ kind: 'pass', pass: 'depth' });
  });
});
