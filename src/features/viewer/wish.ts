import { plateAlone, type Look } from '../../core/look/look';
import type { ShowRequest, Subject } from '../../engine/messages';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { benchLook, usePlates } from '../session';
import { differenceLook, shownLook } from './compared';
import { draftScale, fitZoom, hasWideScreen, refineScale } from '../common';

/** What is wanted of a plate on the bench. */
export interface Wish extends Omit<ShowRequest, 'scale' | 'lane'> {
  /** The plate's id in the shot, and what its passes were read as. */
  of: { plate: string; revision: number };
  scale: { draft: number; full: number };
}

/** What can be computed of a region alone. The rest is told of the whole picture: one effect by itself also has the light that comes from afar. */
const REGIONAL: ReadonlySet<Subject['kind']> = new Set(['final', 'behind']);

/** By how much blur grows while the focus is looked for. */
const OVERBLUR = 4;

function exaggerated(look: Look): Look {
  return { ...look, focus: { ...look.focus, amount: Math.min(10, look.focus.amount * OVERBLUR) } };
}

/** What is wanted now, from the stores; undefined without a plate. */
export function currentWish(viewer: { width: number; height: number }): Wish | undefined {
  const { activePlate } = useShot.getState();
  const card = activePlate ? usePlates.getState().cards[activePlate] : undefined;
  if (!card || viewer.width === 0) return undefined;
  const {
    subject: chosen,
    viewExposure,
    zoom,
    falseColour,
    rangeWarning,
    overblur,
    region,
  } = useDesk.getState();
  const other = chosen.kind === 'final' ? differenceLook() : undefined;
  const subject: Subject = other ? { kind: 'difference', gain: useDesk.getState().differenceGain } : chosen;
  const look = shownLook();
  const full = refineScale(zoom ?? fitZoom(card, viewer), window.devicePixelRatio);
  const part =
    region?.plate === card.plate &&
    REGIONAL.has(subject.kind) &&
    region.x + region.width <= card.width &&
    region.y + region.height <= card.height
      ? { x: region.x, y: region.y, width: region.width, height: region.height }
      : undefined;
  return {
    plate: card.id,
    of: { plate: card.plate, revision: card.revision },
    look: benchLook(overblur ? exaggerated(look) : look),
    subject,
    ...(other && { against: benchLook(other) }),
    viewExposure,
    falseColour,
    rangeWarning,
    displayP3: hasWideScreen(),
    ...(part && { region: part }),
    scale: { full, draft: Math.min(full, draftScale(card)) },
  };
}

export const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Whether the whole picture of one wish serves the other, but for what was changed in the look while a region is on. */
export function sharesWhole(a: Wish | undefined, b: Wish): boolean {
  const aspects = ({
    plate,
    of,
    subject,
    against,
    viewExposure,
    falseColour,
    rangeWarning,
  }: Wish): unknown => [plate, of, subject, against, viewExposure, falseColour, rangeWarning];
  return a !== undefined && isSame(aspects(a), aspects(b));
}

/** The plate by itself, for what cannot be computed. */
export function bareWish(wish: Wish): Wish {
  const { plate, of, viewExposure, falseColour, displayP3, scale } = wish;
  return {
    plate,
    of,
    look: plateAlone(wish.look),
    subject: { kind: 'final' },
    viewExposure,
    ...(falseColour !== undefined && { falseColour }),
    ...(displayP3 !== undefined && { displayP3 }),
    scale,
  };
}
