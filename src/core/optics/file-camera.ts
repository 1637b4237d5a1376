import { attributeFloats } from '../image/float-attribute';
import type { Attribute } from '../image/picture';
import type { Camera } from './camera';

/** Standard attributes of OpenEXR that speak of the camera, by preference; in mm, f-number and metres. */
const NAMES: readonly [attribute: string, value: keyof Camera][] = [
  ['nominalFocalLength', 'focalLength'],
  ['effectiveFocalLength', 'focalLength'],
  ['pinholeFocalLength', 'focalLength'],
  ['aperture', 'fStop'],
  ['focus', 'focusDistance'],
];

/** What a file's attributes tell of the camera; what they do not tell, or tell absurdly, is left out. */
export function cameraOfFile(attributes: ReadonlyMap<string, Attribute>): Partial<Camera> {
  const camera: Partial<Camera> = {};
  const take = (name: keyof Camera, value: number): void => {
    if (Number.isFinite(value) && value > 0 && value < 1e6) camera[name] = Number(value.toPrecision(6));
  };
  for (const [attribute, name] of [...NAMES].reverse()) {
    const found = attributeFloats(attributes.get(attribute), 'float', 1);
    if (found) take(name, found[0]!);
  }
  const sensor = attributeFloats(attributes.get('sensorOverallDimensions'), 'v2f', 2);
  if (sensor) {
    take('sensorWidth', sensor[0]!);
    take('sensorHeight', sensor[1]!);
  }
  return camera;
}
