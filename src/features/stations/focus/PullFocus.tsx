'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Tooltip from '@mui/material/Tooltip';
import { useRef, useState } from 'react';
import type { Ease } from '../../../core/look/ease';
import { lookAt, type Key } from '../../../core/look/tracks';
import { asFocusDistance } from '../../../core/optics/camera';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { SELECT_SX } from '../../controls';
import { askBench, goTo, holdFrame, notify, reportError } from '../../session';

const FOCUS = 'camera.focusDistance';

/** How the focus comes from one place to the next; by handles it sets off and arrives slowly. */
const EASES: readonly { label: string; ease: Ease }[] = [
  { label: 'smoothly', ease: 'smooth' },
  { label: 'evenly', ease: 'linear' },
  { label: 'slow, quick, slow', ease: [0.42, 0, 0.58, 1] },
  { label: 'at once', ease: 'hold' },
];

const isSameEase = (a: Ease, b: Ease): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Pulls the focus from what is clicked at one frame to what is clicked at another. */
export function PullFocus() {
  const picking = useDesk((state) => state.picking === 'pull');
  const pulls = useDesk((state) => state.pulls);
  const pullEase = useDesk((state) => state.pullEase);
  const set = useDesk((state) => state.set);
  const track = useShot((state) => state.tracks[FOCUS]);
  const isFollowed = pulls.length > 1;
  const chooseEase = (ease: Ease): void => {
    set({ pullEase: ease });
    const { tracks, setTracks } = useShot.getState();
    if (!track) return;
    setTracks({ ...tracks, [FOCUS]: { ...track, keys: track.keys.map((key) => ({ ...key, ease })) } });
  };
  return (
    <Box sx={{ pt: 0.75, fontSize: 11, color: 'text.secondary' }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
        <Tooltip title="Every click on the picture sets a key of the focus at the playhead: click, go to another frame, click again">
          <Button
            size="small"
            variant="outlined"
            color={picking ? 'primary' : 'inherit'}
            aria-pressed={picking}
            onClick={() => set(picking ? { picking: null } : { picking: 'pull', pulls: [], reel: true })}
            sx={{ fontSize: 11, py: 0.25, whiteSpace: 'nowrap' }}
          >
            Pull focus
          </Button>
        </Tooltip>
        {(picking || track) && (
          <Select
            value={EASES.findIndex(({ ease }) => isSameEase(ease, pullEase))}
            onChange={(event) => chooseEase(EASES[event.target.value]!.ease)}
            inputProps={{ 'aria-label': 'How the focus is pulled' }}
            sx={{ ...SELECT_SX, fontSize: 11 }}
          >
            {EASES.map(({ label }, k) => (
              <MenuItem dense key={label} value={k}>
                {label}
              </MenuItem>
            ))}
          </Select>
        )}
        {isFollowed && <Follow />}
      </Box>
      {track && (
        <Box sx={{ pt: 0.5, fontFamily: 'var(--figures)', lineHeight: 1.7 }}>
          {shortened(track.keys).map((key, k) =>
            key ? (
              <Button
                key={key.frame}
                size="small"
                color="inherit"
                onClick={() => void goTo(key.frame)}
                sx={{ p: 0, pr: 1, minWidth: 0, fontSize: 11, fontFamily: 'inherit' }}
              >
                {key.frame}: {Number((key.value as number).toPrecision(3))} m
              </Button>
            ) : (
              <span key={`gap ${k}`}>… </span>
            ),
          )}
        </Box>
      )}
    </Box>
  );
}

const MOST_SHOWN = 6;

/** The first keys and the last; undefined stands for those between. */
const shortened = (keys: readonly Key[]): (Key | undefined)[] =>
  keys.length <= MOST_SHOWN
    ? [...keys]
    : [...keys.slice(0, MOST_SHOWN / 2), undefined, ...keys.slice(-MOST_SHOWN / 2)];

/** Reads the distance at every frame between the clicks, under a point that goes from one to the next. */
function Follow() {
  const pulls = useDesk((state) => state.pulls);
  const [at, setAt] = useState<number | null>(null);
  const isStopped = useRef(false);
  const follow = async (): Promise<void> => {
    const places = [...pulls].sort((a, b) => a.frame - b.frame);
    const keys: Key[] = [];
    isStopped.current = false;
    for (let frame = places[0]!.frame; frame <= places.at(-1)!.frame; frame++) {
      if (isStopped.current) return;
      setAt(frame);
      const next = Math.max(
        1,
        places.findIndex((place) => place.frame >= frame),
      );
      const [a, b] = [places[next - 1]!, places[next]!];
      const share = (frame - a.frame) / (b.frame - a.frame);
      const input = { x: Math.round(a.x + share * (b.x - a.x)), y: Math.round(a.y + share * (b.y - a.y)) };
      const { look, tracks } = useShot.getState();
      const held = await holdFrame(frame);
      try {
        const picked = await askBench({
          name: 'pickDistance',
          look: lookAt(look, tracks, frame),
          input,
          plate: held!.id,
        });
        const value = asFocusDistance(picked.distance);
        keys.push({ frame, value, ease: 'linear' });
      } finally {
        held?.release();
      }
    }
    const { tracks, setTracks } = useShot.getState();
    const track = tracks[FOCUS];
    const [first, last] = [keys[0]!.frame, keys.at(-1)!.frame];
    const rest = track?.keys.filter(({ frame }) => frame < first || frame > last) ?? [];
    const all = [...rest, ...keys].sort((one, other) => one.frame - other.frame);
    setTracks({ ...tracks, [FOCUS]: { before: 'hold', after: 'hold', ...track, keys: all } });
    notify(`the focus follows from frame ${first} to ${last}`, 'success');
  };
  return (
    <Tooltip title="The point goes evenly from one click to the next; the depth under it is read at every frame between">
      <Button
        size="small"
        variant="outlined"
        color="inherit"
        onClick={() => {
          if (at !== null) isStopped.current = true;
          else
            void follow()
              .catch(reportError)
              .finally(() => setAt(null));
        }}
        sx={{ fontSize: 11, py: 0.25, whiteSpace: 'nowrap' }}
      >
        {at === null ? 'Follow' : `Stop (frame ${at})`}
      </Button>
    </Tooltip>
  );
}
