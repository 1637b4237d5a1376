import { areUsable, type Chromaticities } from '../color/chromaticities';
import { attributeFloats, floatAttribute } from './float-attribute';
import type { Attribute } from './picture';

/** What to tell the person if a file's primaries cannot be used. */
export function chromaticitiesWarning(attributes: ReadonlyMap<string, Attribute>): string | undefined {
  return !attributes.has('chromaticities') || readChromaticities(attributes)
    ? undefined
    : 'its primaries span no colours; its values are taken as Rec.709';
}

/** The attribute that names primaries. */
export function chromaticitiesAttribute({ red, green, blue, white }: Chromaticities): Attribute {
  return floatAttribute('chromaticities', ...red, ...green, ...blue, ...white);
}

/** The primaries that a file's attribute names, if it has one that makes sense. */
export function readChromaticities(attributes: ReadonlyMap<string, Attribute>): Chromaticities | undefined {
  const floats = attributeFloats(attributes.get('chromaticities'), 'chromaticities', 8);
  if (!floats) return undefined;
  const xy = (index: number): [number, number] => [floats[2 * index]!, floats[2 * index + 1]!];
  const primaries: Chromaticities = { red: xy(0), green: xy(1), blue: xy(2), white: xy(3) };
  return areUsable(primaries) ? primaries : undefined;
}
