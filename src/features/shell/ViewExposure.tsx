'use client';
import Box from '@mui/material/Box';
import InputBase from '@mui/material/InputBase';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { readQuantity } from '../common';
import { useDesk } from '../../state/desk-store';

const LIMIT = 16;

/** Exposure of the view alone, in stops: to look into lamps or shadows. It changes no file. */
export function ViewExposure() {
  const value = useDesk((state) => state.viewExposure);
  const set = useDesk((state) => state.set);
  const [typed, setTyped] = useState<string | null>(null);
  const put = (next: number): void =>
    set({ viewExposure: Math.min(LIMIT, Math.max(-LIMIT, Math.round(next * 100) / 100)) });
  const take = (): void => {
    const next = typed === null ? undefined : readQuantity(typed, 'st');
    if (next !== undefined) put(next);
    setTyped(null);
  };
  const nudge = (step: number): void => {
    put((typed === null ? value : (readQuantity(typed, 'st') ?? value)) + step);
    setTyped(null);
  };
  return (
    <Tooltip title="Exposure of the view alone, in stops; up and down keys step by half a stop. Files are not changed">
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 0.75,
          fontFamily: 'var(--figures)',
          fontSize: 11,
          color: value === 0 ? 'text.secondary' : 'primary.main',
        }}
      >
        <span>view</span>
        <InputBase
          value={typed ?? `${value > 0 ? '+' : ''}${value.toFixed(1)}`}
          onChange={(event) => setTyped(event.target.value)}
          onFocus={(event) => event.target.select()}
          onBlur={take}
          onKeyDown={(event) => {
            if (event.key === 'Enter') event.currentTarget.blur();
            else if (event.key === 'Escape') setTyped(null);
            else if (event.key === 'ArrowUp') nudge(0.5);
            else if (event.key === 'ArrowDown') nudge(-0.5);
            else return;
            event.preventDefault();
          }}
          inputProps={{ 'aria-label': 'View exposure in stops', autoComplete: 'off' }}
          sx={{
            width: 46,
            height: 22,
            px: 0.75,
            border: '1px solid',
            borderColor: 'divider',
            borderRadius: 0.5,
            input: { p: 0, fontFamily: 'var(--figures)', fontSize: 11, textAlign: 'right' },
            color: 'inherit',
          }}
        />
        <span>EV</span>
      </Box>
    </Tooltip>
  );
}
