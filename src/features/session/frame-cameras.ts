import { trackCamera, type FrameCamera } from '../../core/look/camera-tracks';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { plateOnBench } from '../../state/reel-shown';
import { useShot } from '../../state/shot-store';
import { fileBlob } from './files';
import { notify } from './notices';

/** Takes the camera that every frame's file tells, as one step. */
export async function takeFrameCameras(): Promise<void> {
  const plate = plateOnBench();
  if (!plate) return;
  const cameras: FrameCamera[] = [];
  for (const { frame, files } of plate.versions[plate.version]!.frames) {
    const blob = await fileBlob(files[0]!.id);
    if (blob && frame !== null) cameras.push({ frame, camera: unwrap(await benchEngine().readCamera(blob)) });
  }
  const { look, tracks, setLookOverTime } = useShot.getState();
  const next = trackCamera({ look, tracks }, cameras);
  setLookOverTime(next.look, next.tracks);
  const moving = Object.entries(next.tracks).filter(([path, track]) => track !== tracks[path]).length;
  notify(
    moving > 0
      ? `the camera is that of each of ${cameras.length} frames`
      : `the camera is that of the files, which is the same in all ${cameras.length} frames`,
    'success',
  );
}
