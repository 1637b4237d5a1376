import type { NearbyLights } from '../../core/light/resolved-light';
import { lookAt } from '../../core/look/tracks';
import { stepped } from '../../core/shot/reel';
import type { PlateEntry } from '../../core/shot/shot';
import { benchEngine, EngineError, unwrap } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { hasWideScreen, reelScale } from '../common';
import {
  benchLook,
  errorLine,
  filesAt,
  holdFrame,
  isOpen,
  nearbyKeys,
  nearbyLights,
  reelPlayed,
  sightHeld,
  usePlates,
} from '../session';
import { isReelShown, plateOnBench } from '../../state/reel-shown';

/** The drafts of a reel may take so much. */
export const DRAFT_BYTES = 256 * 1024 ** 2;

interface Draft {
  /** What it is a picture of, at one frame. */
  signature: string;
  /** After which edit it was last found to be right. */
  edit: number;
  bitmap: ImageBitmap | undefined;
  /** Why there is none. */
  failure: string | undefined;
}

/** A picture that was taken off the screen may be drawn once more before it is gone. */
const CLOSE_AFTER_MS = 2000;

/**
 * Small pictures of the frames of the reel, made one after the other from the playhead on while nothing else is computed, and kept within
 * a limit.
 */
class FrameDrafts {
  private readonly kept = new Map<number, Draft>();
  private readonly listeners = new Set<() => void>();
  private edit = 0;
  private bytes = 0;
  private isMaking = false;
  private isWatching = false;
  /** Grows whenever a draft comes or goes. */
  changes = 0;

  /** Makes drafts from now on, while there is use for them. */
  watch(): void {
    if (this.isWatching) return;
    this.isWatching = true;
    useShot.subscribe((now, before) => {
      const isMoved = now.reel.playhead !== before.reel.playhead;
      // The look at another frame is no edit.
      if (
        now.tracks !== before.tracks ||
        (now.look !== before.look && !isMoved) ||
        !isSameRenders(now.plates, before.plates) ||
        now.activePlate !== before.activePlate
      )
        this.edited();
      this.tend();
    });
    usePlates.subscribe(() => this.tend());
    useDesk.subscribe((now, before) => {
      if (now.engineStarts !== before.engineStarts || aspects(now) !== aspects(before)) this.edited();
      if (now.dragging || now.phase === 'draft') void benchEngine().cancel('reel');
      this.tend();
    });
    this.tend();
  }

  subscribe(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  /** Bytes of all drafts. */
  get size(): number {
    return this.bytes;
  }

  /** The draft of a frame as it would be made now; undefined if there is none. */
  find(frame: number): ImageBitmap | undefined {
    return this.valid(frame)?.bitmap;
  }

  /** What there is of a frame, also if it is not of the present look. */
  findAny(frame: number): { bitmap: ImageBitmap; isPresent: boolean } | undefined {
    const bitmap = this.kept.get(frame)?.bitmap;
    return bitmap && { bitmap, isPresent: this.find(frame) !== undefined };
  }

  /** Why a frame cannot be shown. */
  failureAt(frame: number): string | undefined {
    return this.valid(frame)?.failure;
  }

  private edited(): void {
    this.edit++;
    this.changed();
  }

  private changed(): void {
    this.changes++;
    this.listeners.forEach((listener) => listener());
  }

  private valid(frame: number): Draft | undefined {
    const draft = this.kept.get(frame);
    if (!draft) return undefined;
    if (draft.edit !== this.edit) {
      if (draft.signature !== signatureAt(frame)) return undefined;
      draft.edit = this.edit;
    }
    return draft;
  }

  /** The frame of which a draft is wanted first: from the playhead on, and round. */
  private next(): number | undefined {
    const { reel } = useShot.getState();
    const range = reelPlayed();
    const plate = plateOnBench();
    let frame = reel.playhead;
    for (let k = range.first; k <= range.last; k++) {
      if (!this.valid(frame)) return this.hasRoomFor(frame) ? frame : undefined;
      frame = stepped(reel, plate, { from: frame, by: 1, range, loop: true });
    }
    return undefined;
  }

  /** Whether a frame is nearer ahead of the playhead than what would have to go for it. */
  private hasRoomFor(frame: number): boolean {
    if (this.bytes < DRAFT_BYTES) return true;
    const farthest = this.farthest();
    return farthest !== undefined && ahead(frame) < ahead(farthest);
  }

  private farthest(): number | undefined {
    return [...this.kept.keys()].reduce<number | undefined>(
      (far, frame) => (far === undefined || ahead(frame) > ahead(far) ? frame : far),
      undefined,
    );
  }

  private tend(): void {
    if (!this.isMaking && isWanted()) void this.make();
  }

  private async make(): Promise<void> {
    this.isMaking = true;
    try {
      for (let frame = this.next(); frame !== undefined && isWanted(); frame = this.next()) {
        if (!(await this.makeOne(frame))) break;
      }
    } finally {
      this.isMaking = false;
    }
  }

  /** Makes the draft of a frame; false if something else is to be computed first. */
  private async makeOne(frame: number): Promise<boolean> {
    const { edit } = this;
    const signature = signatureAt(frame);
    let held: Awaited<ReturnType<typeof holdFrame>>;
    try {
      held = await holdFrame(frame);
      if (!held || !isWanted()) return false;
      const over = useShot.getState();
      await sightHeld(frame, over, held);
      const nearby = await nearbyLights(frame, over, isWanted);
      if (!nearby) return false;
      const bitmap = await draw(frame, held, nearby);
      this.put(frame, { signature, edit, bitmap, failure: undefined });
    } catch (error) {
      if (error instanceof EngineError && error.failure.kind === 'cancelled') return false;
      this.put(frame, { signature, edit, bitmap: undefined, failure: errorLine(error) });
    } finally {
      held?.release();
    }
    return true;
  }

  private put(frame: number, draft: Draft): void {
    this.drop(frame);
    this.kept.set(frame, draft);
    this.bytes += bytesOf(draft);
    while (this.bytes > DRAFT_BYTES) {
      const far = this.farthest();
      if (far === undefined || far === frame) break;
      this.drop(far);
    }
    this.changed();
  }

  private drop(frame: number): void {
    const draft = this.kept.get(frame);
    if (!draft) return;
    this.kept.delete(frame);
    this.bytes -= bytesOf(draft);
    if (draft.bitmap) setTimeout(() => draft.bitmap?.close(), CLOSE_AFTER_MS);
  }
}

const bytesOf = ({ bitmap }: Draft): number => (bitmap ? 4 * bitmap.width * bitmap.height : 0);

/** How far a frame lies ahead of the playhead, round the end of what is played. */
function ahead(frame: number): number {
  const { first, last } = reelPlayed();
  const count = last - first + 1;
  const { playhead } = useShot.getState().reel;
  return frame < first || frame > last ? count : (frame - playhead + count) % count;
}

/** Whether plates differ at most in which of their frames is looked at. */
const isSameRenders = (a: readonly PlateEntry[], b: readonly PlateEntry[]): boolean =>
  a === b ||
  (a.length === b.length &&
    a.every((plate, k) => {
      const other = b[k]!;
      return (
        plate.id === other.id &&
        plate.versions === other.versions &&
        plate.version === other.version &&
        plate.roles === other.roles &&
        plate.elements === other.elements
      );
    }));

/** What of the desk changes pictures. */
const aspects = ({ viewExposure, falseColour, rangeWarning }: ReturnType<typeof useDesk.getState>): string =>
  JSON.stringify([viewExposure, falseColour, rangeWarning]);

function signatureAt(frame: number): string {
  const { look, tracks } = useShot.getState();
  const { engineStarts } = useDesk.getState();
  return JSON.stringify([
    filesAt(frame),
    lookAt(look, tracks, frame),
    nearbyKeys(frame, { look, tracks }),
    aspects(useDesk.getState()),
    engineStarts,
  ]);
}

/** Whether drafts of frames are of use, and nothing that is waited for is computed. */
function isWanted(): boolean {
  const { phase, dragging, passing, playing, subject, shownProof, strip, looks, compare } =
    useDesk.getState();
  const plate = plateOnBench();
  const card = plate && usePlates.getState().cards[plate.id];
  if (!card || !isOpen(card.id) || !isReelShown()) return false;
  if (subject.kind !== 'final' || shownProof !== null || strip || looks || compare === 'difference')
    return false;
  return playing || passing || (phase === 'final' && !dragging);
}

async function draw(
  frame: number,
  { id, under }: { id: string; under: string | undefined },
  nearby: readonly NearbyLights[],
): Promise<ImageBitmap> {
  const { look, tracks } = useShot.getState();
  const { viewExposure, falseColour, rangeWarning } = useDesk.getState();
  const card = usePlates.getState().cards[plateOnBench()!.id]!;
  const { bitmap } = unwrap(
    await benchEngine().show({
      lane: 'reel',
      plate: id,
      look: benchLook(lookAt(look, tracks, frame), under),
      nearbyLights: nearby,
      subject: { kind: 'final' },
      draft: true,
      scale: reelScale(card),
      viewExposure,
      falseColour,
      rangeWarning,
      displayP3: hasWideScreen(),
    }),
  );
  return bitmap;
}

export const frameDrafts = new FrameDrafts();
