import { lookAt } from '../../core/look/tracks';
import { CancelledError } from '../../core/errors';
import type { PrintRequest } from '../../engine/messages';
import { benchEngine, EngineError, unwrap } from '../../engine/browser/client';
import { benchLook, errorLine, holdFrame, nearbyLights, notify, type LookOverTime } from '../session';
import { useShot } from '../../state/shot-store';
import { changeLocal, usePrints, type LocalPrintState } from './prints-store';
import type { FilmSink, FrameSink } from './sinks';

export type HowPrinted = Omit<PrintRequest, 'plate' | 'look' | 'lane' | 'region'>;

type Target =
  | { kind: 'files'; sink: FrameSink; how: HowPrinted; nameOf: (frame: number) => string; resume: boolean }
  /** Pictures at a share of their full size. */
  | { kind: 'film'; sink: FilmSink; scale: number };

interface Wanted {
  name: string;
  where: string;
  frames: readonly number[];
  target: Target;
}

const prints = new Map<string, LocalPrint>();

/** Begins to print a reel with the look and the tracks as they are now. */
export function startLocalPrint(wanted: Wanted): void {
  const print = new LocalPrint(wanted);
  prints.set(print.id, print);
  void print.run();
}

export const pausePrint = (id: string): void => prints.get(id)?.pause();
export const continuePrint = (id: string): void => prints.get(id)?.goOn();
export const finishWithout = (id: string): void => void prints.get(id)?.finish();
export const cancelLocalPrint = (id: string): void => prints.get(id)?.cancel();

/** Forgets a print that is over. */
export function forgetPrint(id: string): void {
  prints.delete(id);
  const { local, set } = usePrints.getState();
  set({ local: local.filter((one) => one.id !== id) });
}

/** Whether anything is being printed that ends with this page. */
export const isPrinting = (): boolean =>
  usePrints.getState().local.some(({ state }) => state === 'printing' || state === 'paused');

/** A reel that this page prints, one frame after the other. */
class LocalPrint {
  readonly id = crypto.randomUUID();
  private readonly over: LookOverTime;
  private state: LocalPrintState['state'] = 'printing';
  private waiting: number[];
  private failed: { frame: number; why: string }[] = [];
  private done = 0;
  private readonly times: number[] = [];
  private isRunning = false;

  constructor(private readonly wanted: Wanted) {
    const { look, tracks } = useShot.getState();
    this.over = { look, tracks };
    this.waiting = [...wanted.frames];
    const { name, where, frames } = wanted;
    const { local, set } = usePrints.getState();
    const state = { id: this.id, name, where, frames, done: 0, failed: [], pace: null, why: null };
    set({ local: [{ ...state, state: 'printing' }, ...local] });
  }

  pause(): void {
    if (this.state === 'printing') this.become('paused');
  }

  /** Goes on after a pause, or prints anew what failed. */
  goOn(): void {
    if (this.state === 'failed') {
      this.waiting = this.failed.map(({ frame }) => frame);
      this.failed = [];
    } else if (this.state !== 'paused') return;
    this.become('printing');
    void this.run();
  }

  /** Ends what is printed as it is, without the frames that failed. */
  async finish(): Promise<void> {
    const { target } = this.wanted;
    if (target.kind === 'files') await target.sink.end();
    this.failed = [];
    this.become('done');
  }

  cancel(): void {
    const wasPaused = this.state === 'paused';
    this.become('cancelled');
    if (wasPaused) void this.run();
    void benchEngine().cancel('printReel');
  }

  async run(): Promise<void> {
    if (this.isRunning) return;
    this.isRunning = true;
    try {
      while (this.isGoing() && this.waiting.length > 0) await this.printNext(this.waiting[0]!);
      if (this.waiting.length === 0) await this.end();
      else if (this.state === 'cancelled') await this.wanted.target.sink.end();
    } catch (error) {
      this.become('failed', errorLine(error));
      notify(`${this.wanted.name}: ${errorLine(error)}`, 'error');
    } finally {
      this.isRunning = false;
    }
  }

  /** Others change the state while a frame is awaited. */
  private isGoing(): boolean {
    return this.state === 'printing';
  }

  private async printNext(frame: number): Promise<void> {
    const begun = performance.now();
    try {
      await this.printOne(frame);
      this.done++;
      this.times.push(performance.now() - begun);
    } catch (error) {
      // It is printed when it goes on.
      if (isGivenUp(error)) return;
      if (!(error instanceof EngineError) && !isOfFrame(error)) throw error;
      this.failed.push({ frame, why: errorLine(error) });
    }
    this.waiting.shift();
    this.report();
  }

  private async printOne(frame: number): Promise<void> {
    const { target } = this.wanted;
    if (target.kind === 'files' && target.resume && (await target.sink.has(target.nameOf(frame)))) return;
    // Before the frame itself is opened: one at a time is in memory.
    const nearby = await nearbyLights(frame, this.over, () => this.isGoing());
    const held = nearby && (await holdFrame(frame));
    if (!held) throw new CancelledError();
    try {
      const look = benchLook(lookAt(this.over.look, this.over.tracks, frame), held.under);
      const request = { lane: 'printReel', plate: held.id, look, nearbyLights: nearby } as const;
      if (target.kind === 'film') {
        const { bitmap } = unwrap(
          await benchEngine().show({
            ...{ ...request, subject: { kind: 'final' }, viewExposure: 0 },
            scale: target.scale,
          }),
        );
        await target.sink.add(bitmap, this.wanted.frames.indexOf(frame));
        bitmap.close();
        return;
      }
      const { bytes } = unwrap(await benchEngine().print({ ...request, ...target.how }));
      await target.sink.write(target.nameOf(frame), bytes);
    } finally {
      held.release();
    }
  }

  private async end(): Promise<void> {
    const { name, where, frames, target } = this.wanted;
    // An archive with frames missing is not ended: they may be printed yet.
    if (this.failed.length === 0 || target.kind === 'film') await target.sink.end();
    this.become(this.failed.length > 0 ? 'failed' : 'done');
    if (this.failed.length === 0) notify(`${name}: ${frames.length} frames printed into ${where}`, 'success');
    else notify(`${name}: ${this.failed.length} frames could not be printed`, 'warning');
  }

  private become(state: LocalPrintState['state'], why: string | null = null): void {
    this.state = state;
    changeLocal(this.id, { state, why, failed: this.failed, done: this.done });
  }

  private report(): void {
    const recent = this.times.slice(-8);
    const pace = recent.length > 0 ? recent.reduce((sum, time) => sum + time, 0) / recent.length : null;
    changeLocal(this.id, { done: this.done, failed: [...this.failed], pace });
  }
}

const isGivenUp = (error: unknown): boolean =>
  error instanceof CancelledError || (error instanceof EngineError && error.failure.kind === 'cancelled');

/** Whether an error is of one frame, and the others may be printed for all that. */
const isOfFrame = (error: unknown): boolean => error instanceof Error && error.name === 'FileError';
