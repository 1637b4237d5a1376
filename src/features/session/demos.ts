/** A shot that ships with the application: its files and its look, all served under `/demo/`. */
export interface Demo {
  name: string;
  /** The plate's elements, back to front, or the frames of its one render. */
  files: readonly string[];
  isSequence?: boolean;
  look: string;
  /** What changes over time. */
  tracks?: string;
}

const REEL_FRAMES = 24;

export const DEMOS = [
  { name: 'Quay at night', files: ['quay.exr'], look: 'quay.look.json' },
  {
    name: 'Window by day',
    files: ['interior-view.exr', 'interior-room.exr'],
    look: 'interior.look.json',
  },
  {
    name: 'Quay, a reel',
    files: Array.from({ length: REEL_FRAMES }, (_, k) => `quay-reel.${String(k + 1).padStart(4, '0')}.exr`),
    isSequence: true,
    look: 'quay-reel.look.json',
    tracks: 'quay-reel.tracks.json',
  },
] as const satisfies readonly Demo[];
