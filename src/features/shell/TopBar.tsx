'use client';
import Redo from '@mui/icons-material/Redo';
import Undo from '@mui/icons-material/Undo';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { redo, undo, useHistory, useShot } from '../../state/shot-store';
import { PrintsButton } from '../print';
import { Mark } from './Mark';
import { ShotMenu } from './ShotMenu';
import { StatusLine } from './StatusLine';
import { ViewExposure } from './ViewExposure';

/** The top line: which shot, undo and redo, where the computation stands, the view, the print. */
export function TopBar({ onPrint }: { onPrint: () => void }) {
  const canUndo = useHistory((history) => history.pastStates.length > 0);
  const canRedo = useHistory((history) => history.futureStates.length > 0);
  const hasPlate = useShot((state) => state.activePlate !== null);
  return (
    <Box
      component="header"
      sx={{
        height: 44,
        flex: 'none',
        px: 1.5,
        display: 'flex',
        alignItems: 'center',
        gap: 1.5,
        bgcolor: 'background.default',
        borderBottom: '1px solid',
        borderColor: 'divider',
      }}
    >
      <Mark />
      <Box component="h1" sx={{ fontSize: 14, fontWeight: 600, m: 0 }}>
        Bokelux
      </Box>
      <ShotMenu />
      <Box sx={{ flex: 1 }} />
      <StatusLine />
      <ViewExposure />
      <Box sx={{ display: 'flex' }}>
        <Tooltip title="Undo (Ctrl + Z)">
          <span>
            <IconButton size="small" aria-label="Undo" disabled={!canUndo} onClick={() => undo()}>
              <Undo sx={{ fontSize: 18 }} />
            </IconButton>
          </span>
        </Tooltip>
        <Tooltip title="Redo (Ctrl + Shift + Z)">
          <span>
            <IconButton size="small" aria-label="Redo" disabled={!canRedo} onClick={() => redo()}>
              <Redo sx={{ fontSize: 18 }} />
            </IconButton>
          </span>
        </Tooltip>
      </Box>
      <PrintsButton />
      <Button variant="contained" onClick={onPrint} disabled={!hasPlate}>
        Print
      </Button>
    </Box>
  );
}
