'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useRef, useState } from 'react';
import { fileName, NAME_WORDS } from '../../core/print/file-name';
import type { PrintAlpha } from '../../core/print/alpha';
import { MOST_WIDTH } from '../../core/print/limits';
import type { PrintPrimaries } from '../../core/print/print';
import { benchEngine, onProgress, unwrap } from '../../engine/browser/client';
import { useShot } from '../../state/shot-store';
import { benchLook, download, errorLine, nearbyLights, usePlates } from '../session';
import { isMoving, useReelShown } from '../../state/reel-shown';
import { alphasOf, formatOf, KINDS, PRIMARIES, readWidth, type Kind } from './kinds';
import { ReelTargets } from './ReelTargets';

type Stage =
  | { at: 'choosing' }
  | { at: 'printing'; done: number }
  | { at: 'done'; name: string; notes: string[] }
  | { at: 'failed'; why: string };

/** Makes the final file: what kind, what is in it, what it is called. */
export function PrintDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const shot = useShot((state) => state.name);
  const look = useShot((state) => state.look);
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const plateName = useShot((state) => state.plates.find(({ id }) => id === activePlate)?.name ?? '');
  const [kind, setKind] = useState<Kind>(KINDS[0]!);
  const [separations, setSeparations] = useState(false);
  const [primaries, setPrimaries] = useState<PrintPrimaries>('rec709');
  const [beforeFilm, setBeforeFilm] = useState(false);
  const [alpha, setAlpha] = useState<PrintAlpha>('none');
  const [widthText, setWidthText] = useState('');
  const [pattern, setPattern] = useState('{shot}_{plate}');
  const [ofReel, setOfReel] = useState(false);
  const isReelShown = useReelShown();
  const isReel = ofReel && isReelShown;
  const [stage, setStage] = useState<Stage>({ at: 'choosing' });
  const printing = stage.at === 'printing';
  /** Number of the print that is wanted: one that was cancelled may still end, and its file is not wanted then. */
  const wanted = useRef(0);
  if (!card) return null;
  const exr = kind.format.kind === 'exr';
  const alphas = alphasOf(kind);
  const usedAlpha = alphas.some(({ value }) => value === alpha) ? alpha : 'none';
  const width = readWidth(widthText, card.frame.width);
  const height = width && Math.max(1, Math.round((card.frame.height * width) / card.frame.width));
  const name = fileName(
    pattern,
    {
      shot,
      plate: plateName,
      width: width ?? card.frame.width,
      height: height ?? card.frame.height,
      date: new Date(),
    },
    kind.ending,
  );

  const print = async (): Promise<void> => {
    const own = ++wanted.current;
    setStage({ at: 'printing', done: 0 });
    const engine = benchEngine();
    const stopHearing = onProgress((lane, done) => {
      if (lane === 'print') setStage((now) => (now.at === 'printing' ? { at: 'printing', done } : now));
    });
    try {
      const { tracks, reel } = useShot.getState();
      const isWanted = (): boolean => own === wanted.current;
      const nearby = isMoving() ? await nearbyLights(reel.playhead, { look, tracks }, isWanted) : [];
      if (!nearby) return;
      const { bytes, warnings } = unwrap(
        await engine.print({
          plate: card.id,
          look: benchLook(look),
          nearbyLights: nearby,
          format: formatOf(kind, separations),
          primaries,
          beforeFilm,
          alpha: usedAlpha,
          width: width === card.frame.width ? undefined : width,
        }),
      );
      if (own !== wanted.current) return;
      download(bytes, name);
      setStage({ at: 'done', name, notes: warnings });
    } catch (error) {
      if (own !== wanted.current) return;
      setStage({ at: 'failed', why: errorLine(error) });
    } finally {
      stopHearing();
    }
  };
  const close = (): void => {
    wanted.current++;
    if (printing) void benchEngine().cancel('print');
    setStage({ at: 'choosing' });
    onClose();
  };

  return (
    <Dialog open={open} onClose={close} maxWidth="sm" fullWidth aria-labelledby="print-title">
      <DialogTitle id="print-title">Print</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2, '&&': { pt: 1 } }}>
        {isReelShown && (
          <ToggleButtonGroup
            exclusive
            size="small"
            value={isReel}
            disabled={printing}
            aria-label="What is printed"
            onChange={(_, value: boolean | null) => value !== null && setOfReel(value)}
          >
            <ToggleButton value={false}>This frame</ToggleButton>
            <ToggleButton value={true}>The reel</ToggleButton>
          </ToggleButtonGroup>
        )}
        <Box>
          <TextField
            select
            size="small"
            label="Kind of file"
            value={kind.label}
            disabled={printing}
            onChange={(event) => setKind(KINDS.find(({ label }) => label === event.target.value)!)}
            sx={{ minWidth: 220 }}
          >
            {KINDS.map(({ label }) => (
              <MenuItem key={label} value={label} dense>
                {label}
              </MenuItem>
            ))}
          </TextField>
          <Box sx={{ pt: 0.75, fontSize: 11, color: 'text.secondary' }}>{kind.help}</Box>
        </Box>
        {exr && (
          <Option
            label="With separations: the plate and each effect as layers of their own"
            checked={separations}
            disabled={printing}
            onChange={setSeparations}
          />
        )}
        <Option
          label="The light before Film: nothing graded, no grain"
          checked={beforeFilm}
          disabled={printing}
          onChange={setBeforeFilm}
        />
        {exr && (
          <OneOf
            label="Primaries"
            options={PRIMARIES}
            value={primaries}
            disabled={printing}
            onChange={setPrimaries}
          />
        )}
        {alphas.length > 0 && (
          <OneOf label="Alpha" options={alphas} value={usedAlpha} disabled={printing} onChange={setAlpha} />
        )}
        <TextField
          size="small"
          label="Width in pixels"
          value={widthText}
          placeholder={String(card.frame.width)}
          disabled={printing}
          error={width === undefined}
          onChange={(event) => setWidthText(event.target.value)}
          helperText={
            width === undefined
              ? `a whole number from 1 to ${MOST_WIDTH} is wanted`
              : width > card.frame.width
                ? `${width} x ${height}: larger than the picture, no detail is gained`
                : `${width} x ${height}`
          }
          sx={{ maxWidth: 320 }}
        />
        <TextField
          size="small"
          label="File name"
          value={pattern}
          disabled={printing}
          onChange={(event) => setPattern(event.target.value)}
          helperText={`${isReel ? name.replace(/\.(\w+)$/, '.####.$1') : name}   (words: ${NAME_WORDS.join(' ')})`}
        />
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          Computed at full size ({card.width} x {card.height} pixels), with all stations that are switched on.
        </Box>
        {isReel && (
          <ReelTargets
            name={name}
            kind={kind}
            how={{
              format: formatOf(kind, separations),
              primaries,
              beforeFilm,
              alpha: usedAlpha,
              ...(width !== undefined && width !== card.frame.width && { width }),
            }}
            isFit={width !== undefined}
            onStarted={close}
          />
        )}
        {printing && <LinearProgress variant="determinate" value={stage.done * 100} aria-label="Printing" />}
        <Box
          role="status"
          sx={{ minHeight: 18, fontSize: 12, color: stage.at === 'failed' ? 'error.main' : 'success.main' }}
        >
          {stage.at === 'done' && `${stage.name} printed`}
          {stage.at === 'failed' && stage.why}
          {stage.at === 'done' &&
            stage.notes.map((note) => (
              <Box key={note} sx={{ color: 'text.secondary' }}>
                {note}
              </Box>
            ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          {printing ? 'Cancel' : 'Close'}
        </Button>
        {!isReel && (
          <Button variant="contained" disabled={printing || width === undefined} onClick={() => void print()}>
            Print file
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

interface OneOfProps<Value extends string> {
  label: string;
  options: readonly { value: Value; label: string }[];
  value: Value;
  disabled: boolean;
  onChange: (value: Value) => void;
}

/** One of a few ways to print. */
function OneOf<Value extends string>({ label, options, value, disabled, onChange }: OneOfProps<Value>) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      disabled={disabled}
      onChange={(event) => onChange(event.target.value as Value)}
      sx={{ maxWidth: 220 }}
    >
      {options.map((option) => (
        <MenuItem key={option.value} value={option.value} dense>
          {option.label}
        </MenuItem>
      ))}
    </TextField>
  );
}

interface OptionProps {
  label: string;
  checked: boolean;
  disabled: boolean;
  onChange: (checked: boolean) => void;
}

/** One thing about the print that is so or not. */
function Option({ label, checked, disabled, onChange }: OptionProps) {
  return (
    <FormControlLabel
      disabled={disabled}
      control={
        <Checkbox size="small" checked={checked} onChange={(event) => onChange(event.target.checked)} />
      }
      label={label}
      slotProps={{ typography: { sx: { fontSize: 13 } } }}
    />
  );
}
