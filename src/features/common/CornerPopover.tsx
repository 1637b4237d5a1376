'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Popover from '@mui/material/Popover';
import Tooltip from '@mui/material/Tooltip';
import { useState, type ReactNode } from 'react';

interface CornerPopoverProps {
  title: string;
  /** What the button is called, and what its tooltip says. */
  name: string;
  tooltip: string;
  button: ReactNode;
  colour: string;
  /** Pixels from the top of the bench, and width of what opens. */
  top: number;
  width: number;
  /** What stands beside the title. */
  aside?: ReactNode;
  /** Hears whether it is open. */
  onToggle?: (isOpen: boolean) => void;
  /** What is in it while it is open; `close` closes it. */
  children: (close: () => void) => ReactNode;
}

/** A button at the right end of the bench that opens a list or a table. */
export function CornerPopover(props: CornerPopoverProps) {
  const { title, name, tooltip, button, colour, top, width, aside, onToggle, children } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const toggle = (next: HTMLElement | null): void => {
    setAnchor(next);
    onToggle?.(next !== null);
  };
  return (
    <>
      <Tooltip title={tooltip}>
        <ButtonBase
          aria-label={name}
          aria-haspopup="dialog"
          onClick={(event) => toggle(event.currentTarget)}
          sx={{
            position: 'absolute',
            right: 8,
            top,
            height: 24,
            minWidth: 40,
            px: 0.5,
            gap: 0.5,
            border: '1px solid',
            borderColor: 'divider',
            borderRadius: 0.5,
            fontFamily: 'var(--figures)',
            fontSize: 11,
            color: colour,
          }}
        >
          {button}
        </ButtonBase>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => toggle(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': title, sx: { width, p: 1.5 } } }}
      >
        <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', pb: 0.5 }}>
          <Box component="h2" sx={{ fontSize: 14, fontWeight: 600, m: 0 }}>
            {title}
          </Box>
          {aside}
        </Box>
        {anchor && children(() => toggle(null))}
      </Popover>
    </>
  );
}
