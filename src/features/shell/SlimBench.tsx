'use client';
import CloseFullscreen from '@mui/icons-material/CloseFullscreen';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { isSwitched, STATION_IDS, STATION_LABELS } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { StatusLine } from './StatusLine';

/** The bench as a line over the picture that is alone: which stations are on, and the way back to them. */
export function SlimBench() {
  const look = useShot((state) => state.look);
  const set = useDesk((state) => state.set);
  return (
    <Box
      component="nav"
      aria-label="Bench"
      sx={{
        height: 24,
        flex: 'none',
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        px: 1,
        bgcolor: 'background.default',
        borderBottom: '1px solid',
        borderColor: 'divider',
        fontSize: 11,
      }}
    >
      {STATION_IDS.map((id) => {
        const on = !isSwitched(id) || look[id].on;
        return (
          <ButtonBase
            key={id}
            onClick={() => set({ station: id, alone: false })}
            sx={{
              px: 0.75,
              height: 22,
              fontSize: 11,
              color: on ? 'text.primary' : 'text.secondary',
              opacity: on ? 1 : 0.6,
            }}
          >
            {STATION_LABELS[id]}
          </ButtonBase>
        );
      })}
      <Box sx={{ flex: 1 }} />
      <StatusLine />
      <Tooltip title="Back to the whole bench (Shift + H, or Esc)">
        <IconButton
          size="small"
          aria-label="Back to the whole bench"
          onClick={() => set({ alone: false })}
          sx={{ p: 0.25 }}
        >
          <CloseFullscreen sx={{ fontSize: 14 }} />
        </IconButton>
      </Tooltip>
    </Box>
  );
}
