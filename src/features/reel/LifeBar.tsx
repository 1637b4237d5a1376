'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { useState } from 'react';
import { getSetting, pathsIn, settingAt } from '../../core/look/look';
import { valueText } from '../../core/look/strip';
import { withKey, withTrack } from '../../core/look/track-edits';
import { bakeLife, type Life, type Track, type Tracks } from '../../core/look/tracks';
import { PLACE, type Setting, type SettingValue } from '../../core/settings/setting';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { Pill, TextField } from '../common';
import { SELECT_SX } from '../controls';
import { reelPlayed } from '../session';
import { nameOfTrack } from './KeyStrip';
import { readValue } from './values';

const KINDS: readonly { kind: Life['kind'] | 'none'; label: string }[] = [
  { kind: 'none', label: 'stays as it is' },
  { kind: 'blink', label: 'blinks' },
  { kind: 'pulse', label: 'pulses' },
  { kind: 'flicker', label: 'flickers' },
  { kind: 'drift', label: 'drifts' },
];

/** What a kind of life begins with. */
function newLife(kind: Life['kind'], setting: Setting, own: SettingValue, offset: number): Life {
  switch (kind) {
    case 'blink':
      return { kind, low: otherThan(setting, own), high: own, on: 10, off: 10, rise: 0, fall: 0, offset };
    case 'pulse':
      return { kind, low: otherThan(setting, own), high: own, period: 24, offset };
    case 'flicker':
      return { kind, size: 0.2, rate: 0.3, seed: 0, offset };
    case 'drift': {
      const range = setting.kind === 'number' ? setting.max - setting.min : 1;
      return { kind, size: Number((0.02 * range).toPrecision(2)), rate: 0.05, seed: 0, offset };
    }
  }
}

/** Another value that a setting may have: off, least, or the next choice. */
function otherThan(setting: Setting, own: SettingValue): SettingValue {
  if (setting.kind === 'switch') return !own;
  if (setting.kind === 'number') return own === setting.min ? setting.max : setting.min;
  if (setting.kind === 'choice') return setting.options.find(({ value }) => value !== own)?.value ?? own;
  return setting.kind === 'colour' ? '#ffffff' : own;
}

/** What makes a setting live by itself: numbers beside each other, for as long as it is worked on. */
export function LifeBar() {
  const path = useDesk((state) => state.lifeOf);
  const set = useDesk((state) => state.set);
  const tracks = useShot((state) => state.tracks);
  if (path === null) return null;
  const setting = settingAt(path);
  const life = tracks[path]?.life;
  const kinds = KINDS.filter(
    ({ kind }) => setting.kind === 'number' || (kind !== 'flicker' && kind !== 'drift'),
  );
  const choose = (kind: Life['kind'] | 'none'): void => {
    const { look, reel } = useShot.getState();
    const own = getSetting(look, path);
    setLife(path, kind === 'none' ? undefined : newLife(kind, setting, own, reel.playhead));
  };
  return (
    <Box
      role="group"
      aria-label="Life"
      sx={{
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: 0.75,
        px: 1.5,
        py: 0.5,
        fontSize: 11,
        color: 'text.secondary',
        borderBottom: '1px solid',
        borderColor: 'divider',
      }}
    >
      <Box component="span" sx={{ color: 'text.primary' }}>
        {nameOfTrack(path)}
      </Box>
      <Select
        value={life?.kind ?? 'none'}
        onChange={(event) => choose(event.target.value)}
        inputProps={{ 'aria-label': 'What it does by itself' }}
        sx={{ ...SELECT_SX, fontSize: 11 }}
      >
        {kinds.map(({ kind, label }) => (
          <MenuItem dense key={kind} value={kind}>
            {label}
          </MenuItem>
        ))}
      </Select>
      {life && <LifeFields path={path} setting={setting} life={life} />}
      <Box sx={{ flex: 1 }} />
      {life && <GroupTools path={path} life={life} />}
      <IconButton
        size="small"
        aria-label="Put the life away"
        onClick={() => set({ lifeOf: null })}
        sx={{ p: 0.25 }}
      >
        <Close sx={{ fontSize: 14 }} />
      </IconButton>
    </Box>
  );
}

/** The track of a setting with another life; its value of now becomes a key if it has none. */
function withLife(tracks: Tracks, path: string, life: Life | undefined): Tracks {
  const { look, reel } = useShot.getState();
  const keyed = tracks[path]
    ? tracks
    : withKey(tracks, path, { frame: reel.playhead, value: getSetting(look, path) });
  const track: Track = { ...keyed[path]!, life };
  return { ...keyed, [path]: track };
}

function setLife(path: string, life: Life | undefined): void {
  const { tracks, setTracks } = useShot.getState();
  if (life) setTracks(withLife(tracks, path, life));
  else if (tracks[path]) setTracks({ ...tracks, [path]: { ...tracks[path], life: undefined } });
}

const NUMBERS: Readonly<Record<string, { label: string; least: number; most: number; unit: string }>> = {
  on: { label: 'on', least: 0, most: 1e6, unit: 'fr' },
  off: { label: 'off', least: 0, most: 1e6, unit: 'fr' },
  rise: { label: 'rise', least: 0, most: 1e6, unit: 'fr' },
  fall: { label: 'fall', least: 0, most: 1e6, unit: 'fr' },
  period: { label: 'every', least: 0.01, most: 1e6, unit: 'fr' },
  size: { label: 'by up to', least: 0, most: 1e6, unit: '' },
  rate: { label: 'turns a frame', least: 0, most: 10, unit: '' },
  seed: { label: 'seed', least: 0, most: 9999, unit: '' },
  offset: { label: 'from frame', least: -1e6, most: 1e6, unit: '' },
};

function LifeFields({ path, setting, life }: { path: string; setting: Setting; life: Life }) {
  const values = life as unknown as Record<string, SettingValue>;
  const alternates = life.kind === 'blink' || life.kind === 'pulse';
  return (
    <>
      {alternates && (
        <>
          {(['low', 'high'] as const).map((side) => (
            <Box key={side} component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5 }}>
              {side === 'low' ? 'between' : 'and'}
              <Box sx={{ width: 76 }}>
                <TextField
                  label={side === 'low' ? 'Its value while off' : 'Its value while on'}
                  value={valueText({ path }, life[side] as SettingValue)}
                  problem={(text) =>
                    readValue(setting, text) === undefined ? 'this does not fit' : undefined
                  }
                  onTake={(text) => setLife(path, { ...life, [side]: readValue(setting, text)! })}
                />
              </Box>
            </Box>
          ))}
          <Pill
            on={false}
            label="swap"
            name="Swap the two values: the opposite phase"
            onClick={() => setLife(path, { ...life, low: life.high, high: life.low })}
          />
        </>
      )}
      {Object.entries(NUMBERS).map(([name, { label, least, most, unit }]) => {
        if (typeof values[name] !== 'number' || name === 'low' || name === 'high') return null;
        const read = (text: string): number => Number(text.replace(unit, '').trim());
        const isWhole = name === 'seed';
        const fits = (value: number): boolean =>
          value >= least && value <= most && (!isWhole || Number.isInteger(value));
        return (
          <Box key={name} component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5 }}>
            {label}
            <Box sx={{ width: 54 }}>
              <TextField
                label={`Life: ${label}`}
                value={`${values[name]} ${unit}`.trim()}
                problem={(text) => (fits(read(text)) ? undefined : `a number from ${least} to ${most}`)}
                onTake={(text) => setLife(path, { ...life, [name]: read(text) })}
              />
            </Box>
          </Box>
        );
      })}
    </>
  );
}

/** Paths of the same setting of the others in its list. */
function groupOf(path: string): string[] {
  const { look } = useShot.getState();
  const bare = path.replace(/\[\d+\]/g, PLACE);
  return bare === path ? [] : pathsIn(look, { path: bare });
}

const SMALL = { size: 'small', variant: 'outlined', color: 'inherit', sx: { fontSize: 11, py: 0 } } as const;

/** What a life is good for besides: the same for the others of a list, or keys of it. */
function GroupTools({ path, life }: { path: string; life: Life }) {
  const [later, setLater] = useState(3);
  const group = groupOf(path);
  const spread = (): void => {
    const { tracks, setTracks } = useShot.getState();
    const own = group.indexOf(path);
    setTracks(
      group.reduce(
        (next, one, k) => withLife(next, one, { ...life, offset: life.offset + (k - own) * later }),
        tracks,
      ),
    );
  };
  const writeKeys = (): void => {
    const { tracks, setTracks } = useShot.getState();
    setTracks(withTrack(tracks, path, bakeLife(settingAt(path), tracks[path]!, reelPlayed())));
  };
  return (
    <>
      {group.length > 1 && (
        <>
          <Button {...SMALL} onClick={spread}>
            The same for all {group.length}
          </Button>
          each
          <Box sx={{ width: 44 }}>
            <TextField
              label="Frames that each is later than the one before"
              value={String(later)}
              problem={(text) =>
                Number.isFinite(Number(text)) && text.trim() !== '' ? undefined : 'a number'
              }
              onTake={(text) => setLater(Number(text))}
            />
          </Box>
          fr later
        </>
      )}
      <Button {...SMALL} onClick={writeKeys}>
        Write it as keys
      </Button>
    </>
  );
}
