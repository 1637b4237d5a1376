'use client';
import Box from '@mui/material/Box';
import type { PlateCard } from '../../session';
import { useElement } from './use-element';

/** What the plate's file holds. */
export function PlateFacts() {
  const { card } = useElement();
  if (!card) return null;
  const facts: [string, string][] = [
    ['file', card.name],
    ['size', `${card.width} x ${card.height}, ${card.sampleType}, ${card.compression}`],
    ...overscan(card),
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
    </Box>
  );
}

/** The frame, where there is more of the picture than it shows. */
function overscan({ width, height, frame }: PlateCard): [string, string][] {
  if (frame.width === width && frame.height === height) return [];
  return [['frame', `${frame.width} x ${frame.height} at ${frame.x}, ${frame.y}`]];
}
