import { useEffect } from 'react';
import { isSkipped, type FrameRange } from '../../core/shot/reel';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { goTo, passBy, reelPlayed } from '../session';
import { plateOnBench } from '../../state/reel-shown';
import { frameDrafts } from '../viewer';

/** Begins to play from the playhead, or stops where it is. */
export function togglePlay(): void {
  const { playing, set } = useDesk.getState();
  if (playing) return stop();
  if (plateOnBench()) set({ playing: true, passing: true, dropped: 0, subject: { kind: 'final' } });
}

/** Stops where the playhead is, and puts on the bench what is there. */
function stop(): void {
  useDesk.getState().set({ playing: false });
  void goTo(useShot.getState().reel.playhead);
}

/** The frames that are played, in order. */
function playedFrames({ first, last }: FrameRange): number[] {
  const { reel } = useShot.getState();
  const plate = plateOnBench();
  return Array.from({ length: last - first + 1 }, (_, k) => first + k).filter(
    (frame) => !isSkipped(reel, plate, frame),
  );
}

/** A run of the reel: where it began, and when. */
class Run {
  private readonly frames = playedFrames(reelPlayed());
  private readonly from: number;
  private readonly rate = useShot.getState().reel.rate;
  /** Frames since it began, of those that were due. */
  private due = 0;
  private begun: number | undefined;

  constructor() {
    const { playhead } = useShot.getState().reel;
    const { looping } = useDesk.getState();
    const place = this.frames.findIndex((frame) => frame >= playhead);
    // From the last frame on it goes anew.
    const isAtEnd = place < 0 || (place === this.frames.length - 1 && !looping);
    this.from = isAtEnd ? 0 : place;
  }

  /** Shows what is due at a time in milliseconds; false at the end. */
  step(now: number): boolean {
    this.begun ??= now;
    const { everyFrame, looping, dropped, set } = useDesk.getState();
    const elapsed = Math.floor(((now - this.begun) * this.rate) / 1000);
    const next = everyFrame ? Math.min(elapsed, this.due + 1) : elapsed;
    if (next === this.due) return true;
    const count = this.frames.length;
    if (!looping && this.from + next >= count) return false;
    const frame = this.frames[(this.from + next) % count]!;
    const isReady = frameDrafts.find(frame) !== undefined;
    // What cannot be shown at all is not waited for.
    if (everyFrame && !isReady && frameDrafts.failureAt(frame) === undefined) {
      // Time stands while it is made; drafts are made from the playhead on.
      this.begun = now - (this.due * 1000) / this.rate;
      return true;
    }
    const missed = next - this.due - (isReady ? 1 : 0);
    this.due = next;
    if (missed > 0) set({ dropped: dropped + missed });
    passBy(frame);
    return true;
  }
}

/** Plays the reel while the desk says so. */
export function usePlayer(): void {
  const playing = useDesk((state) => state.playing);
  const rate = useShot((state) => state.reel.rate);
  const range = useShot(() => JSON.stringify(reelPlayed()));
  useEffect(() => {
    if (!playing) return;
    const run = new Run();
    let request = requestAnimationFrame(function tick(now) {
      if (!run.step(now)) return stop();
      request = requestAnimationFrame(tick);
    });
    return () => cancelAnimationFrame(request);
  }, [playing, rate, range]);
}
