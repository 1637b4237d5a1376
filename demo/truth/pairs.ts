/** The settings at which the quay is traced through a real aperture. */
export interface Pair {
  fStop: number;
  /** Metres. */
  focus: number;
}

export const SIZE = { width: 960, height: 540 } as const;
export const PAIRS: readonly Pair[] = [
  { fStop: 1.4, focus: 3 },
  { fStop: 1.4, focus: 20 },
  { fStop: 2.8, focus: 3 },
  { fStop: 2.8, focus: 20 },
];

/** The two pupils that every pair is traced with; one ray may serve both. */
export const PUPILS = {
  blades: { blades: 6, curvature: 0, rotation: 15 },
  disc: { blades: 0, curvature: 1, rotation: 0 },
} as const;
export type PupilName = keyof typeof PUPILS;
export const PUPIL_NAMES = ['blades', 'disc'] as const;

/** The settings at which the row is traced, for plates of several elements. */
export const ROW_PAIRS: readonly Pair[] = [
  { fStop: 2, focus: 3 },
  { fStop: 2, focus: 8 },
];

/** Parts of the row that are rendered by themselves, each whole behind what stands before it. */
export const ELEMENTS = {
  wall: ['wall', 'sky'],
  row: ['row'],
  bars: ['bars'],
  behind: ['wall', 'row', 'sky'],
} as const;
export type ElementName = keyof typeof ELEMENTS;
/** Stacks of them that make the whole, back to front. */
export const STACKS = {
  two: ['behind', 'bars'],
  three: ['wall', 'row', 'bars'],
} as const satisfies Record<string, readonly ElementName[]>;
export type StackName = keyof typeof STACKS;
export const STACK_NAMES = ['two', 'three'] as const;

export const FOLDER = 'demo/truth/pictures';
export const PINHOLE = `${FOLDER}/pinhole.exr`;
export const pairFile = ({ fStop, focus }: Pair): string => `${FOLDER}/f${fStop}-${focus}m.exr`;
export const elementFile = (name: ElementName): string => `${FOLDER}/row-${name}.exr`;
export const rowFile = ({ fStop, focus }: Pair): string => `${FOLDER}/row-f${fStop}-${focus}m.exr`;
