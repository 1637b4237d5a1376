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
    const found = attributes.get(attribute);
    if (found?.type === 'float' && found.bytes.length === 4) take(name, floatAt(found.bytes, 0));
  }
  const sensor = attributes.get('sensorOverallDimensions');
  if (sensor?.type === 'v2f' && sensor.bytes.length === 8) {
    take('sensorWidth', floatAt(sensor.bytes, 0));
    take('sensorHeight', floatAt(sensor.bytes, 4));
  }
  return camera;
}

function floatAt(bytes: Uint8Array, at: number): number {
  return new DataView(bytes.buffer, bytes.byteOffset).getFloat32(at, true);
}
