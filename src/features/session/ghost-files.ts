import { lightsAtFrame } from '../../core/formats/lights/space-light';
import { withOwnLens } from '../../core/look/own-lens';
import { placeSpaceLights } from '../../core/look/space-lights';
import { parseLensDesign } from '../../core/optics/lens/design';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { useShot } from '../../state/shot-store';
import { notify, reportError } from './notices';
import { readJsonFile } from './read-json';

/** The number of the frame that is on the bench; of a single picture 1. */
function presentFrame(): number {
  const { plates, activePlate } = useShot.getState();
  const plate = plates.find(({ id }) => id === activePlate);
  return plate?.versions[plate.version]?.frames[plate.frame]?.frame ?? 1;
}

/** Puts the lights of a scene, or of places by frame, into the look, as one step. */
export async function bringInLights(file: File): Promise<void> {
  try {
    const read = unwrap(await benchEngine().readLights(file, file.name));
    const lights = lightsAtFrame(read, presentFrame());
    const { look, setLook } = useShot.getState();
    setLook(placeSpaceLights(look, lights));
    for (const warning of read.warnings) notify(`${file.name}: ${warning}`, 'warning');
    notify(`${file.name}: ${lights.length} light${lights.length === 1 ? '' : 's'} brought in`, 'success');
  } catch (error) {
    reportError(error);
  }
}

/** Makes a design the look's own, as one step. */
export async function bringInLens(file: File): Promise<void> {
  try {
    const design = parseLensDesign(await readJsonFile(file, 'Choose a lens design as JSON'), file.name);
    const { look, setLook } = useShot.getState();
    setLook(withOwnLens(look, design));
  } catch (error) {
    reportError(error);
  }
}
