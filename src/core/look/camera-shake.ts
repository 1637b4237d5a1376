import type { Rectangle, Size } from '../image/rectangle';
import { clamp } from '../image/clamp';
import { setSetting, settingAt, type Look } from './look';
import { withTrack } from './track-edits';
import type { Life, Tracks } from './tracks';

/** How a camera shakes: smoothly, and the same every time for a seed. */
export interface CameraShake {
  /** By how much the picture is moved at most each way, share of its height; and turned, degrees. */
  size: number;
  roll: number;
  /** Turns of the movement a frame. */
  rate: number;
  seed: number;
}

type Drift = Extract<Life, { kind: 'drift' }>;

const PATHS = ['glass.shake.x', 'glass.shake.y', 'glass.shake.roll'] as const;

/** How a look over time shakes; undefined if it does not, or each of the three by itself. */
export function shakeOf(tracks: Tracks): CameraShake | undefined {
  const [x, y, roll] = PATHS.map((path) => tracks[path]?.life).filter(
    (life): life is Drift => life?.kind === 'drift',
  );
  if (!x || !y || !roll || x.size !== y.size || x.rate !== y.rate) return undefined;
  return { size: x.size, roll: roll.size, rate: x.rate, seed: x.seed };
}

/**
 * Look and tracks with a camera that shakes, and enlarged by as much as it needs beyond the overscan; undefined holds it still.
 * `frame` is that of the render in its pixels, `size` all of it.
 */
export function shakeCamera(
  { look, tracks }: { look: Look; tracks: Tracks },
  shake: CameraShake | undefined,
  { frame, size }: { frame: Rectangle; size: Size },
): { look: Look; tracks: Tracks } {
  const still = [...PATHS, 'glass.shake.enlarge'].reduce(
    (now, path) => ({
      look: setSetting(now.look, path, 0),
      tracks: withTrack(now.tracks, path, undefined),
    }),
    { look, tracks },
  );
  if (!shake) return still;
  const enlarge = settingAt('glass.shake.enlarge');
  const needed = enlargedFor(shake, frame, size);
  const most = enlarge.kind === 'number' ? enlarge.max : needed;
  return {
    look: setSetting(still.look, 'glass.shake.enlarge', clamp(needed, 0, most)),
    tracks: PATHS.reduce<Tracks>(
      (all, path, k) => ({
        ...all,
        [path]: {
          keys: [{ frame: 1, value: 0, ease: 'hold' }],
          before: 'hold',
          after: 'hold',
          // Each goes its own way.
          life: {
            kind: 'drift',
            size: path === 'glass.shake.roll' ? shake.roll : shake.size,
            rate: shake.rate,
            seed: shake.seed + k,
            offset: 0,
          },
        },
      }),
      still.tracks,
    ),
  };
}

/** Share by which a picture is enlarged so that a frame which is moved and turned lies within it; rounded up to a thousandth. */
function enlargedFor({ size, roll }: CameraShake, frame: Rectangle, whole: Size): number {
  const turn = (roll * Math.PI) / 180;
  const across = frame.width / frame.height / 2 + size;
  const down = 0.5 + size;
  // The corner that is turned outward the farthest.
  const wanted = {
    x: across * Math.cos(turn) + down * Math.sin(turn),
    y: down * Math.cos(turn) + across * Math.sin(turn),
  };
  const beside = Math.min(frame.x, whole.width - frame.x - frame.width) / frame.height;
  const above = Math.min(frame.y, whole.height - frame.y - frame.height) / frame.height;
  const there = { x: frame.width / frame.height / 2 + beside, y: 0.5 + above };
  const needed = Math.max(0, wanted.x / there.x - 1, wanted.y / there.y - 1);
  return Math.max(0, Math.ceil(1000 * needed - 1e-9) / 1000);
}
