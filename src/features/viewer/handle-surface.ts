/** How a drawing of handles lies over the picture: what is not a handle lets the pointer through. */
export const HANDLE_SURFACE = {
  position: 'absolute',
  inset: 0,
  width: '100%',
  height: '100%',
  pointerEvents: 'none',
  overflow: 'hidden',
} as const;
