'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { nameOfFrame, readFrames, readPattern } from '../../core/image/frame-pattern';
import type { PrintOptions } from '../../core/print/print-options';
import { isSkipped } from '../../core/shot/reel';
import { useShot } from '../../state/shot-store';
import { errorLine, notify, reelPlayed, usePlates } from '../session';
import { plateOnBench } from '../../state/reel-shown';
import type { Kind } from './kinds';
import { startLocalPrint, type HowPrinted } from './local-print';
import { printOnServer } from './server-prints';
import { canPickFolder, filmSink, folderSink, zipSink } from './sinks';

/** A preview film is about so many pixels across. */
const FILM_WIDTH = 1280;

interface ReelTargetsProps {
  /** The name of a single file. */
  name: string;
  kind: Kind;
  how: HowPrinted;
  /** Whether what is chosen above can be printed. */
  isFit: boolean;
  onStarted: () => void;
}

/** Which frames of the reel are printed, and where to. */
export function ReelTargets({ name, kind, how, isFit, onStarted }: ReelTargetsProps) {
  const { first, last } = reelPlayed();
  const [framesText, setFramesText] = useState('');
  const [resume, setResume] = useState(true);
  const [working, setWorking] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const chosen = framesIn(framesText || `${first}-${last}`);
  const frames = Array.isArray(chosen)
    ? chosen.filter((frame) => !isSkipped(useShot.getState().reel, plateOnBench(), frame))
    : [];
  const digits = Math.max(4, ...frames.map((frame) => String(Math.abs(frame)).length));
  const stem = name.replace(/\.\w+$/, '');
  const pattern = readPattern(`${stem.replace(/[#%]/g, '_')}.${'#'.repeat(digits)}.${kind.ending}`)!;
  const nameOf = (frame: number): string => nameOfFrame(pattern, frame);

  /** Begins a print; what is wrong is told here. */
  const start = (begin: () => Promise<boolean>) => () => {
    setWorking(true);
    setFailure(null);
    begin()
      .then((isStarted) => isStarted && onStarted())
      .catch((error: unknown) => setFailure(errorLine(error)))
      .finally(() => setWorking(false));
  };
  const intoFolder = async (): Promise<boolean> => {
    const chosenFolder = await folderSink();
    if (!chosenFolder) return false;
    const { sink, name: where } = chosenFolder;
    startLocalPrint({ name: stem, where, frames, target: { kind: 'files', sink, how, nameOf, resume } });
    return true;
  };
  const intoZip = async (): Promise<boolean> => {
    const where = `${stem}.zip`;
    const sink = await zipSink(where);
    if (sink)
      startLocalPrint({
        name: stem,
        where,
        frames,
        target: { kind: 'files', sink, how, nameOf, resume: false },
      });
    return sink !== undefined;
  };
  const intoFilm = async (): Promise<boolean> => {
    const card = usePlates.getState().cards[useShot.getState().activePlate ?? ''];
    if (!card) return false;
    const scale = Math.min(1, FILM_WIDTH / card.width);
    const size = {
      width: Math.max(1, Math.round(card.width * scale)),
      height: Math.max(1, Math.round(card.height * scale)),
    };
    const where = `${stem}.webm`;
    const sink = await filmSink(where, { ...size, rate: useShot.getState().reel.rate });
    if (!sink) {
      notify('this browser can make no film of this size: print files instead', 'warning');
      return false;
    }
    startLocalPrint({ name: stem, where, frames, target: { kind: 'film', sink, scale } });
    return true;
  };
  const onServer = async (): Promise<boolean> => {
    await printOnServer(
      serverOptions({ name: stem, kind, how, frames: framesText || `${first}-${last}`, digits }),
    );
    notify(`${stem} was handed to the server, which prints it`, 'success');
    return true;
  };
  const isReady = isFit && frames.length > 0 && !working;
  return (
    <>
      <TextField
        size="small"
        label="Frames"
        value={framesText}
        placeholder={`${first}-${last}`}
        error={!Array.isArray(chosen)}
        onChange={(event) => setFramesText(event.target.value)}
        helperText={Array.isArray(chosen) ? `${frames.length} frames (as 1-24,30,40-60x2)` : chosen}
        sx={{ maxWidth: 320 }}
      />
      <FormControlLabel
        control={
          <Checkbox size="small" checked={resume} onChange={(event) => setResume(event.target.checked)} />
        }
        label="Leave frames that are in the folder already"
        slotProps={{ typography: { sx: { fontSize: 13 } } }}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
        {canPickFolder() && (
          <Button variant="contained" disabled={!isReady} onClick={start(intoFolder)}>
            Into a folder
          </Button>
        )}
        <Button variant="contained" disabled={!isReady} onClick={start(intoZip)}>
          Into one ZIP
        </Button>
        <Button variant="contained" disabled={!isReady} onClick={start(onServer)}>
          On the server
        </Button>
        <Button variant="outlined" color="inherit" disabled={!isReady} onClick={start(intoFilm)}>
          Preview film
        </Button>
      </Box>
      {failure && (
        <Box role="alert" sx={{ fontSize: 12, color: 'error.main' }}>
          {failure}
        </Box>
      )}
    </>
  );
}

/** Frames as they are typed, or what is wrong with them. */
function framesIn(text: string): number[] | string {
  try {
    return readFrames(text);
  } catch (error) {
    return errorLine(error);
  }
}

/** How the server is to print, from what was chosen for a file. */
function serverOptions({
  name,
  kind: { format },
  how,
  frames,
  digits,
}: {
  name: string;
  kind: Kind;
  how: HowPrinted;
  frames: string;
  digits: number;
}): PrintOptions {
  const samples =
    format.kind === 'exr'
      ? format.samples
      : format.kind === 'png'
        ? (`${format.bits}` as const)
        : format.kind === 'tiff'
          ? format.samples
          : 'float';
  return {
    name,
    kind: format.kind,
    samples: samples === 'plate' ? 'half' : samples,
    separations: how.format.kind === 'exr' && how.format.separations,
    primaries: how.primaries ?? 'rec709',
    beforeFilm: how.beforeFilm ?? false,
    alpha: how.alpha ?? 'none',
    ...(how.width !== undefined && { width: how.width }),
    frames: frames.replace(/\s/g, ''),
    digits,
  };
}
