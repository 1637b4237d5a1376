'use client';
import ExpandMore from '@mui/icons-material/ExpandMore';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { defaultLook } from '../../core/look/look';
import { fileName } from '../../core/print/file-name';
import { SHOT_EXTENSION } from '../../core/shot/shot';
import { useShot } from '../../state/shot-store';
import { startTour } from '../tour';
import {
  chooseFileForLarge,
  DEMOS,
  download,
  openDemo,
  notify,
  openEarlier,
  packCurrentShot,
  reportError,
  useFileChooser,
  useKept,
} from '../session';

/** The shot's name, and what can be done with the shot as a whole. */
export function ShotMenu() {
  const name = useShot((state) => state.name);
  const rename = useShot((state) => state.rename);
  const setLook = useShot((state) => state.setLook);
  const choose = useFileChooser();
  const earlier = useKept((state) => state.earlier);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const pick = (action: () => unknown) => () => {
    setAnchor(null);
    Promise.resolve(action()).catch(reportError);
  };
  const save = async (): Promise<void> => {
    const parts = { shot: name, plate: '', width: 0, height: 0, date: new Date() };
    const file = fileName('{shot}', parts, SHOT_EXTENSION);
    const into = await chooseFileForLarge(file);
    if (into === null) return;
    const { blob } = await packCurrentShot(into);
    if (blob) download(blob, file);
    else notify(`${file} saved`, 'success');
  };
  const saveLook = (): void => {
    const { look } = useShot.getState();
    const parts = { shot: name, plate: '', width: 0, height: 0, date: new Date() };
    const bytes = new TextEncoder().encode(JSON.stringify(look, null, 2));
    download(bytes, fileName('{shot}.look', parts, 'json'));
  };
  const takeName = (): void => {
    if (typed?.trim()) rename(typed.trim());
    setTyped(null);
  };
  return (
    <>
      <Button
        color="inherit"
        endIcon={<ExpandMore />}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ color: 'text.secondary', maxWidth: 320, minWidth: 0 }}
      >
        <Box
          component="span"
          title={name}
          sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          {name}
        </Box>
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem dense onClick={pick(() => setTyped(name))}>
          Rename…
        </MenuItem>
        <Divider />
        <MenuItem dense onClick={pick(save)}>
          Save the shot to a file
        </MenuItem>
        <MenuItem dense onClick={pick(saveLook)}>
          Save the look to a file
        </MenuItem>
        <MenuItem dense onClick={pick(() => choose())}>
          Open a shot, a look or a render…
        </MenuItem>
        {DEMOS.map((demo) => (
          <MenuItem dense key={demo.name} onClick={pick(() => openDemo(demo))}>
            Open the demo: {demo.name}
          </MenuItem>
        ))}
        <MenuItem dense onClick={pick(startTour)}>
          A tour in ten steps
        </MenuItem>
        {earlier.length > 0 && <Divider />}
        {earlier.map((kept) => (
          <MenuItem dense key={kept.savedAt} onClick={pick(() => openEarlier(kept))}>
            <Box component="span" sx={{ maxWidth: 260, overflow: 'hidden', textOverflow: 'ellipsis' }}>
              Back to {kept.shot.name}
            </Box>
            <Box component="span" sx={{ pl: 1, fontSize: 11, color: 'text.secondary' }}>
              {new Date(kept.savedAt).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })}
            </Box>
          </MenuItem>
        ))}
        <Divider />
        <MenuItem dense onClick={pick(() => setLook(defaultLook()))}>
          Reset all settings
        </MenuItem>
      </Menu>
      <Dialog open={typed !== null} onClose={() => setTyped(null)} aria-labelledby="rename-title">
        <DialogTitle id="rename-title">Rename the shot</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            size="small"
            margin="dense"
            label="Name"
            value={typed ?? ''}
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={(event) => {
              if (event.key !== 'Enter') return;
              // The button that the focus goes back to must not be pressed by the same key.
              event.preventDefault();
              takeName();
            }}
            slotProps={{ htmlInput: { maxLength: 200 } }}
          />
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setTyped(null)}>
            Cancel
          </Button>
          <Button variant="contained" onClick={takeName} disabled={!typed?.trim()}>
            Rename
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
