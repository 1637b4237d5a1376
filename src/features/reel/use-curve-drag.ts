import { useRef, useState, type RefObject } from 'react';
import { clamp } from '../../core/image/clamp';
import { settingAt } from '../../core/look/look';
import {
  keysChosen,
  withKey,
  withMovedKeys,
  withPasted,
  withTrack,
  type KeyChoice,
} from '../../core/look/track-edits';
import { valueAt, type Key, type Tracks } from '../../core/look/tracks';
import type { Setting, SettingValue } from '../../core/settings/setting';
import { beginGesture, endGesture, useShot } from '../../state/shot-store';
import { goTo, notify } from '../session';
import type { DrawnTrack } from './curve-layout';
import { isChosen, presentChoice, useCurves, withToggled } from './curve-state';
import type { FrameScale } from './frame-scale';

/** Pixels that a hand moves before it drags. */
const LEAST = 3;

type Held =
  | {
      kind: 'keys';
      x: number;
      y: number;
      tracks: Tracks;
      choice: KeyChoice;
      /** As it was when the hand took hold: what is drawn since grows with what is moved. */
      drawn: readonly DrawnTrack[];
      moved: boolean;
    }
  | { kind: 'handle'; drawn: DrawnTrack; key: Key; side: 0 | 1; moved: boolean }
  | { kind: 'box'; x: number; y: number; added: KeyChoice };

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

const chosenNow = (): KeyChoice => presentChoice(useCurves.getState().choice, useShot.getState().tracks);

/** A number moved by so much, as its setting allows it and no finer than a hand can tell. */
function movedValue(setting: Setting, value: SettingValue, by: number): SettingValue {
  if (setting.kind !== 'number' || by === 0) return value;
  return Number(clamp((value as number) + by, setting.min, setting.max).toPrecision(5));
}

/** Moves the chosen keys by so many frames and steps of their settings. */
export function nudgeChosen(frames: number, steps: number): void {
  const { tracks, setTracks } = useShot.getState();
  const moved = withMovedKeys(tracks, chosenNow(), ({ frame, value }, path) => {
    const setting = settingAt(path);
    const by = setting.kind === 'number' ? steps * setting.step : 0;
    return { frame: frame + frames, value: movedValue(setting, value, by) };
  });
  setTracks(moved.tracks);
  useCurves.getState().set({ choice: moved.choice });
}

export function copyChosen(): void {
  const copied = keysChosen(useShot.getState().tracks, chosenNow());
  const count = Object.values(copied).reduce((sum, { keys }) => sum + keys.length, 0);
  if (count === 0) return;
  useCurves.getState().set({ copied });
  notify(`${count} ${count === 1 ? 'key' : 'keys'} copied`, 'success');
}

/** Lays the copied keys in from the playhead on. */
export function pasteKeys(): void {
  const { copied, set } = useCurves.getState();
  if (!copied) return;
  const { tracks, setTracks, reel } = useShot.getState();
  const pasted = withPasted(tracks, copied, reel.playhead);
  setTracks(pasted.tracks);
  set({ choice: pasted.choice });
}

/** What a hand does on the curves: moves keys and handles, chooses with a box, adds keys. */
export function useCurveDrag({
  surface,
  drawn,
  scale,
}: {
  surface: RefObject<SVGSVGElement | null>;
  drawn: readonly DrawnTrack[];
  scale: FrameScale;
}) {
  const held = useRef<Held | null>(null);
  const [box, setBox] = useState<Box | null>(null);
  const place = (event: React.PointerEvent | React.MouseEvent): { x: number; y: number } => {
    const frame = surface.current!.getBoundingClientRect();
    return { x: event.clientX - frame.left, y: event.clientY - frame.top };
  };
  const take = (event: React.PointerEvent, what: Held): void => {
    event.stopPropagation();
    surface.current!.focus({ preventScroll: true });
    surface.current!.setPointerCapture(event.pointerId);
    held.current = what;
  };

  const moveKeys = (
    own: Held & { kind: 'keys' },
    { x, y }: { x: number; y: number },
    isLevel: boolean,
  ): void => {
    if (!own.moved) {
      if (Math.hypot(x - own.x, y - own.y) < LEAST) return;
      own.moved = true;
      beginGesture();
    }
    const frames = Math.round((x - own.x) / scale.step);
    const rise = isLevel ? 0 : own.y - y;
    const moved = withMovedKeys(own.tracks, own.choice, ({ frame, value }, path) => {
      const of = own.drawn.find((one) => one.path === path);
      const by = of?.isCurve ? of.toValue(0) - of.toValue(rise) : 0;
      return { frame: frame + frames, value: movedValue(settingAt(path), value, by) };
    });
    useShot.getState().setTracks(moved.tracks);
    useCurves.getState().set({ choice: moved.choice });
  };

  const moveHandle = (own: Held & { kind: 'handle' }, { x, y }: { x: number; y: number }): void => {
    const { tracks, setTracks } = useShot.getState();
    const track = tracks[own.drawn.path];
    const key = track?.keys.find(({ frame }) => frame === own.key.frame);
    const before = track?.keys[track.keys.indexOf(key!) - 1];
    if (!track || !key || !before || typeof key.ease === 'string') return;
    if (!own.moved) beginGesture();
    own.moved = true;
    const [from, to] = [before.value as number, key.value as number];
    const share = clamp((scale.frameAt(x) - before.frame) / (key.frame - before.frame), 0, 1);
    const level = to === from ? own.side : (own.drawn.toValue(y) - from) / (to - from);
    const pair = [round(share), round(clamp(level, -10, 10))] as const;
    const [x1, y1, x2, y2] = key.ease;
    const ease = own.side === 0 ? ([...pair, x2, y2] as const) : ([x1, y1, ...pair] as const);
    const keys = track.keys.map((one) => (one === key ? { ...key, ease } : one));
    setTracks(withTrack(tracks, own.drawn.path, { ...track, keys }));
  };

  const chooseWithin = (own: Held & { kind: 'box' }, { x, y }: { x: number; y: number }): void => {
    const [left, right] = [Math.min(own.x, x), Math.max(own.x, x)];
    const [top, bottom] = [Math.min(own.y, y), Math.max(own.y, y)];
    setBox({ x: left, y: top, width: right - left, height: bottom - top });
    const within = drawn.map(({ path, track, toY }): [string, number[]] => {
      const frames = track.keys.flatMap(({ frame, value }) => {
        const [keyX, keyY] = [scale.middle(frame), toY(value as number)];
        const isIn = keyX >= left && keyX <= right && keyY >= top && keyY <= bottom;
        return isIn || isChosen(own.added, path, frame) ? [frame] : [];
      });
      return [path, frames];
    });
    useCurves.getState().set({ choice: Object.fromEntries(within) });
  };

  const end = (): void => {
    const own = held.current;
    held.current = null;
    if (own?.kind === 'box') {
      // A click on nothing goes to the frame there, and chooses nothing.
      if (!box) {
        useCurves.getState().set({ choice: {} });
        void goTo(scale.toFrame(own.x));
      }
      setBox(null);
    } else if (own?.moved) endGesture();
  };

  return {
    box,
    surface: {
      onPointerDown(event: React.PointerEvent): void {
        if (event.button !== 0) return;
        take(event, { kind: 'box', ...place(event), added: event.shiftKey ? chosenNow() : {} });
      },
      onPointerMove(event: React.PointerEvent): void {
        const own = held.current;
        if (!own) return;
        const at = place(event);
        if (own.kind === 'keys') moveKeys(own, at, event.shiftKey);
        else if (own.kind === 'handle') moveHandle(own, at);
        else if (box || Math.hypot(at.x - own.x, at.y - own.y) >= LEAST) chooseWithin(own, at);
      },
      onPointerUp: end,
      onPointerCancel: end,
    },
    holdKey(event: React.PointerEvent, { path }: DrawnTrack, { frame }: Key): void {
      if (event.button !== 0) return;
      const { tracks } = useShot.getState();
      const before = chosenNow();
      const isMore = event.shiftKey || event.ctrlKey || event.metaKey;
      const choice = isMore
        ? withToggled(before, path, frame)
        : isChosen(before, path, frame)
          ? before
          : { [path]: [frame] };
      useCurves.getState().set({ choice });
      take(event, { kind: 'keys', ...place(event), tracks, choice, drawn, moved: false });
    },
    holdHandle(event: React.PointerEvent, of: DrawnTrack, key: Key, side: 0 | 1): void {
      if (event.button === 0) take(event, { kind: 'handle', drawn: of, key, side, moved: false });
    },
    /** A key on the curve, at the frame of a place. */
    addKey(event: React.MouseEvent, { path, track, setting }: DrawnTrack): void {
      event.stopPropagation();
      const frame = scale.toFrame(place(event).x);
      const value = valueAt(setting, { ...track, life: undefined }, { frame, own: track.keys[0]!.value });
      const { tracks, setTracks } = useShot.getState();
      setTracks(withKey(tracks, path, { frame, value }));
      useCurves.getState().set({ choice: { [path]: [frame] } });
    },
  };
}

const round = (value: number): number => Math.round(value * 1000) / 1000;
