'use client';
import Box from '@mui/material/Box';
import { useDesk } from '../../state/desk-store';

/** Where the computation stands: draft, refining with its progress, final with its time. */
export function StatusLine() {
  const phase = useDesk((state) => state.phase);
  const progress = useDesk((state) => state.progress);
  const milliseconds = useDesk((state) => state.milliseconds);
  const time = milliseconds === null ? '' : ` · ${milliseconds.toFixed(0)} ms`;
  const text = {
    empty: '',
    opening: 'opening',
    draft: `draft${time}`,
    refining: `refining ${Math.round(progress * 100)} %`,
    final: `final${time}`,
    failed: 'failed',
  }[phase];
  return (
    <Box
      component="span"
      data-testid="status"
      data-phase={phase}
      sx={{
        fontFamily: 'var(--figures)',
        fontSize: 11,
        color: phase === 'failed' ? 'error.main' : 'text.secondary',
        minWidth: '16ch',
        textAlign: 'right',
      }}
    >
      {text}
    </Box>
  );
}
