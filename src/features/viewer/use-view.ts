import { useEffect, useRef } from 'react';
import { benchEngine, EngineError, onProgress, unwrap } from '../../engine/browser/client';
import type { ShownBitmap } from '../../engine/browser/bench.worker';
import { ViewScheduler } from '../../engine/browser/view-scheduler';
import type { ShowRequest, Subject } from '../../engine/messages';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { benchLook, closeInEngine, openForWipe, reportError, usePlates } from '../session';
import { FeedShifts } from './feed-shift';
import { draftScale, fitZoom, refineScale } from './placement';
import type { Rectangle } from '../../core/image/rectangle';
import { plateAlone, type Look } from '../../core/look/look';

/** The bitmaps on show; the canvas draws them again whenever they change. */
export interface Pictures {
  final: ImageBitmap | null;
  plate: ImageBitmap | null;
  /** A part of the final that was computed since, and where it lies in the full-size picture. */
  region: { bitmap: ImageBitmap; place: Rectangle } | null;
}

interface Wish extends Omit<ShowRequest, 'scale' | 'lane'> {
  scale: { draft: number; full: number };
}

/** What can be computed of a region alone. The rest is told of the whole picture: one effect by itself also has the light that comes from afar. */
const REGIONAL: ReadonlySet<Subject['kind']> = new Set(['final', 'behind']);

const fitsIn = ({ x, y, width, height }: Rectangle, card: { width: number; height: number }): boolean =>
  x + width <= card.width && y + height <= card.height;

/** By how much blur grows while the focus is looked for. */
const OVERBLUR = 4;

function exaggerated(look: Look): Look {
  return { ...look, focus: { ...look.focus, amount: Math.min(10, look.focus.amount * OVERBLUR) } };
}

/** What is wanted now, from the stores; undefined without a plate. */
function currentWish(viewer: { width: number; height: number }): Wish | undefined {
  const { look, activePlate } = useShot.getState();
  const card = activePlate ? usePlates.getState().cards[activePlate] : undefined;
  if (!card || viewer.width === 0) return undefined;
  const { subject, viewExposure, zoom, falseColour, overblur, region } = useDesk.getState();
  const full = refineScale(zoom ?? fitZoom(card, viewer), window.devicePixelRatio);
  return {
    plate: card.id,
    look: benchLook(overblur ? exaggerated(look) : look),
    subject,
    viewExposure,
    falseColour,
    ...(region && REGIONAL.has(subject.kind) && fitsIn(region, card) && { region }),
    scale: { full, draft: Math.min(full, draftScale(card)) },
  };
}

const sameWish = (a: Wish | undefined, b: Wish | undefined): boolean =>
  JSON.stringify(a) === JSON.stringify(b);

const cancelled = (error: unknown): boolean =>
  error instanceof EngineError && error.failure.kind === 'cancelled';

/**
 * Keeps the viewer's bitmaps up to date with the stores: watches them, asks the engine through the scheduler, and
 * calls `redraw` when there is something new. Also fetches the plate itself for comparing, while it is wanted.
 */
export function useView(
  viewer: { width: number; height: number },
  redraw: () => void,
): React.RefObject<Pictures> {
  const pictures = useRef<Pictures>({ final: null, plate: null, region: null });
  const { width, height } = viewer;

  useEffect(() => {
    const { set } = useDesk.getState();
    let alive = true;
    let last: Wish | undefined;
    let lastPlate: string | undefined;
    let starts = useDesk.getState().engineStarts;
    let opened: string | undefined;
    const shifts = new FeedShifts();
    const scheduler = new ViewScheduler<Wish, ShownBitmap>({
      async show({ scale, ...wish }, quality) {
        return unwrap(
          await benchEngine().show({
            ...wish,
            lane: 'view',
            draft: quality === 'draft',
            scale: quality === 'draft' ? scale.draft : scale.full,
          }),
        );
      },
      cancel: () => void benchEngine().cancel('view'),
      onStart: (quality) => set({ phase: quality === 'draft' ? 'draft' : 'refining', progress: 0 }),
      onShown(result, quality) {
        if (!alive) return result.bitmap.close();
        pictures.current.region?.bitmap.close();
        pictures.current.region = null;
        if (result.region) {
          pictures.current.region = { bitmap: result.bitmap, place: result.region };
          const phase = quality === 'draft' ? 'draft' : 'final';
          set({ phase, progress: 1, milliseconds: result.milliseconds });
          return redraw();
        }
        pictures.current.final?.close();
        pictures.current.final = result.bitmap;
        const { accounts, feed, ownFeeds, touched, report, milliseconds } = result;
        const { arrivals } = useDesk.getState();
        set({
          phase: quality === 'draft' ? 'draft' : 'final',
          progress: 1,
          accounts,
          feed,
          ownFeeds,
          touched,
          report,
          milliseconds,
          ...(quality === 'full' && { arrivals: arrivals + 1, ...shifts.notice(last, feed) }),
        });
        redraw();
      },
      onFailed(error) {
        set({ phase: 'failed' });
        reportError(error);
      },
      isCancelled: cancelled,
      cost: (result) => result.milliseconds,
    });

    const refresh = (): void => {
      // A mask that an undo took away is no longer looked at.
      const { subject } = useDesk.getState();
      const { masks } = useShot.getState().look;
      if (subject.kind === 'mask' && !masks.some(({ id }) => id === subject.mask))
        return set({ subject: { kind: 'final' } });
      const wish = currentWish({ width, height });
      if (!wish) {
        last = undefined;
        pictures.current = { final: null, plate: null, region: null };
        redraw();
        return;
      }
      const { engineStarts } = useDesk.getState();
      if (engineStarts !== starts) lastPlate = undefined;
      if (!sameWish(wish, last) || engineStarts !== starts) {
        starts = engineStarts;
        last = wish;
        scheduler.request(wish, useDesk.getState().dragging);
      }
      void refreshPlate(wish);
    };

    /** What the wipe compares with: the plate as it came in, or the final of another version of it. */
    const refreshPlate = async (wish: Wish): Promise<void> => {
      const { wipe, holdPlate, viewExposure, falseColour, wipeVersion } = useDesk.getState();
      if (wipe === null && !holdPlate) return;
      const { look } = wish;
      const bare = plateAlone(look);
      const versioned = wipeVersion !== null && !holdPlate;
      const shownLook = versioned ? look : bare;
      const key = JSON.stringify([
        wish.plate,
        versioned ? [wipeVersion, look] : [bare.plate, look.film],
        viewExposure,
        falseColour,
        wish.scale.full,
      ]);
      if (key === lastPlate) return;
      lastPlate = key;
      try {
        const plate = versioned ? await otherVersion(wipeVersion) : wish.plate;
        const shown = unwrap(
          await benchEngine().show({
            lane: 'compare',
            plate,
            look: shownLook,
            scale: wish.scale.full,
            subject: { kind: 'final' },
            viewExposure,
            falseColour,
          }),
        );
        if (!alive || key !== lastPlate) return shown.bitmap.close();
        pictures.current.plate?.close();
        pictures.current.plate = shown.bitmap;
        redraw();
      } catch (error) {
        lastPlate = undefined;
        if (!cancelled(error)) reportError(error);
      }
    };

    /** The engine's id of another version, opened once. */
    const otherVersion = async (version: number): Promise<string> => {
      const { plates, activePlate } = useShot.getState();
      const entry = plates.find(({ id }) => id === activePlate)!;
      const id = await openForWipe(entry, version);
      if (opened && opened !== id) closeInEngine(opened);
      opened = id;
      return id;
    };

    const stopHearing = onProgress((lane, done) => {
      if (lane === 'view' && useDesk.getState().phase === 'refining') set({ progress: done });
    });
    const stops = [
      stopHearing,
      useShot.subscribe(refresh),
      usePlates.subscribe(refresh),
      useDesk.subscribe(refresh),
    ];
    refresh();
    return () => {
      alive = false;
      if (opened) closeInEngine(opened);
      scheduler.dispose();
      stops.forEach((stop) => stop());
    };
  }, [width, height, redraw]);

  return pictures;
}
