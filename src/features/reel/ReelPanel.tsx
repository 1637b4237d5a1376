'use client';
import Close from '@mui/icons-material/Close';
import NavigateBefore from '@mui/icons-material/NavigateBefore';
import NavigateNext from '@mui/icons-material/NavigateNext';
import PlayArrow from '@mui/icons-material/PlayArrow';
import Repeat from '@mui/icons-material/Repeat';
import Stop from '@mui/icons-material/Stop';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { ReactNode } from 'react';
import { numbersOf, playedRange, rangeOfReel, type Reel } from '../../core/shot/reel';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { Pill, TextField } from '../common';
import { goTo } from '../session';
import { useReelShown } from '../../state/reel-shown';
import { DRAFT_BYTES, frameDrafts } from '../viewer';
import { CurveView } from './CurveView';
import { Filmstrip, useDraftChanges } from './Filmstrip';
import { LifeBar } from './LifeBar';
import { stepFrame } from './steps';
import { togglePlay, usePlayer } from './use-player';

/** The reel under the picture: its frames, its keys, and what plays them. */
export function ReelPanel() {
  const isShown = useReelShown();
  return isShown ? <OpenReel /> : null;
}

function OpenReel() {
  const curves = useDesk((state) => state.curves);
  usePlayer();
  return (
    <Box
      component="section"
      aria-label="Reel"
      sx={{ borderTop: '1px solid', borderColor: 'divider', bgcolor: 'background.default' }}
    >
      <LifeBar />
      {curves && <CurveView />}
      <Controls />
      <Filmstrip />
    </Box>
  );
}

function Controls() {
  const reel = useShot((state) => state.reel);
  const plate = useShot((state) => state.plates.find(({ id }) => id === state.activePlate));
  const setReel = useShot((state) => state.setReel);
  const playing = useDesk((state) => state.playing);
  const looping = useDesk((state) => state.looping);
  const everyFrame = useDesk((state) => state.everyFrame);
  const curves = useDesk((state) => state.curves);
  const set = useDesk((state) => state.set);
  const whole = rangeOfReel(reel, plate);
  const played = playedRange(reel, plate);
  const isSequence = plate !== undefined && numbersOf(plate).length > 1;
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 0.75,
        px: 1.5,
        minHeight: 30,
        fontSize: 11,
        color: 'text.secondary',
        whiteSpace: 'nowrap',
      }}
    >
      <Button label="A frame back" keys="[" onClick={() => stepFrame(-1)}>
        <NavigateBefore />
      </Button>
      <Button label={playing ? 'Stop' : 'Play'} keys="Y" onClick={togglePlay} isOn={playing}>
        {playing ? <Stop /> : <PlayArrow />}
      </Button>
      <Button label="A frame on" keys="]" onClick={() => stepFrame(1)}>
        <NavigateNext />
      </Button>
      <Button
        label="From the end on to the beginning"
        onClick={() => set({ looping: !looping })}
        isOn={looping}
      >
        <Repeat />
      </Button>
      frame
      <FrameField label="Frame" value={reel.playhead} onTake={(frame) => void goTo(frame!)} />
      of
      <FrameField
        label="First frame of the reel"
        value={whole.first}
        mayBeEmpty
        most={whole.last}
        onTake={(first) => setReel({ first })}
      />
      to
      <FrameField
        label="Last frame of the reel"
        value={whole.last}
        mayBeEmpty
        least={whole.first}
        onTake={(last) => setReel({ last })}
      />
      <Span
        label="plays"
        from={{ label: 'In: first frame that is played', value: played.first, key: 'in' }}
        to={{ label: 'Out: last frame that is played', value: played.last, key: 'out' }}
        whole={whole}
      />
      at
      <RateField reel={reel} />
      <Pill
        on={everyFrame}
        label="every frame"
        name="Show every frame, however long it takes"
        onClick={() => set({ everyFrame: !everyFrame })}
      />
      {isSequence && (
        <Pill
          on={reel.gaps === 'skip'}
          label="skip gaps"
          name="Pass over frames that have no file"
          onClick={() => setReel({ gaps: reel.gaps === 'skip' ? 'hold' : 'skip' })}
        />
      )}
      <Box sx={{ flex: 1 }} />
      <DraftFigures />
      <Pill on={curves} label="curves" name="Curves over time" onClick={() => set({ curves: !curves })} />
      <Button label="Put the reel away" keys="N" onClick={() => set({ reel: false, playing: false })}>
        <Close />
      </Button>
    </Box>
  );
}

interface ButtonProps {
  label: string;
  keys?: string;
  isOn?: boolean;
  onClick: () => void;
  children: ReactNode;
}

function Button({ label, keys, isOn, onClick, children }: ButtonProps) {
  return (
    <Tooltip title={keys ? `${label} (${keys})` : label}>
      <IconButton
        size="small"
        aria-label={label}
        {...(isOn !== undefined && { 'aria-pressed': isOn })}
        onClick={onClick}
        sx={{ p: 0.25, color: isOn ? 'primary.main' : 'text.secondary', svg: { fontSize: 18 } }}
      >
        {children}
      </IconButton>
    </Tooltip>
  );
}

interface FrameFieldProps {
  label: string;
  value: number;
  least?: number;
  most?: number;
  /** Whether nothing may be typed, which is null. */
  mayBeEmpty?: boolean;
  onTake: (frame: number | null) => void;
}

function FrameField({ label, value, least = -1e6, most = 1e6, mayBeEmpty, onTake }: FrameFieldProps) {
  const read = (text: string): number | null | undefined => {
    if (text.trim() === '') return mayBeEmpty ? null : undefined;
    const frame = Number(text);
    return Number.isInteger(frame) && frame >= least && frame <= most ? frame : undefined;
  };
  return (
    <Box sx={{ width: 46 }}>
      <TextField
        label={label}
        value={String(value)}
        problem={(text) => (read(text) === undefined ? `a whole number from ${least} to ${most}` : undefined)}
        onTake={(text) => onTake(read(text) ?? null)}
      />
    </Box>
  );
}

interface SpanEnd {
  label: string;
  value: number;
  key: 'in' | 'out';
}

/** The part that is played; a click on the word takes the playhead's frame, and an empty field is the reel's own end. */
function Span({
  label,
  from,
  to,
  whole,
}: {
  label: string;
  from: SpanEnd;
  to: SpanEnd;
  whole: { first: number; last: number };
}) {
  const playhead = useShot((state) => state.reel.playhead);
  const setReel = useShot((state) => state.setReel);
  return (
    <>
      {label}
      {[from, to].map(({ label: name, value, key }) => (
        <Box key={key} sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
          <Pill
            on={value === playhead}
            label={key}
            name={`${key === 'in' ? 'Begin' : 'End'} what is played at the playhead`}
            onClick={() => setReel({ [key]: playhead })}
          />
          <FrameField
            label={name}
            value={value}
            mayBeEmpty
            least={key === 'in' ? whole.first : from.value}
            most={key === 'in' ? to.value : whole.last}
            onTake={(frame) => setReel({ [key]: frame })}
          />
        </Box>
      ))}
    </>
  );
}

function RateField({ reel }: { reel: Reel }) {
  const setReel = useShot((state) => state.setReel);
  const read = (text: string): number => Number(text.replace(/fr\/s$/, '').trim());
  return (
    <Box sx={{ width: 66 }}>
      <TextField
        label="Frames a second"
        value={`${reel.rate} fr/s`}
        problem={(text) => (read(text) >= 1 && read(text) <= 240 ? undefined : 'a number from 1 to 240')}
        onTake={(text) => setReel({ rate: read(text) })}
      />
    </Box>
  );
}

const megabytes = (bytes: number): string => (bytes / 1024 ** 2).toFixed(0);

/** How many frames there are drafts of, what they take, and how many were not shown for want of one. */
function DraftFigures() {
  useDraftChanges();
  const reel = useShot((state) => state.reel);
  const plate = useShot((state) => state.plates.find(({ id }) => id === state.activePlate));
  const dropped = useDesk((state) => state.dropped);
  const { first, last } = playedRange(reel, plate);
  let ready = 0;
  for (let frame = first; frame <= last; frame++) if (frameDrafts.find(frame)) ready++;
  return (
    <Box
      component="span"
      data-testid="drafts"
      data-ready={ready}
      data-dropped={dropped}
      sx={{ fontFamily: 'var(--figures)' }}
    >
      {dropped > 0 && `${dropped} not shown · `}
      {ready} of {last - first + 1} drafts · {megabytes(frameDrafts.size)} of {megabytes(DRAFT_BYTES)} MB
    </Box>
  );
}
