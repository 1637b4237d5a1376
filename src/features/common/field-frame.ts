/** The frame about a field to type in, which is red while what it holds cannot be taken. */
export const fieldFrame = (wrong: boolean) => ({
  height: 22,
  px: 0.75,
  border: '1px solid',
  borderColor: wrong ? 'error.main' : 'divider',
  borderRadius: 0.5,
  bgcolor: 'canvas.main',
});
