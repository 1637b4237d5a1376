'use client';
import Box from '@mui/material/Box';

/** What a switch of the bench or of a group shows: filled when it is on. */
export function SwitchDot({ on }: { on: boolean }) {
  return (
    <Box
      sx={{
        width: 9,
        height: 9,
        borderRadius: '50%',
        border: '1.5px solid',
        borderColor: on ? 'primary.main' : 'text.secondary',
        bgcolor: on ? 'primary.main' : 'transparent',
      }}
    />
  );
}
