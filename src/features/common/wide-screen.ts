/** Whether the screen shows the primaries of P3. */
export const hasWideScreen = (): boolean =>
  'matchMedia' in window && window.matchMedia('(color-gamut: p3)').matches;
