import type { Look, StationId } from '../../core/look/look';

/** Height of the optical axis in the bench's drawing, pixels from the strip's top. */
export const AXIS = 32;

/** What a station's figure may be made of. */
export interface StationFacts {
  look: Look;
  /** Passes of the plate; undefined without one. */
  passes: number | undefined;
  /** Elements of the plate, if it is made of several. */
  elements?: number;
  /** Share of the light that the station moves. */
  moved: number;
}

/** What a person sees of a station. */
export interface StationView {
  id: StationId;
  /** Its element on the bench, drawn in SVG around (0, {@link AXIS}). */
  Glyph: React.ComponentType;
  /** Half height of the ray bundle at the element, pixels. */
  rayHeight(look: Look): number;
  /** Its one most telling figure. */
  figure(facts: StationFacts): string;
  /** What stands in its panel besides rows that follow from the schema. */
  Panel?: React.ComponentType;
  /** Paths that the panel shows by itself, each with all below it. Other settings of the station get rows under it. */
  covers?: readonly string[];
}
