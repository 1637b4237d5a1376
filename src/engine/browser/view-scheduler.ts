/**
 * Decides what to compute while a hand moves and when it rests. While requests keep coming a reduced picture is
 * computed; some time after the last one the full picture follows. A draft that runs is let finish, so that a steady
 * drag keeps showing something; a full picture that runs is given up as soon as something newer is wanted.
 */
export interface ScheduledWork<Request, Result> {
  /** Computes a request at a scale. Rejects when cancelled. */
  show(request: Request, quality: Quality): Promise<Result>;
  cancel(): void;
  onStart(quality: Quality): void;
  onShown(result: Result, quality: Quality): void;
  onFailed(error: unknown): void;
  /** Whether an error only says that the work was given up. */
  isCancelled(error: unknown): boolean;
  /** Milliseconds of a result. */
  cost(result: Result): number;
}

export type Quality = 'draft' | 'full';

/** A hand that has not moved for so long rests. */
const REST_MS = 130;
/** Requests that follow each other within this time come from a key that is held down, or a wheel. */
const SUCCESSION_MS = 200;
/** A full picture that takes less is as good as a draft. */
const QUICK_MS = 70;

export class ViewScheduler<Request, Result> {
  private wanted: Request | undefined;
  private restAt = 0;
  private askedAt = -Infinity;
  private running: Quality | undefined;
  private lastFull = Infinity;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly work: ScheduledWork<Request, Result>) {}

  /**
   * Asks for a picture. `hand` says that a hand is moving something, so that more requests are likely to follow;
   * requests in quick succession (a key held down) count as such, too.
   */
  request(request: Request, hand: boolean): void {
    const now = performance.now();
    const moving = hand || now - this.askedAt < SUCCESSION_MS;
    this.askedAt = now;
    this.wanted = request;
    this.restAt = moving ? now + REST_MS : 0;
    if (this.running === 'full') {
      if (moving) this.lastFull = Infinity;
      this.work.cancel();
    }
    this.advance();
  }

  /** Forgets what is wanted; what runs is let end, and nothing follows it. */
  forget(): void {
    this.wanted = undefined;
    clearTimeout(this.timer);
  }

  private advance(): void {
    clearTimeout(this.timer);
    if (this.running || this.wanted === undefined) return;
    const wait = this.restAt - performance.now();
    const quick = this.lastFull < QUICK_MS;
    void this.run(this.wanted, wait > 0 && !quick ? 'draft' : 'full');
  }

  private async run(request: Request, quality: Quality): Promise<void> {
    this.running = quality;
    this.work.onStart(quality);
    try {
      const result = await this.work.show(request, quality);
      if (quality === 'full') this.lastFull = this.work.cost(result);
      this.work.onShown(result, quality);
      if (this.wanted === request && quality === 'full') this.wanted = undefined;
    } catch (error) {
      // What was given up although nothing newer is wanted is not begun again by itself: that might never end.
      if (this.wanted === request) this.wanted = undefined;
      if (!this.work.isCancelled(error)) this.work.onFailed(error);
    }
    this.running = undefined;
    // A draft of the newest request waits for the hand to rest before the full picture follows.
    if (this.wanted === request && quality === 'draft') {
      const wait = Math.max(0, this.restAt - performance.now());
      this.timer = setTimeout(() => {
        this.restAt = 0;
        this.advance();
      }, wait);
      return;
    }
    this.advance();
  }
}
