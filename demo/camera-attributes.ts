import { floatAttribute } from '../src/core/image/float-attribute';
import type { Attribute } from '../src/core/image/picture';
import type { Scene } from './tracer/scene';

/** What a picture's file tells of the scene's camera, by the standard attributes of OpenEXR; millimetres. */
export function cameraAttributes(
  { focalLength, sensorWidth }: Scene['camera'],
  { width, height }: { width: number; height: number },
): Map<string, Attribute> {
  return new Map([
    ['pinholeFocalLength', floatAttribute('float', focalLength)],
    ['sensorOverallDimensions', floatAttribute('v2f', sensorWidth, (sensorWidth * height) / width)],
  ]);
}
