import { useEffect, useRef } from 'react';
import type { Rectangle } from '../../core/image/rectangle';
import type { NearbyLights } from '../../core/light/resolved-light';
import type { Look } from '../../core/look/look';
import type { ShownBitmap } from '../../engine/browser/bench.worker';
import { benchEngine, EngineError, onProgress, unwrap } from '../../engine/browser/client';
import { ViewScheduler, type Quality } from '../../engine/browser/view-scheduler';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { errorLine, isOpen, knownNearbyLights, nearbyLights, reportError, usePlates } from '../session';
import { isMoving, plateOnBench } from '../../state/reel-shown';
import { CompareView } from './compare-view';
import { shownLook } from './compared';
import { FeedShifts } from './feed-shift';
import { frameDrafts } from './frame-drafts';
import { bareWish, currentWish, isSame, sharesWhole, type Wish } from './wish';

/** A picture on show, and the plate that it is of, by its id in the shot. */
interface ShownPicture {
  bitmap: ImageBitmap;
  plate: string;
  /** It belongs to the drafts of the reel. */
  isLent?: boolean;
}

/** The same of what it is held against. */
export type ShownCompared = ShownPicture & { ownShape: boolean };

/** The pictures on show; the canvas draws them again whenever they change. */
export interface Pictures {
  final: ShownPicture | null;
  /** What it is held against. */
  compared: ShownCompared | null;
  /** A part of the final that was computed since, and where it lies in the full-size picture. */
  region: (ShownPicture & { place: Rectangle }) | null;
}

const NOTHING: Pictures = { final: null, compared: null, region: null };

/** A wish for what has left the bench since. */
class OutdatedWish extends Error {}

const isCancelled = (error: unknown): boolean =>
  error instanceof OutdatedWish || (error instanceof EngineError && error.failure.kind === 'cancelled');

/** What came of a wish. */
interface Answer {
  wish: Wish;
  shown: ShownBitmap;
}

/** Keeps pictures up to date with the stores: watches them, and asks the engine through a scheduler. */
class View {
  readonly pictures: Pictures = { ...NOTHING };
  private alive = true;
  private last: Wish | undefined;
  /** Of the whole picture on show: what was wanted, and how well it is computed. */
  private whole: { wish: Wish; quality: Quality } | undefined;
  private starts = useDesk.getState().engineStarts;
  private readonly shifts = new FeedShifts();
  private readonly compare = new CompareView();
  private readonly scheduler: ViewScheduler<Wish, Answer>;
  private readonly stops: (() => void)[];

  constructor(
    private readonly viewer: { width: number; height: number },
    private readonly redraw: () => void,
  ) {
    this.scheduler = new ViewScheduler<Wish, Answer>({
      show: (wish, quality) => this.show(wish, quality),
      cancel: () => void benchEngine().cancel('view'),
      onStart: (quality) =>
        useDesk.getState().set({ phase: quality === 'draft' ? 'draft' : 'refining', progress: 0 }),
      onShown: (answer, quality) => this.take(answer, quality),
      onFailed: (error) => void this.fail(error),
      isCancelled,
      cost: ({ shown }) => shown.milliseconds,
    });
    const refresh = (): void => this.refresh();
    this.stops = [
      onProgress((lane, done) => {
        const { phase, set } = useDesk.getState();
        if (lane === 'view' && phase === 'refining') set({ progress: done });
      }),
      useShot.subscribe(refresh),
      usePlates.subscribe(refresh),
      useDesk.subscribe(refresh),
      frameDrafts.subscribe(refresh),
    ];
    frameDrafts.watch();
    this.refresh();
  }

  end(): void {
    this.alive = false;
    this.compare.release();
    this.scheduler.forget();
    this.stops.forEach((stop) => stop());
  }

  private refresh(): void {
    const { subject, engineStarts, dragging, passing, playing, set } = useDesk.getState();
    // What an undo, or a hand, took away is no longer looked at.
    if (!isThere(subject, useShot.getState().look)) return set({ subject: { kind: 'final' } });
    if (passing || playing) return void this.showDraft();
    const wish = currentWish(this.viewer);
    if (!wish) return this.showNothing();
    if (isFrameAwaited()) return this.awaitFrame();
    const restarted = engineStarts !== this.starts;
    if (restarted) this.compare.forget();
    if (restarted || !isSame(wish, this.last)) {
      this.starts = engineStarts;
      this.last = wish;
      this.scheduler.request(wish, dragging);
    }
    void this.refreshCompared(wish);
  }

  /** The frame that the playhead is on, as far as there is a draft of it. */
  private showDraft(): boolean {
    const { activePlate, reel } = useShot.getState();
    const bitmap = frameDrafts.find(reel.playhead);
    if (!bitmap || !activePlate) return false;
    if (this.pictures.final?.bitmap === bitmap) return true;
    // What is computed is of another frame by now.
    this.giveUp();
    this.dropFinal();
    this.pictures.final = { bitmap, plate: activePlate, isLent: true };
    this.whole = undefined;
    const { phase, set } = useDesk.getState();
    if (phase !== 'draft') set({ phase: 'draft', failure: null });
    this.redraw();
    return true;
  }

  /** The frame of the playhead is being opened: its draft stands in. */
  private awaitFrame(): void {
    const isShown = this.showDraft();
    this.giveUp();
    const { phase, set } = useDesk.getState();
    if (!isShown && phase !== 'opening') set({ phase: 'opening' });
  }

  /** Wants nothing any more until something is asked for. */
  private giveUp(): void {
    if (!this.last) return;
    this.last = undefined;
    this.scheduler.forget();
    void benchEngine().cancel('view');
  }

  private dropFinal(): void {
    this.pictures.region?.bitmap.close();
    this.pictures.region = null;
    if (!this.pictures.final?.isLent) this.pictures.final?.bitmap.close();
  }

  /** Without a plate there is nothing to show, and no reason to wait unless one is being opened. */
  private showNothing(): void {
    const { phase, isStarted, set } = useDesk.getState();
    const next = usePlates.getState().opening || !isStarted ? 'opening' : 'empty';
    if (this.last || this.pictures.final) {
      this.last = undefined;
      this.whole = undefined;
      Object.assign(this.pictures, NOTHING);
      set({ failure: null });
      this.redraw();
    }
    if (phase !== next) set({ phase: next });
  }

  private async show(wish: Wish, quality: Quality): Promise<Answer> {
    const { region, ...rest } = wish;
    if (region && !this.hasWhole(wish, quality)) {
      // Round a region stands the whole: under the look that it was computed with, if it is of this plate.
      const known = this.whole?.wish;
      const isOfPlate = known && known.plate === wish.plate && isSame(known.of, wish.of);
      const whole: Wish = isOfPlate ? { ...rest, look: known.look } : rest;
      this.takeWhole({ wish: whole, shown: await this.ask(whole, quality) }, quality);
    }
    return { wish, shown: await this.ask(wish, quality) };
  }

  private hasWhole(wish: Wish, quality: Quality): boolean {
    const { whole } = this;
    return sharesWhole(whole?.wish, wish) && (quality === 'draft' || whole!.quality === 'full');
  }

  private async ask({ of, scale, ...wish }: Wish, quality: Quality): Promise<ShownBitmap> {
    const isDraft = quality === 'draft';
    const nearby = await this.lightsNear(of.plate, isDraft);
    if (!nearby || !isOpen(wish.plate)) throw new OutdatedWish(of.plate);
    const size = isDraft ? scale.draft : scale.full;
    const request = { ...wish, lane: 'view', draft: isDraft, scale: size, nearbyLights: nearby } as const;
    return unwrap(await benchEngine().show(request));
  }

  /** The lights of the frames near the playhead; a draft does not wait for them. Undefined if something else is wanted by then. */
  private async lightsNear(plate: string, isDraft: boolean): Promise<readonly NearbyLights[] | undefined> {
    const { tracks, reel, activePlate } = useShot.getState();
    if (plate !== activePlate || !isMoving()) return [];
    const over = { look: shownLook(), tracks: useDesk.getState().shownProof === null ? tracks : {} };
    if (isDraft) return knownNearbyLights(reel.playhead, over);
    const { last } = this;
    return nearbyLights(reel.playhead, over, () => this.alive && this.last === last);
  }

  private take(answer: Answer, quality: Quality): void {
    const { wish, shown } = answer;
    const { passing, playing, set } = useDesk.getState();
    if (!this.alive || passing || playing) return shown.bitmap.close();
    if (!shown.region) return this.takeWhole(answer, quality);
    this.pictures.region?.bitmap.close();
    this.pictures.region = { bitmap: shown.bitmap, plate: wish.of.plate, place: shown.region };
    set({
      phase: quality === 'draft' ? 'draft' : 'final',
      progress: 1,
      milliseconds: shown.milliseconds,
      failure: null,
      figuresOf: isSame(this.whole?.wish.look, wish.look) ? 'whole' : 'whole before',
    });
    this.redraw();
  }

  private takeWhole({ wish, shown }: Answer, quality: Quality): void {
    if (!this.alive) return shown.bitmap.close();
    this.dropFinal();
    this.pictures.final = { bitmap: shown.bitmap, plate: wish.of.plate };
    this.whole = { wish, quality };
    const { accounts, feed, ownFeeds, touched, report, milliseconds } = shown;
    const { arrivals, draftArrivals, set } = useDesk.getState();
    set({
      phase: quality === 'draft' ? 'draft' : 'final',
      progress: 1,
      accounts,
      feed,
      ownFeeds,
      touched,
      report,
      milliseconds,
      failure: null,
      figuresOf: null,
      draftArrivals: draftArrivals + 1,
      ...(quality === 'full' && { arrivals: arrivals + 1, ...this.shifts.notice(wish, feed) }),
    });
    this.redraw();
  }

  /** What cannot be computed is said over the picture; of a plate of which there is none yet, the plate itself is shown. */
  private async fail(error: unknown): Promise<void> {
    const wish = this.last;
    const { set } = useDesk.getState();
    if (!this.alive || !wish || !isOpen(wish.plate)) return;
    set({ phase: 'failed', failure: { plate: wish.of.plate, line: errorLine(error) } });
    if (this.pictures.final?.plate === wish.of.plate) return;
    try {
      const shown = await this.ask(bareWish(wish), 'full');
      if (!this.alive || this.last !== wish) return shown.bitmap.close();
      this.dropFinal();
      this.pictures.final = { bitmap: shown.bitmap, plate: wish.of.plate };
      this.whole = undefined;
      set({ accounts: {}, feed: undefined, ownFeeds: {}, touched: undefined, report: undefined });
    } catch {
      this.pictures.final = null;
    }
    this.redraw();
  }

  private async refreshCompared(wish: Wish): Promise<void> {
    try {
      const compared = await this.compare.refresh(wish);
      if (!compared) return;
      if (!this.alive) return compared.bitmap.close();
      this.pictures.compared?.bitmap.close();
      this.pictures.compared = { ...compared, plate: wish.of.plate };
      useDesk.getState().set({ comparedArrivals: useDesk.getState().comparedArrivals + 1 });
      this.redraw();
    } catch (error) {
      if (this.alive && !isCancelled(error) && isOpen(wish.plate)) reportError(error);
    }
  }
}

/** Whether the plate on the bench is to have another frame than the one that is open. */
function isFrameAwaited(): boolean {
  const plate = plateOnBench();
  const card = plate && usePlates.getState().cards[plate.id];
  if (!plate || !card || usePlates.getState().failures[plate.id]) return false;
  return card.of.frame !== plate.frame || card.of.version !== plate.version;
}

/** Whether what is looked at still is in the look. */
function isThere(subject: ReturnType<typeof useDesk.getState>['subject'], { masks, veil }: Look): boolean {
  if (subject.kind === 'mask') return masks.some(({ id }) => id === subject.mask);
  if (subject.kind !== 'separation' && subject.kind !== 'feed') return true;
  const path = subject.kind === 'separation' ? subject.name : subject.part;
  const place = /^veil\.(stack|streaks)\[(\d+)\]/.exec(path ?? '');
  return !place || Number(place[2]) < veil[place[1] as 'stack' | 'streaks'].length;
}

/** Keeps the viewer's pictures up to date, and calls `redraw` when there is something new. */
export function useView(
  viewer: { width: number; height: number },
  redraw: () => void,
): React.RefObject<Pictures> {
  const pictures = useRef<Pictures>({ ...NOTHING });
  const { width, height } = viewer;
  useEffect(() => {
    const view = new View({ width, height }, redraw);
    // A viewer of another size goes on with what is on show.
    Object.assign(view.pictures, pictures.current);
    pictures.current = view.pictures;
    return () => view.end();
  }, [width, height, redraw]);
  return pictures;
}
