'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useDesk } from '../../state/desk-store';

/** When more of the picture feeds than this, everything glows (common practice). */
const GLOWING = 0.01;

/** How much of the picture feeds the veil, and the button that paints it over the picture. */
export function FeedReport() {
  const feed = useDesk((state) => state.feed);
  const shown = useDesk((state) => state.subject.kind === 'feed');
  const set = useDesk((state) => state.set);
  const many = feed !== undefined && feed.pixels > GLOWING;
  return (
    <Box
      sx={{ display: 'flex', alignItems: 'flex-start', justifyContent: 'space-between', gap: 1, pt: 0.75 }}
    >
      <Box
        sx={{ fontFamily: 'var(--figures)', fontSize: 11, color: many ? 'error.main' : 'text.secondary' }}
        data-testid="feed-share"
      >
        <Box>{feed ? `${percent(feed.pixels)} of the pixels` : 'nothing feeds'}</Box>
        {feed && <Box>{percent(feed.light)} of the light</Box>}
        {many && <Box>over 1 %: everything glows</Box>}
      </Box>
      <Button
        size="small"
        variant="outlined"
        aria-pressed={shown}
        color={shown ? 'primary' : 'inherit'}
        sx={{ whiteSpace: 'nowrap', flex: 'none' }}
        onClick={() => set({ subject: { kind: shown ? 'final' : 'feed' } })}
      >
        Show feed
      </Button>
    </Box>
  );
}

function percent(share: number): string {
  const value = share * 100;
  return `${value.toFixed(value >= 10 ? 1 : 2)} %`;
}
