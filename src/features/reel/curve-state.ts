import { create } from 'zustand';
import type { KeyChoice } from '../../core/look/track-edits';
import type { Tracks } from '../../core/look/tracks';

/** What of the curves a person works on: not part of the shot. */
interface CurveState {
  /** Paths of tracks that are not drawn. */
  hidden: readonly string[];
  /** The keys that are chosen. */
  choice: KeyChoice;
  /** Keys that were copied. */
  copied: Tracks | null;
  set: (change: Partial<Omit<CurveState, 'set'>>) => void;
}

export const useCurves = create<CurveState>()((set) => ({ hidden: [], choice: {}, copied: null, set }));

/** The chosen keys that are still there. */
export const presentChoice = (choice: KeyChoice, tracks: Tracks): KeyChoice =>
  Object.fromEntries(
    Object.entries(choice).flatMap(([path, frames]) => {
      const left = frames.filter((frame) => tracks[path]?.keys.some((key) => key.frame === frame));
      return left.length > 0 ? [[path, left]] : [];
    }),
  );

export const isChosen = (choice: KeyChoice, path: string, frame: number): boolean =>
  choice[path]?.includes(frame) ?? false;

/** The choice with a key added, or taken out if it is in it. */
export function withToggled(choice: KeyChoice, path: string, frame: number): KeyChoice {
  const frames = choice[path] ?? [];
  return {
    ...choice,
    [path]: frames.includes(frame) ? frames.filter((one) => one !== frame) : [...frames, frame],
  };
}
