'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import TextField from '@mui/material/TextField';
import { NAME } from '../../core/settings/setting';
import { SETTINGS, STATION_LABELS, stationOfPath } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';

/** Settings with a field of their own in a panel; those of single passes stand in the pass table. */
const FINDABLE = SETTINGS.filter(
  ({ kind, path }) => !['switch', 'order', 'masks'].includes(kind) && !path.includes(`.${NAME}.`),
);

const ENTRIES = FINDABLE.map((setting) => {
  const station = stationOfPath(setting.path);
  const place =
    setting.group === STATION_LABELS[station]
      ? setting.group
      : `${STATION_LABELS[station]}, ${setting.group}`;
  return { path: setting.path, station, label: `${place}: ${setting.label}` };
});

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
            set({ station: entry.station, revealed: entry.path });
            onClose();
            // The panel of another station is there only after it was drawn.
            setTimeout(
              () => document.querySelector<HTMLElement>(`[data-setting="${entry.path}"] input`)?.focus(),
              50,
            );
          }}
          renderInput={(parameters) => (
            <TextField {...parameters} autoFocus size="small" label="Find a setting" />
          )}
        />
      </DialogContent>
    </Dialog>
  );
}
