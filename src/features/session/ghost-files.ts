import { lightsAtFrame } from '../../core/formats/lights/space-light';
import { withOwnLens } from '../../core/look/own-lens';
import { placeSpaceLights, trackSpaceLights } from '../../core/look/space-lights';
import { parseLensDesign } from '../../core/optics/lens/design';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { useShot } from '../../state/shot-store';
import { notify, reportError } from './notices';
import { sceneClock } from './playhead';
import { readJsonFile } from './read-json';

/** Puts the lights of a scene, or of places by frame, into the look, those that move with their ways, as one step. */
export async function bringInLights(file: File): Promise<void> {
  try {
    const read = unwrap(await benchEngine().readLights(file, file.name, sceneClock()));
    const lights = lightsAtFrame(read, useShot.getState().reel.playhead);
    const { look, tracks, setLookOverTime } = useShot.getState();
    const known = new Set(look.ghosts.lights.map(({ name }) => name));
    const placed = placeSpaceLights(look, lights);
    setLookOverTime(placed, trackSpaceLights(tracks, read, { look: placed, known }));
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
