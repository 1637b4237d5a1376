import Box from '@mui/material/Box';
import type { ReactNode } from 'react';

interface FigureLineProps {
  /** Room above and below, in the theme's units. */
  pt?: number;
  pb?: number;
  children: ReactNode;
}

/** Small figures below a chart or a picture, from its left edge to its right. */
export function FigureLine({ pt = 0, pb = 0, children }: FigureLineProps) {
  return (
    <Box
      sx={{
        display: 'flex',
        justifyContent: 'space-between',
        fontFamily: 'var(--figures)',
        fontSize: 10.5,
        color: 'text.secondary',
        whiteSpace: 'nowrap',
        pt,
        pb,
      }}
    >
      {children}
    </Box>
  );
}
