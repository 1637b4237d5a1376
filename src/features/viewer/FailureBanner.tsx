'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import type { PlateCard } from '../session';

/** Says over the picture why it is not what was asked for, and offers what helps at once. */
export function FailureBanner({ card }: { card: PlateCard }) {
  const failure = useDesk((state) => (state.failure?.plate === card.plate ? state.failure : null));
  const subject = useDesk((state) => state.subject);
  const set = useDesk((state) => state.set);
  const focusOn = useShot((state) => state.look.focus.on);
  const change = useShot((state) => state.change);
  if (!failure) return null;
  const lacksDepth = focusOn && !card.depth;
  return (
    <Box
      role="alert"
      data-testid="failure"
      onPointerDown={(event) => event.stopPropagation()}
      sx={{
        position: 'absolute',
        left: '50%',
        top: 36,
        transform: 'translateX(-50%)',
        maxWidth: 'calc(100% - 32px)',
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        px: 1.25,
        py: 0.5,
        bgcolor: 'background.paper',
        borderLeft: '3px solid',
        borderColor: 'error.main',
        borderRadius: 0.5,
        fontSize: 12,
        overflowWrap: 'anywhere',
      }}
    >
      <span>The plate is shown as it is. {failure.line}</span>
      {subject.kind !== 'final' && (
        <Button size="small" color="inherit" onClick={() => set({ subject: { kind: 'final' } })}>
          Back to the final
        </Button>
      )}
      {lacksDepth && (
        <Button size="small" color="inherit" onClick={() => change('focus.on', false)}>
          Switch Focus off
        </Button>
      )}
    </Box>
  );
}
