/** A shot that ships with the application: its plate's elements, back to front, and its look, all served under `/demo/`. */
export interface Demo {
  name: string;
  files: readonly [string, ...string[]];
  look: string;
}

export const DEMOS = [
  { name: 'Quay at night', files: ['quay.exr'], look: 'quay.look.json' },
  {
    name: 'Window by day',
    files: ['interior-view.exr', 'interior-room.exr'],
    look: 'interior.look.json',
  },
] as const satisfies readonly Demo[];
