'use client';
import Box from '@mui/material/Box';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { getSetting } from '../../core/look/look';
import { canBeKeyed, keyState, withKey, withoutKey, withTrack } from '../../core/look/track-edits';
import type { Setting } from '../../core/settings/setting';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { useReelShown } from '../../state/reel-shown';

const SAYS = {
  none: 'No key: a click sets one at the playhead',
  here: 'A key stands at the playhead: a click takes it out',
  elsewhere: 'Keyed at other frames: what is changed here becomes a key',
};

/** Sets a key of a setting at the playhead with the value that it has there, or takes the one that is there out. */
export function toggleKey(path: string): void {
  const { tracks, reel, look, setTracks } = useShot.getState();
  if (!canBeKeyed(path)) return;
  const frame = reel.playhead;
  setTracks(
    keyState(tracks, path, frame) === 'here'
      ? withoutKey(tracks, path, frame)
      : withKey(tracks, path, { frame, value: getSetting(look, path) }),
  );
}

/** Like the hole beside a frame of film: empty without keys, edged where a setting is keyed at other frames, full where it is at this one. */
export function KeyMark({ setting }: { setting: Setting }) {
  const { path, group, label } = setting;
  const isReelShown = useReelShown();
  const state = useShot((shot) => keyState(shot.tracks, path, shot.reel.playhead));
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  if (!canBeKeyed(path) || (state === 'none' && !isReelShown)) return null;
  const pick = (action: () => void) => () => {
    setAnchor(null);
    action();
  };
  return (
    <>
      <Tooltip title={`${SAYS[state]} (Q)`}>
        <Box
          component="button"
          type="button"
          aria-label={`Key of ${group} ${label}`}
          aria-pressed={state === 'none' ? false : state === 'here' ? true : 'mixed'}
          onClick={() => toggleKey(path)}
          onContextMenu={(event: React.MouseEvent<HTMLElement>) => {
            event.preventDefault();
            setAnchor(event.currentTarget);
          }}
          sx={{
            flex: 'none',
            width: 6,
            height: 10,
            p: 0,
            mr: 0.75,
            border: '1px solid',
            borderRadius: '2px',
            borderColor: state === 'none' ? '#4a4a4a' : 'primary.main',
            bgcolor: state === 'here' ? 'primary.main' : 'transparent',
            cursor: 'pointer',
          }}
        />
      </Tooltip>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem dense onClick={pick(() => toggleKey(path))}>
          {state === 'here' ? 'Take this key out' : 'Set a key here'}
        </MenuItem>
        <MenuItem dense onClick={pick(() => useDesk.getState().set({ lifeOf: path, reel: true }))}>
          Let it live: blink, pulse, flicker, drift…
        </MenuItem>
        {state !== 'none' && (
          <MenuItem
            dense
            onClick={pick(() => {
              const { tracks, setTracks } = useShot.getState();
              setTracks(withTrack(tracks, path, undefined));
            })}
          >
            Take all its keys out
          </MenuItem>
        )}
        {state !== 'none' && (
          <MenuItem dense onClick={pick(() => useDesk.getState().set({ curves: true, reel: true }))}>
            Show its curve
          </MenuItem>
        )}
      </Menu>
    </>
  );
}
