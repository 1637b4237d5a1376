/** The keys of the application, as the help lists them. */
export const KEYS: readonly { keys: string; does: string }[] = [
  { keys: '1 to 3', does: 'Select a station' },
  { keys: 'Shift + 2 to 3', does: 'Switch the station off or on' },
  { keys: 'Space (held)', does: 'Show the plate' },
  { keys: 'W', does: 'Wipe between plate and final' },
  { keys: 'F', does: 'Fit the picture' },
  { keys: 'Z', does: 'Actual size' },
  { keys: 'Arrows, + and - (on the picture)', does: 'Pan and zoom' },
  { keys: 'E', does: 'Show what feeds the veil' },
  { keys: '. and ,', does: 'Look at the next pass, the one before' },
  { keys: 'V', does: 'False colour in stops' },
  { keys: 'Esc', does: 'Back to the final' },
  { keys: 'Ctrl + Z', does: 'Undo' },
  { keys: 'Ctrl + Shift + Z', does: 'Redo' },
  { keys: 'Ctrl + P', does: 'Print' },
  { keys: '/', does: 'Find a setting' },
  { keys: '?', does: 'This list' },
];
