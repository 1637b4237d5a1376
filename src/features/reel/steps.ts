import { canBeKeyed } from '../../core/look/track-edits';
import { rangeOfReel, stepped } from '../../core/shot/reel';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { pointedSetting, toggleKey } from '../controls';
import { goTo, notify } from '../session';
import { isReelShown, plateOnBench } from '../../state/reel-shown';

/** Shows the reel under the picture, or puts it away. */
export function toggleReel(): void {
  useDesk.getState().set({ reel: !isReelShown(), playing: false });
}

/** A frame on or back. */
export function stepFrame(by: 1 | -1): void {
  const { reel } = useShot.getState();
  const plate = plateOnBench();
  useDesk.getState().set({ playing: false });
  void goTo(stepped(reel, plate, { from: reel.playhead, by, range: rangeOfReel(reel, plate) }));
}

/** To the next frame with a key, or the one before. */
export function stepKey(by: 1 | -1): void {
  const { tracks, reel } = useShot.getState();
  const ahead = Object.values(tracks)
    .flatMap(({ keys }) => keys.map(({ frame }) => frame))
    .filter((frame) => (frame - reel.playhead) * by > 0);
  useDesk.getState().set({ playing: false });
  if (ahead.length > 0) void goTo(by > 0 ? Math.min(...ahead) : Math.max(...ahead));
}

/** A key of the setting that is pointed at, here; or away. */
export function togglePointedKey(): void {
  const path = pointedSetting();
  if (path === undefined)
    return notify('point at a setting first: its key is set at the playhead', 'warning');
  if (!canBeKeyed(path))
    return notify('this cannot change over time: numbers, switches, choices and colours can', 'warning');
  toggleKey(path);
  useDesk.getState().set({ reel: true });
}
