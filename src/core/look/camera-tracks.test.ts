import { defaultLook, getSetting } from './look';
import { trackCamera } from './camera-tracks';
import { withKey } from './track-edits';
import { lookAt } from './tracks';

describe('the camera of every frame', () => {
  const zoom = [10, 11, 12].map((frame, k) => ({
    frame,
    camera: { focalLength: 24 + 10 * k, fStop: 4, ...(k !== 1 && { focusDistance: 3 + k }) },
  }));
  const { look, tracks } = trackCamera(
    { look: defaultLook(), tracks: withKey({}, 'camera.fStop', { frame: 1, value: 2 }) },
    zoom,
  );

  it('is the one of its file, and what stays the same has no track', () => {
    expect(Object.keys(tracks).sort()).toEqual(['camera.focalLength', 'camera.focusDistance']);
    for (const { frame, camera } of zoom) {
      const at = lookAt(look, tracks, frame);
      expect([at.camera.focalLength, at.camera.fStop]).toEqual([camera.focalLength, 4]);
    }
    // A frame that does not tell it lies between those that do.
    expect(lookAt(look, tracks, 11).camera.focusDistance).toBe(4);
  });

  it('is held to what settings allow, and is nothing where nothing is told', () => {
    const wild = trackCamera({ look: defaultLook(), tracks: {} }, [{ frame: 1, camera: { fStop: 1e9 } }]);
    expect(getSetting(wild.look, 'camera.fStop')).toBe(128);
    const none = { look: defaultLook(), tracks: {} };
    expect(trackCamera(none, [{ frame: 1, camera: {} }])).toEqual(none);
  });
});
