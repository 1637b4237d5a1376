import type { Attribute } from '../src/core/image/picture';
import type { Scene } from './tracer/scene';

const floats = (type: string, ...values: number[]): Attribute => ({
  type,
  bytes: new Uint8Array(Float32Array.from(values).buffer),
});

/** What a picture's file tells of the scene's camera, by the standard attributes of OpenEXR; millimetres. */
export function cameraAttributes(
  { focalLength, sensorWidth }: Scene['camera'],
  { width, height }: { width: number; height: number },
): Map<string, Attribute> {
  return new Map([
    ['pinholeFocalLength', floats('float', focalLength)],
    ['sensorOverallDimensions', floats('v2f', sensorWidth, (sensorWidth * height) / width)],
  ]);
}
