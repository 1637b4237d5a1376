'use client';
import Box from '@mui/material/Box';
import { useShot } from '../../state/shot-store';
import { usePlates } from '../session';

/** What the plate's file holds. */
export function PlateFacts() {
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  if (!card) return null;
  const facts: [string, string][] = [
    ['file', card.name],
    ['size', `${card.width} x ${card.height}, ${card.sampleType}, ${card.compression}`],
    ['depth', card.depth ?? 'none'],
    ['memory', `${(card.bytes / 2 ** 20).toFixed(0)} MB`],
  ];
  return (
    <Box sx={{ pt: 1, fontSize: 11 }}>
      {facts.map(([name, value]) => (
        <Box key={name} sx={{ display: 'flex', gap: 1, minHeight: 18 }}>
          <Box sx={{ width: 60, color: 'text.secondary' }}>{name}</Box>
          <Box sx={{ fontFamily: 'var(--figures)', overflowWrap: 'anywhere' }}>{value}</Box>
        </Box>
      ))}
      <Box
        component="ul"
        aria-label="Passes"
        sx={{ listStyle: 'none', p: 0, m: 0, mt: 1, borderTop: '1px solid', borderColor: 'divider', pt: 1 }}
      >
        {card.passes.map((pass) => (
          <Box component="li" key={pass.name} sx={{ display: 'flex', gap: 1, minHeight: 18 }}>
            <Box sx={{ width: 92, overflow: 'hidden', textOverflow: 'ellipsis' }}>{pass.name}</Box>
            <Box sx={{ width: 52, color: 'text.secondary' }}>{pass.kind}</Box>
            <Box
              sx={{
                flex: 1,
                fontFamily: 'var(--figures)',
                color: 'text.secondary',
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                whiteSpace: 'nowrap',
              }}
            >
              {pass.channels.join(' ')}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
