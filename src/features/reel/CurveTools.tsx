'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { expectation, settingAt } from '../../core/look/look';
import type { Ease } from '../../core/look/ease';
import { withMovedKeys, withoutKeys, withTrack, type KeyChoice } from '../../core/look/track-edits';
import { valueText } from '../../core/look/strip';
import type { Beyond, Key } from '../../core/look/tracks';
import { useShot } from '../../state/shot-store';
import { TextField } from '../common';
import { SELECT_SX } from '../controls';
import { presentChoice, useCurves } from './curve-state';
import { nameOfTrack } from './KeyStrip';
import { copyChosen, pasteKeys } from './use-curve-drag';
import { readValue } from './values';

const EASES = [
  { value: 'hold', label: 'holds' },
  { value: 'linear', label: 'evenly' },
  { value: 'smooth', label: 'smoothly' },
  { value: 'handles', label: 'by handles' },
] as const;
/** Where handles stand at first: it sets off and arrives slowly. */
const HANDLES: Ease = [0.33, 0, 0.67, 1];

/** A small framed button. */
const CHIP = {
  px: 0.75,
  height: 22,
  fontSize: 11,
  border: '1px solid',
  borderColor: 'divider',
  borderRadius: 0.5,
} as const;

/** Which tracks are drawn, and what is done to the keys that are chosen. */
export function CurveTools({
  paths,
  colourOf,
}: {
  paths: readonly string[];
  colourOf: (path: string) => string;
}) {
  const { hidden, set } = useCurves();
  const tracks = useShot((state) => state.tracks);
  const choice = presentChoice(
    useCurves((state) => state.choice),
    tracks,
  );
  return (
    <Box
      sx={{
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: 0.75,
        minHeight: 30,
        py: 0.25,
        fontSize: 11,
        color: 'text.secondary',
      }}
    >
      {paths.map((path) => (
        <ButtonBase
          key={path}
          aria-pressed={!hidden.includes(path)}
          aria-label={`Curve of ${nameOfTrack(path)}`}
          onClick={() =>
            set({ hidden: hidden.includes(path) ? hidden.filter((one) => one !== path) : [...hidden, path] })
          }
          sx={{
            ...CHIP,
            gap: 0.5,
            color: hidden.includes(path) ? 'text.secondary' : 'text.primary',
          }}
        >
          <Box
            sx={{ width: 8, height: 3 }}
            style={{ background: hidden.includes(path) ? '#383838' : colourOf(path) }}
          />
          {nameOfTrack(path)}
        </ButtonBase>
      ))}
      <Box sx={{ flex: 1 }} />
      <KeyTools choice={choice} />
    </Box>
  );
}

function KeyTools({ choice }: { choice: KeyChoice }) {
  const tracks = useShot((state) => state.tracks);
  const setTracks = useShot((state) => state.setTracks);
  const copied = useCurves((state) => state.copied);
  const set = useCurves((state) => state.set);
  const chosen = Object.entries(choice).flatMap(([path, frames]) =>
    tracks[path]!.keys.filter(({ frame }) => frames.includes(frame)).map((key) => ({ path, key })),
  );
  const paste = copied && (
    <Tool label="paste" name="Lay the copied keys in at the playhead" onClick={pasteKeys} />
  );
  if (chosen.length === 0) return <>{paste}</>;
  const move = (to: (key: Key) => Pick<Key, 'frame' | 'value'>): void => {
    const moved = withMovedKeys(tracks, choice, to);
    setTracks(moved.tracks);
    set({ choice: moved.choice });
  };
  const setEase = (ease: Ease): void =>
    setTracks(
      Object.entries(choice).reduce((next, [path, frames]) => {
        const track = next[path]!;
        const keys = track.keys.map((key) => (frames.includes(key.frame) ? { ...key, ease } : key));
        return withTrack(next, path, { ...track, keys });
      }, tracks),
    );
  const { path, key } = chosen[0]!;
  const eases = new Set(chosen.map((one) => (typeof one.key.ease === 'string' ? one.key.ease : 'handles')));
  const frames = new Set(chosen.map((one) => one.key.frame));
  const values = new Set(chosen.map((one) => one.key.value));
  const isOneKind = new Set(chosen.map((one) => one.path)).size === 1;
  return (
    <>
      <span>{chosen.length === 1 ? 'key at' : `${chosen.length} keys at`}</span>
      <Field
        label="Frame of the chosen keys"
        width={50}
        value={frames.size === 1 ? String(key.frame) : 'several'}
        problem={(text) => (Number.isInteger(Number(text)) ? undefined : 'a whole number')}
        onTake={(text) => {
          const by = Number(text) - Math.min(...frames);
          move((one) => ({ frame: one.frame + by, value: one.value }));
        }}
      />
      {isOneKind && (
        <Field
          label="Value of the chosen keys"
          width={76}
          value={values.size === 1 ? valueText({ path }, key.value) : 'several'}
          problem={(text) =>
            readValue(settingAt(path), text) === undefined ? expectation(settingAt(path)) : undefined
          }
          onTake={(text) => move((one) => ({ frame: one.frame, value: readValue(settingAt(path), text)! }))}
        />
      )}
      <span>reached</span>
      <Select
        value={eases.size === 1 ? [...eases][0]! : ''}
        displayEmpty
        onChange={(event) =>
          setEase(event.target.value === 'handles' ? HANDLES : (event.target.value as Ease))
        }
        inputProps={{ 'aria-label': 'How the chosen keys are reached' }}
        sx={{ ...SELECT_SX, fontSize: 11 }}
      >
        {eases.size > 1 && (
          <MenuItem dense value="">
            in several ways
          </MenuItem>
        )}
        {EASES.map(({ value, label }) => (
          <MenuItem dense key={value} value={value}>
            {label}
          </MenuItem>
        ))}
      </Select>
      {frames.size > 1 && (
        <>
          <span>stretched by</span>
          <Field
            label="Stretch the chosen keys in time, from the first on"
            width={44}
            value="1"
            problem={(text) => (Number(text) > 0 && Number(text) <= 100 ? undefined : 'a factor over 0')}
            onTake={(text) => {
              const first = Math.min(...frames);
              move((one) => ({ frame: first + (one.frame - first) * Number(text), value: one.value }));
            }}
          />
        </>
      )}
      {isOneKind && <BeyondFields path={path} />}
      <Tool label="copy" name="Copy the chosen keys" onClick={copyChosen} />
      {paste}
      <Tool
        label="take out"
        name="Take the chosen keys out"
        onClick={() => setTracks(withoutKeys(tracks, choice))}
      />
    </>
  );
}

const BEYOND: readonly { value: Beyond; label: string }[] = [
  { value: 'hold', label: 'holds' },
  { value: 'loop', label: 'again and again' },
  { value: 'ping-pong', label: 'there and back' },
];

/** What a track does before its first key and after its last. */
function BeyondFields({ path }: { path: string }) {
  const tracks = useShot((state) => state.tracks);
  const setTracks = useShot((state) => state.setTracks);
  const track = tracks[path]!;
  return (['before', 'after'] as const).map((side) => (
    <Box key={side} component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5 }}>
      {side}
      <Select
        value={track[side]}
        onChange={(event) => setTracks(withTrack(tracks, path, { ...track, [side]: event.target.value }))}
        inputProps={{ 'aria-label': side === 'before' ? 'Before its first key' : 'After its last key' }}
        sx={{ ...SELECT_SX, fontSize: 11 }}
      >
        {BEYOND.map(({ value, label }) => (
          <MenuItem dense key={value} value={value}>
            {label}
          </MenuItem>
        ))}
      </Select>
    </Box>
  ));
}

function Tool({ label, name, onClick }: { label: string; name: string; onClick: () => void }) {
  return (
    <ButtonBase aria-label={name} onClick={onClick} sx={{ ...CHIP, color: 'text.primary' }}>
      {label}
    </ButtonBase>
  );
}

type FieldProps = React.ComponentProps<typeof TextField> & { width: number };

const Field = ({ width, ...rest }: FieldProps) => (
  <Box sx={{ width }}>
    <TextField {...rest} />
  </Box>
);
