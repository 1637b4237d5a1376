import { trackCamera, type FrameCamera } from '../../core/look/camera-tracks';
import { focalLengthFor, sensorPart } from '../../core/optics/camera';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { plateOnBench } from '../../state/reel-shown';
import { useShot } from '../../state/shot-store';
import { fileBlob } from './files';
import { notify, reportError } from './notices';
import { usePlates } from './plates';
import { sceneClock } from './playhead';

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

/** Takes the focal length that sees what the camera of a scene in glTF sees, frame by frame if it zooms, as one step. */
export async function takeSceneCamera(file: File): Promise<void> {
  try {
    const clock = sceneClock();
    const fields = unwrap(await benchEngine().readFields(file, file.name, clock));
    const { look, tracks, setLookOverTime } = useShot.getState();
    const { height } = sensorPart(look.camera, aspectOnBench());
    const cameras = fields.map(({ frame = clock.first, field }): FrameCamera => ({
      frame,
      camera: { focalLength: Number(focalLengthFor(field, height).toPrecision(5)) },
    }));
    const next = trackCamera({ look, tracks }, cameras);
    setLookOverTime(next.look, next.tracks);
    const moves = fields.length > 1 ? `zooms over ${fields.length} frames` : 'stays the same';
    notify(`${file.name}: the focal length is that of its camera, which ${moves}`, 'success');
  } catch (error) {
    reportError(error);
  }
}

/** Width over height of the picture's frame. */
function aspectOnBench(): number {
  const plate = plateOnBench();
  const card = plate && usePlates.getState().cards[plate.id];
  const { sensorWidth, sensorHeight } = useShot.getState().look.camera;
  return card ? card.frame.width / card.frame.height : sensorWidth / sensorHeight;
}
