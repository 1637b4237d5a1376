import { clamp } from '../image/clamp';
import type { Camera } from '../optics/camera';
import { setSetting, settingAt, type Look } from './look';
import { withKey, withTrack } from './track-edits';
import type { Tracks } from './tracks';

/** What the file of a frame tells of its camera. */
export interface FrameCamera {
  frame: number;
  camera: Partial<Camera>;
}

/**
 * Look and tracks with the camera that files tell frame by frame: what stays the same is the look's, what changes gets a key at every
 * frame that tells it. Values are held to what the settings allow.
 */
export function trackCamera(
  { look, tracks }: { look: Look; tracks: Tracks },
  frames: readonly FrameCamera[],
): { look: Look; tracks: Tracks } {
  let next = { look, tracks };
  for (const name of Object.keys(look.camera) as (keyof Camera)[]) {
    const path = `camera.${name}`;
    const setting = settingAt(path);
    const told = frames.flatMap(({ frame, camera }) => {
      const value = camera[name];
      if (typeof value !== 'number' || setting.kind !== 'number') return [];
      return [{ frame, value: clamp(value, setting.min, setting.max) }];
    });
    const first = told[0];
    if (!first) continue;
    const isMoving = told.some(({ value }) => value !== first.value);
    const bare = withTrack(next.tracks, path, undefined);
    next = isMoving
      ? { ...next, tracks: told.reduce((all, key) => withKey(all, path, { ...key, ease: 'linear' }), bare) }
      : { look: setSetting(next.look, path, first.value), tracks: bare };
  }
  return next;
}
