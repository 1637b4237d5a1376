'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useSeat } from '../session';

const TEXTS = {
  taken: {
    title: 'This shot is open in another tab',
    text: 'Two tabs cannot keep one shot: each would write over the other. Take it over, and the other tab stops; or work on a copy of it here.',
    take: 'Take over here',
    copy: 'Open a copy',
  },
  lost: {
    title: 'Another tab has taken this shot over',
    text: 'What was done here until then is there, too. Take it back, or go on here with a copy of what you see.',
    take: 'Take it back',
    copy: 'Go on with a copy',
  },
} as const;

/** Asks what to do when a shot is open in two tabs. Nothing can be done before it is answered. */
export function SeatDialog() {
  const { trouble, decide } = useSeat();
  const { title, text, take, copy } = TEXTS[trouble ?? 'taken'];
  return (
    <Dialog open={trouble !== null} aria-labelledby="seat-title">
      <DialogTitle id="seat-title">{title}</DialogTitle>
      <DialogContent sx={{ maxWidth: 460 }}>{text}</DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={() => decide('copy')}>
          {copy}
        </Button>
        <Button variant="contained" onClick={() => decide('take over')}>
          {take}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
