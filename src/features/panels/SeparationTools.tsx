'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useDesk } from '../../state/desk-store';

const NAME = 'veil.bloom';

/** Shows the bloom by itself, and tells what left the frame. */
export function SeparationTools() {
  const subject = useDesk((state) => state.subject);
  const account = useDesk((state) => state.accounts.veil);
  const set = useDesk((state) => state.set);
  const alone = subject.kind === 'separation' && subject.name === NAME;
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between', gap: 1, pt: 0.75 }}>
      <Box sx={{ fontFamily: 'var(--figures)', fontSize: 11, color: 'text.secondary' }}>
        {account ? `${(account.left * 100).toFixed(2)} % leaves the frame` : 'no light is spread yet'}
      </Box>
      <Button
        size="small"
        variant="outlined"
        aria-pressed={alone}
        color={alone ? 'primary' : 'inherit'}
        sx={{ whiteSpace: 'nowrap', flex: 'none' }}
        onClick={() => set({ subject: alone ? { kind: 'final' } : { kind: 'separation', name: NAME } })}
      >
        Bloom alone
      </Button>
    </Box>
  );
}
