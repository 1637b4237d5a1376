import { create } from 'zustand';
import type { Ease } from '../core/look/ease';
import type { StationId } from '../core/look/look';
import type { StripAxis } from '../core/look/strip';
import type { Rectangle } from '../core/image/rectangle';
import type { Circle } from '../core/measure/queries';
import type { EnergyAccount } from '../core/light/station';
import type { Shown, Subject } from '../engine/messages';

/** Where the computation stands. */
export type Phase = 'empty' | 'opening' | 'draft' | 'refining' | 'final' | 'failed';

export interface Placement {
  /** Screen pixels a picture pixel, or null to fit. */
  zoom: number | null;
  /** Picture point in the middle of the viewer, in pixels of the full-size picture. */
  centre: { x: number; y: number } | null;
}

/** What stands beside the picture. */
export type Side = 'shelf' | 'panel';

const FOLDED = 'bokelux folded';

/** What was folded when the application was used last. */
export function rememberedFolds(): Record<Side, boolean> {
  try {
    const folded = localStorage.getItem(FOLDED) ?? '';
    return { shelf: folded.includes('shelf'), panel: folded.includes('panel') };
  } catch {
    return { shelf: false, panel: false };
  }
}

function rememberFolds(folded: Record<Side, boolean>): void {
  try {
    localStorage.setItem(
      FOLDED,
      Object.entries(folded)
        .flatMap(([side, is]) => (is ? [side] : []))
        .join(' '),
    );
  } catch {
    // Then it is as it was the next time.
  }
}

export type CompareMode = 'wipe' | 'blink' | 'beside' | 'difference';

/** What a picture can be held against: the plate, its present look, another version of its render, a proof, a reference. */
export type CompareTarget =
  | { kind: 'plate' | 'present' }
  | { kind: 'version'; plate: string; version: number }
  | { kind: 'proof' | 'reference'; id: string };

export const PLATE: CompareTarget = { kind: 'plate' };

/** What the person looks at and with: not part of the shot, not undone, not saved. */
export interface DeskState extends Placement {
  station: StationId;
  subject: Subject;
  /** Exposure of the view alone, in stops. */
  viewExposure: number;
  /** How the picture is held against something else; null if it is not. */
  compare: CompareMode | null;
  /** What it is held against. */
  against: CompareTarget;
  /** Where the wipe's edge lies, 0 to 1 across the picture. */
  wipe: number;
  /** How long each of the two is seen while they blink. */
  blinkSeconds: number;
  /** By how many stops a difference is raised. */
  differenceGain: number;
  /** Whether zoom and pan of what stands beside the picture are the picture's. */
  tied: boolean;
  /** Id of the proof that is shown instead of the present look. */
  shownProof: string | null;
  /** The plate is shown instead, as long as a key is held. */
  holdPlate: boolean;
  dragging: boolean;
  /** Whether the kept shot has been opened, or found to be none. */
  isStarted: boolean;
  phase: Phase;
  /** 0 to 1, of what is being computed. */
  progress: number;
  milliseconds: number | null;
  /** Why the plate of an id in the shot cannot be shown as it is wanted. */
  failure: { plate: string; line: string } | null;
  /** While a region is on: whether the figures of the whole picture are of the present look, or of one before it. */
  figuresOf: 'whole' | 'whole before' | null;
  accounts: Partial<Record<StationId, EnergyAccount>>;
  feed: Shown['feed'];
  ownFeeds: Shown['ownFeeds'];
  /** How the share of fed light changed when something before the veil did, until it is taken note of. */
  feedShift: { before: number; after: number } | null;
  touched: { despiked: number; clamped: number } | undefined;
  report: Shown['report'];
  /** Light as colours by stops. */
  falseColour: boolean;
  /** What the display cannot show is painted over. */
  rangeWarning: boolean;
  /** Counts finished pictures of what is held against it. */
  comparedArrivals: number;
  /** Of which of the two the scopes are. */
  scopesOf: 'shown' | 'compared';
  /** Patches that are drawn to match a reference, as shares of each picture; null if none are wanted. */
  patches: Partial<Record<'shown' | 'compared', Rectangle>> | null;
  /** Circles round a lamp of the picture and one of the reference that are measured; null if nothing is to be. */
  circles: Partial<Record<'shown' | 'compared', Circle>> | null;
  /** Whether the scopes stand under the picture. */
  scopes: boolean;
  /** Counts finished pictures, for what is drawn from them. */
  arrivals: number;
  /** Counts pictures of any quality, for what follows a hand. */
  draftArrivals: number;
  /** Blur is exaggerated, as long as a key is held, so that the focus is easily found. */
  overblur: boolean;
  /** What the next click on the picture sets: the focus, or an end of a normalised depth. */
  picking: 'focus' | 'pull' | 'near' | 'far' | 'disc' | null;
  /** Places that the focus was pulled to by a click, in pixels of the full size, by frame. */
  pulls: readonly { frame: number; x: number; y: number }[];
  /** How the focus comes to the next of them. */
  pullEase: Ease;
  /** The disc that is wished at a place that is clicked: its size in pixels of the full size, and what is to make it. */
  wishedDisc: { pixels: number; by: 'fStop' | 'amount' };
  /** A place that was clicked for an end of the depth: its share of the way from near to far, and how far it now seems. */
  depthPick: { end: 'near' | 'far'; x: number; y: number; share: number; distance: number } | null;
  /** The shape that the next drag on the picture draws. */
  pen: { mask: string; shape: number } | null;
  /** The part of a plate's picture that alone is computed, in pixels of the full size. */
  region: (Rectangle & { plate: string }) | null;
  /** Whether the next drag on the picture draws it. */
  drawingRegion: boolean;
  /** Path of the setting that was asked for last: the group that holds it unfolds. */
  revealed: string | null;
  /** Place of the light that is worked on in the look's list, and name of the ghost that is looked at. */
  light: number | null;
  ghost: string | null;
  /** Place of the element that is worked on, from the back; the nearest without one. */
  element: number | null;
  /** Id of the mask whose handles are on the picture. */
  mask: string | null;
  /** What varies along the sides of the test strip that stands in place of the picture. */
  strip: readonly StripAxis[] | null;
  /** Whether whole looks are chosen from, in place of the picture. */
  looks: boolean;
  /** Whether the reel stands under the picture; null is as the plate on the bench is a sequence. */
  reel: boolean | null;
  /** Whether the curves of what changes over time stand over it. */
  curves: boolean;
  /** Path of the setting whose life is worked on. */
  lifeOf: string | null;
  /** The playhead passes by frames: what is shown are their drafts, as far as there are any. */
  passing: boolean;
  /** Whether the reel is played. */
  playing: boolean;
  /** Whether every frame is shown, however long it takes, or time is kept. */
  everyFrame: boolean;
  /** From the end on to the beginning. */
  looping: boolean;
  /** Frames that were not shown since play began, for want of a draft. */
  dropped: number;
  /** Which step of the tour is on; null while it is not. */
  tour: number | null;
  /** Whether the shelf and the panel are folded away; remembered from one time to the next. */
  folded: Readonly<Record<Side, boolean>>;
  /** The picture alone fills the window. */
  alone: boolean;
  /** Folds one side away or back; without one both, unless both are folded. */
  foldSides: (side?: Side) => void;
  /** How often the engine was started again; what it computed before is gone. */
  engineStarts: number;
  set: (change: Partial<Omit<DeskState, 'set' | 'foldSides'>>) => void;
}

export const useDesk = create<DeskState>()((set, get) => ({
  station: 'veil',
  subject: { kind: 'final' },
  viewExposure: 0,
  zoom: null,
  centre: null,
  compare: null,
  against: PLATE,
  wipe: 0.5,
  blinkSeconds: 0.8,
  differenceGain: 0,
  tied: true,
  shownProof: null,
  holdPlate: false,
  dragging: false,
  isStarted: false,
  phase: 'empty',
  progress: 0,
  milliseconds: null,
  failure: null,
  figuresOf: null,
  accounts: {},
  feed: undefined,
  ownFeeds: {},
  feedShift: null,
  touched: undefined,
  report: undefined,
  falseColour: false,
  rangeWarning: false,
  scopes: false,
  arrivals: 0,
  draftArrivals: 0,
  comparedArrivals: 0,
  scopesOf: 'shown',
  patches: null,
  circles: null,
  overblur: false,
  picking: null,
  pulls: [],
  pullEase: 'smooth',
  wishedDisc: { pixels: 24, by: 'fStop' },
  depthPick: null,
  pen: null,
  region: null,
  drawingRegion: false,
  revealed: null,
  light: null,
  ghost: null,
  mask: null,
  element: null,
  strip: null,
  looks: false,
  reel: null,
  curves: false,
  lifeOf: null,
  passing: false,
  playing: false,
  everyFrame: false,
  looping: true,
  dropped: 0,
  tour: null,
  engineStarts: 0,
  folded: { shelf: false, panel: false },
  alone: false,
  foldSides(side) {
    const { shelf, panel } = get().folded;
    const all = !(shelf && panel);
    const folded = side ? { ...get().folded, [side]: !get().folded[side] } : { shelf: all, panel: all };
    rememberFolds(folded);
    set({ folded });
  },
  set,
}));

/** A version that was compared with is another one's by now: the plate takes its place. */
export function forgetVersion(): void {
  if (useDesk.getState().against.kind === 'version') useDesk.getState().set({ against: PLATE });
}

/** What is no longer in the shot is no longer compared with. */
export function forgetCompared(ids: { has(id: string): boolean }): void {
  const { against, shownProof, set } = useDesk.getState();
  if ('id' in against && !ids.has(against.id)) set({ compare: null, against: PLATE });
  if (shownProof !== null && !ids.has(shownProof)) set({ shownProof: null });
}
