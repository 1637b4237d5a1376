import { settingAt } from '../../core/look/look';
import { valueAt, type Key, type Track, type Tracks } from '../../core/look/tracks';
import type { Setting } from '../../core/settings/setting';
import { frameScale, type FrameScale } from './frame-scale';
import type { FrameRange } from '../../core/shot/reel';

/** Space above and below curves, and height of the lane of what has no curve. */
const [MARGIN, LANE] = [10, 16];

/** A track as it is drawn: as a curve, or as a lane of what has nothing between. */
export interface DrawnTrack {
  path: string;
  setting: Setting;
  track: Track;
  isCurve: boolean;
  /** The values at the bottom and at the top of its curve. */
  low: number;
  high: number;
  toY: (value: number) => number;
  toValue: (y: number) => number;
}

/** Where tracks lie on a surface: curves each over their own values, but together where they are of one unit and much alike; lanes at the foot. */
export function drawnTracks(
  tracks: Tracks,
  { range, width, height }: { range: FrameRange; width: number; height: number },
): { drawn: DrawnTrack[]; scale: FrameScale } {
  const scale = frameScale(range, width);
  const entries = Object.entries(tracks).map(([path, track]) => ({ path, track, setting: settingAt(path) }));
  const lanes = entries.filter(({ setting }) => setting.kind !== 'number');
  const foot = height - lanes.length * LANE - MARGIN;
  const drawn = entries.map(({ path, track, setting }): DrawnTrack => {
    const lane = lanes.findIndex((one) => one.path === path);
    if (lane >= 0) {
      const y = height - (lanes.length - lane) * LANE + LANE / 2;
      return { path, track, setting, isCurve: false, low: 0, high: 1, toY: () => y, toValue: () => 0 };
    }
    const [low, high] = span(setting, track, range);
    const toY = (value: number): number => foot - ((value - low) / (high - low)) * (foot - MARGIN);
    const toValue = (y: number): number => low + ((foot - y) / (foot - MARGIN)) * (high - low);
    return { path, track, setting, isCurve: true, low, high, toY, toValue };
  });
  return { drawn, scale };
}

/** From the least to the greatest value that a track comes to, with some room. */
function span(setting: Setting, track: Track, { first, last }: FrameRange): [number, number] {
  const step = Math.max(1, Math.floor((last - first) / 400));
  let [low, high] = [Infinity, -Infinity];
  const take = (value: unknown): void => {
    low = Math.min(low, value as number);
    high = Math.max(high, value as number);
  };
  track.keys.forEach(({ value }) => take(value));
  for (let frame = first; frame <= last; frame += step)
    take(valueAt(setting, track, { frame, own: track.keys[0]!.value }));
  if (high > low) return [low, high];
  const room = Math.abs(low) / 2 || (setting.kind === 'number' ? (setting.max - setting.min) / 4 : 1);
  return [low - room, high + room];
}

/** A curve as the points of a polyline. */
export function curvePoints({ setting, track, toY }: DrawnTrack, scale: FrameScale, width: number): string {
  const points: string[] = [];
  for (let x = 0; x <= width; x += 2) {
    const frame = scale.frameAt(x);
    const value = valueAt(setting, track, { frame, own: track.keys[0]!.value }) as number;
    points.push(`${x},${toY(value).toFixed(1)}`);
  }
  return points.join(' ');
}

/** The handles of the way to a key from the one before it; none unless it goes by handles. */
export function handlesOf(
  { track, toY, isCurve }: DrawnTrack,
  key: Key,
  scale: FrameScale,
): { x: number; y: number; fromX: number; fromY: number }[] {
  const before = track.keys[track.keys.indexOf(key) - 1];
  if (!before || !isCurve || typeof key.ease === 'string') return [];
  const [x1, y1, x2, y2] = key.ease;
  const [from, to] = [before.value as number, key.value as number];
  const at = (x: number, y: number): { x: number; y: number } => ({
    x: scale.middle(before.frame + x * (key.frame - before.frame)),
    y: toY(from + y * (to - from)),
  });
  return [
    { ...at(x1, y1), fromX: scale.middle(before.frame), fromY: toY(from) },
    { ...at(x2, y2), fromX: scale.middle(key.frame), fromY: toY(to) },
  ];
}
