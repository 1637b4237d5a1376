'use client';
import Add from '@mui/icons-material/Add';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useMemo, useRef } from 'react';
import {
  axisLabel,
  finerAxis,
  firstAxis,
  MOST_TRIALS,
  offSwitchesOf,
  STRIP_SETS,
  switchLabel,
  trialsOf,
  type StripAxis,
  type Trial,
} from '../../core/look/strip';
import { columnsFor } from '../../core/print/sheet';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { refineScale, useFrameSize } from '../common';
import { download, reportError, usePlates, type PlateCard } from '../session';
import { AxisEditor } from './AxisEditor';
import { printSheet } from './print-sheet';
import { Cell, LINE, TrialTile } from './TrialTile';
import { useStrip } from './use-strip';
import { drawPart, visiblePart } from './visible-part';

const GAP = 8;
/** Height of the mark of what is real. */
const MARK = 5;
/** A part of the picture that is smaller than this is computed by itself where it is wanted at full size. */
const SMALL_PART = 0.3;

/** The test strip in place of the picture, while there is one. */
export function StripView() {
  const axes = useDesk((state) => state.strip);
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  return axes && card ? <Strip axes={axes} card={card} /> : null;
}

function Strip({ axes, card }: { axes: readonly StripAxis[]; card: PlateCard }) {
  const look = useShot((state) => state.look);
  const set = useDesk((state) => state.set);
  const space = useRef<HTMLDivElement>(null);
  const size = useFrameSize(space);
  // What an undo took away can no longer be tried.
  const trials = useMemo(() => {
    try {
      return trialsOf(look, axes);
    } catch {
      return undefined;
    }
  }, [look, axes]);
  useEffect(() => {
    if (!trials) set({ strip: null });
  }, [trials, set]);
  const change = (place: number) => (axis: StripAxis) =>
    set({ strip: axes.map((one, k) => (k === place ? axis : one)) });
  const off = [...new Set(axes.flatMap(({ path }) => (STRIP_SETS[path] ? [] : offSwitchesOf(look, path))))];
  return (
    <Box
      component="section"
      aria-label="Test strip"
      sx={{
        position: 'absolute',
        inset: 0,
        display: 'flex',
        flexDirection: 'column',
        bgcolor: 'canvas.main',
      }}
    >
      <Box sx={{ p: 1, pb: 0.5, display: 'flex', flexDirection: 'column', gap: 0.75, fontSize: 12 }}>
        <AxisEditor axis={axes[0]!} name="Across" onChange={change(0)} />
        {axes[1] && (
          <AxisEditor
            axis={axes[1]}
            name="Down"
            onChange={change(1)}
            onRemove={() => set({ strip: [axes[0]!] })}
          />
        )}
        {off.map((path) => (
          <Box
            key={path}
            role="status"
            sx={{ display: 'flex', alignItems: 'center', gap: 1, color: 'warning.main' }}
          >
            {switchLabel(path)} is off, so this changes nothing.
            <Button size="small" onClick={() => useShot.getState().change(path, true)}>
              Switch it on
            </Button>
          </Box>
        ))}
      </Box>
      <Box ref={space} sx={{ flex: 1, minHeight: 0, minWidth: 0 }}>
        {trials && size.width > 0 && <Sheet axes={axes} card={card} trials={trials} size={size} />}
      </Box>
    </Box>
  );
}

interface Size {
  width: number;
  height: number;
}

interface SheetProps {
  axes: readonly StripAxis[];
  card: PlateCard;
  trials: readonly Trial[];
  size: Size;
}

/** The pictures beside each other, what is done with them, and how far they are. */
function Sheet({ axes, card, trials, size }: SheetProps) {
  const zoom = useDesk((state) => state.zoom);
  const centre = useDesk((state) => state.centre);
  const set = useDesk((state) => state.set);
  const shotName = useShot((state) => state.name);
  const part = visiblePart(card, size, zoom, centre);
  const caption = MARK + LINE * axes.length;
  const room = { width: size.width - GAP, height: size.height - 36 };
  const columns =
    axes.length > 1
      ? axes[0]!.values.length
      : columnsFor(trials.length, room, { width: part.width, height: part.height * 1.08 });
  const rows = Math.ceil(trials.length / columns);
  const cellZoom = Math.max(
    0.02,
    Math.min(
      (room.width - GAP * (columns + 1)) / columns / part.width,
      (room.height - rows * (caption + GAP)) / rows / part.height,
      2,
    ),
  );
  const cell = { width: Math.round(part.width * cellZoom), height: Math.round(part.height * cellZoom) };
  const scale = refineScale(cellZoom, window.devicePixelRatio);
  const isPart = part.width * part.height < SMALL_PART * card.width * card.height;
  const { pictures, progress, stopped, stop } = useStrip({
    card,
    axes,
    trials,
    scale,
    region: scale === 1 && isPart ? part : undefined,
  });
  const grid = useRef<HTMLDivElement>(null);
  const isWhole = pictures.every(Boolean);

  const take = (trial: Trial): void => {
    useShot.getState().setLook(trial.look);
    set({ strip: null });
  };
  const isFine = axes.some(({ path, values }) => typeof values[0] === 'number' && !STRIP_SETS[path]);
  const refine = (trial: Trial): void => {
    useShot.getState().setLook(trial.look);
    set({
      strip: axes.map((axis, k) =>
        finerAxis(axis, trial.places[k]!, Math.min(MOST_TRIALS, axis.values.length)),
      ),
    });
  };
  const move = (event: React.KeyboardEvent, place: number): void => {
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -columns, ArrowDown: columns }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    grid.current?.querySelectorAll<HTMLElement>('[data-trial]')[place + step]?.focus();
  };
  const print = async (): Promise<void> => {
    const content = {
      title: `${shotName}: ${card.name}`,
      subtitle: axes.map(axisLabel).join(' and '),
      cells: trials,
      columns,
      ...cell,
    };
    const sheet = await printSheet(content, (context, place, x, y) => {
      const picture = pictures[place];
      if (picture) drawPart(context, picture, card, part, { x, y, ...cell });
    });
    download(sheet, `${shotName} ${axes.map(({ path }) => path).join(' ')}.png`);
  };

  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <Box ref={grid} sx={{ flex: 1, minHeight: 0, overflow: 'auto', display: 'flex' }}>
        <Box
          sx={{
            m: 'auto',
            display: 'grid',
            gridTemplateColumns: `repeat(${columns}, ${cell.width}px)`,
            gap: `${GAP}px`,
          }}
        >
          {trials.map((trial, place) => (
            <TrialTile
              key={trial.captions.join(' ')}
              trial={trial}
              cell={cell}
              onTake={() => take(trial)}
              {...(isFine && { onRefine: () => refine(trial) })}
              onKeyDown={(event) => move(event, place)}
            >
              <Cell picture={pictures[place]} card={card} part={part} cell={cell} />
            </TrialTile>
          ))}
        </Box>
      </Box>
      <Box sx={{ height: 36, px: 1, display: 'flex', alignItems: 'center', gap: 1, fontSize: 11 }}>
        {axes.length === 1 && (
          <Button
            size="small"
            color="inherit"
            startIcon={<Add />}
            onClick={() => set({ strip: [axes[0]!, secondAxis(axes[0]!)] })}
          >
            Second setting
          </Button>
        )}
        <Box
          role="status"
          data-testid="strip-status"
          sx={{ flex: 1, color: 'text.secondary', display: 'flex', alignItems: 'center', gap: 1 }}
        >
          {progress < 1 ? (
            <>
              {stopped ? 'stopped' : `${Math.round(progress * 100)} %`}
              <LinearProgress
                variant="determinate"
                value={progress * 100}
                aria-label="Strip"
                sx={{ width: 80, height: 2 }}
              />
              {!stopped && (
                <Button size="small" color="inherit" onClick={stop}>
                  Stop
                </Button>
              )}
            </>
          ) : (
            `${trials.length} pictures${trials.some(({ isReal }) => isReal) ? '; green lies where real lenses do' : ''}`
          )}
        </Box>
        <Button size="small" disabled={!isWhole} onClick={() => void print().catch(reportError)}>
          Print the sheet
        </Button>
        <Button size="small" color="inherit" startIcon={<Close />} onClick={() => set({ strip: null })}>
          Close
        </Button>
      </Box>
    </Box>
  );
}

/** What a second side begins with: the spikes beside a bloom, a bloom beside all else. */
function secondAxis({ path }: StripAxis): StripAxis {
  const { look } = useShot.getState();
  return firstAxis(look, path === 'veil.bloom.amount' ? 'veil.bloom.radius' : 'veil.bloom.amount', 3);
}
