'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import TextField from '@mui/material/TextField';
import { useDesk } from '../../state/desk-store';
import { ENTRIES, fieldOf } from './find-setting';

/** Finds a setting by its name and puts the keyboard on its field. */
export function FindSetting({ open, onClose }: { open: boolean; onClose: () => void }) {
  const set = useDesk((state) => state.set);
  return (
    <Dialog
      open={open}
      onClose={onClose}
      fullWidth
      maxWidth="xs"
      aria-label="Find a setting"
      disableRestoreFocus
    >
      <DialogContent>
        <Autocomplete
          options={ENTRIES}
          openOnFocus
          autoHighlight
          onChange={(_, entry) => {
            if (!entry) return;
            const { folded, foldSides } = useDesk.getState();
            if (folded.panel) foldSides('panel');
            set({ station: entry.station, revealed: entry.path, alone: false });
            onClose();
            // The panel of another station is there only after it was drawn.
            setTimeout(() => {
              const field = fieldOf(entry.path);
              field?.scrollIntoView({ block: 'center' });
              field?.focus();
            }, 50);
          }}
          renderInput={(parameters) => (
            <TextField {...parameters} autoFocus size="small" label="Find a setting" />
          )}
        />
      </DialogContent>
    </Dialog>
  );
}
