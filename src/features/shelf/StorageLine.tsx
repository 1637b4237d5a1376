'use client';
import Box from '@mui/material/Box';
import LinearProgress from '@mui/material/LinearProgress';
import Tooltip from '@mui/material/Tooltip';
import { usePlates } from '../session';
import { sizeText } from './parts';

/** Nearly full is worth a warning before it is full. */
const NEARLY = 0.9;

/** How much of what the browser grants is taken by the shot's files, and what the open plates take in memory. */
export function StorageLine() {
  const quota = usePlates((state) => state.quota);
  const memory = usePlates((state) => Object.values(state.cards).reduce((sum, { bytes }) => sum + bytes, 0));
  const files = usePlates((state) => Object.values(state.fileBytes).reduce((sum, bytes) => sum + bytes, 0));
  // Browsers are slow to count what was just written; the files' own sizes are known.
  const used = Math.max(quota?.used ?? 0, files);
  const share = quota && quota.granted > 0 ? used / quota.granted : 0;
  return (
    <Box
      data-testid="storage"
      sx={{
        pt: 2,
        fontFamily: 'var(--figures)',
        fontSize: 11,
        color: share > NEARLY ? 'error.main' : 'text.secondary',
      }}
    >
      {sizeText(memory)} in memory
      {quota && (
        <Tooltip title="Files of this shot that are kept in this browser, and how much room it grants">
          <Box>
            {sizeText(used)} kept of {sizeText(quota.granted)}
            <LinearProgress
              variant="determinate"
              value={Math.min(100, share * 100)}
              aria-label="Room in this browser"
              color={share > NEARLY ? 'error' : 'primary'}
              sx={{ mt: 0.5, height: 2 }}
            />
          </Box>
        </Tooltip>
      )}
    </Box>
  );
}
