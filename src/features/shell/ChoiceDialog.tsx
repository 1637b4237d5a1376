'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogTitle from '@mui/material/DialogTitle';
import List from '@mui/material/List';
import ListItemButton from '@mui/material/ListItemButton';
import { useChoice } from '../session';

/** A question with a few answers, for something under way that waits for it. */
export function ChoiceDialog() {
  const choice = useChoice((state) => state.choice);
  const giveUp = (): void => choice?.answer(null);
  return (
    <Dialog open={choice !== null} onClose={giveUp} aria-labelledby="choice-title">
      <DialogTitle id="choice-title" sx={{ fontSize: 15 }}>
        {choice?.title}
      </DialogTitle>
      <List dense>
        {choice?.options.map((option) => (
          <ListItemButton
            key={option}
            onClick={() => choice.answer(option)}
            sx={{ px: 3, overflowWrap: 'anywhere' }}
          >
            {option}
          </ListItemButton>
        ))}
      </List>
      <DialogActions>
        <Button color="inherit" onClick={giveUp}>
          Cancel
        </Button>
      </DialogActions>
    </Dialog>
  );
}
