import type { Attribute } from './picture';

/** An attribute of floats, as OpenEXR stores them. */
export const floatAttribute = (type: string, ...values: number[]): Attribute => ({
  type,
  bytes: new Uint8Array(Float32Array.from(values).buffer),
});

/** The floats of an attribute of a type; undefined if it is another, or has another number of them. */
export function attributeFloats(
  attribute: Attribute | undefined,
  type: string,
  count: number,
): number[] | undefined {
  if (attribute?.type !== type || attribute.bytes.length !== 4 * count) return undefined;
  const view = new DataView(attribute.bytes.buffer, attribute.bytes.byteOffset);
  return Array.from({ length: count }, (_, index) => view.getFloat32(4 * index, true));
}
