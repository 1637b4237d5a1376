'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Tooltip from '@mui/material/Tooltip';
import { luminance } from '../../core/color/primaries';
import { MIDDLE_GREY } from '../../core/color/view';
import { useDesk } from '../../state/desk-store';
import { startStrip } from '../strip';
import type { PlacedReading } from './use-pixel-reading';

const CHANNEL_COLOURS = ['#d98a7d', '#8fc2a4', '#8fb0d9'] as const;

function figure(value: number): string {
  const size = Math.abs(value);
  if (size >= 1000) return value.toFixed(0);
  return value.toFixed(size >= 100 ? 1 : size >= 1 ? 3 : 4);
}

function stops([r, g, b]: [number, number, number]): string {
  const light = luminance(r, g, b);
  if (light <= 0) return 'black';
  const value = Math.log2(light / MIDDLE_GREY);
  return `${value >= 0 ? '+' : ''}${value.toFixed(1)} st`;
}

/** Beyond this a distance stands for none at all. */
const NO_DISTANCE = 1e6;

function distance(metres: number): string {
  return metres >= NO_DISTANCE ? 'far away' : `${figure(metres)} m`;
}

/** What is under the pointer, the compare tools and the zoom. */
export function ReadoutBar({ reading, zoom }: { reading: PlacedReading | null; zoom: number | null }) {
  const compare = useDesk((state) => state.compare);
  const fitted = useDesk((state) => state.zoom === null);
  const holdPlate = useDesk((state) => state.holdPlate);
  const set = useDesk((state) => state.set);
  const hold = (held: boolean) => () => set({ holdPlate: held });
  return (
    <Box
      sx={{
        minHeight: 28,
        flexWrap: 'wrap',
        px: 1.5,
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        borderTop: '1px solid',
        borderColor: 'divider',
        bgcolor: 'background.default',
        fontFamily: 'var(--figures)',
        fontSize: 11,
        whiteSpace: 'nowrap',
        overflow: 'hidden',
      }}
    >
      <Box
        data-testid="readout"
        sx={{
          display: 'flex',
          gap: 1.5,
          flex: '1 0 340px',
          minWidth: 0,
          overflow: 'hidden',
          color: 'text.primary',
        }}
      >
        {reading ? (
          <>
            <span>
              {reading.x}, {reading.y}
            </span>
            {reading.rgb.map((value, c) => (
              <span key={c} style={{ color: CHANNEL_COLOURS[c], minWidth: '6ch' }}>
                {figure(value)}
              </span>
            ))}
            <span>{stops(reading.rgb)}</span>
            {reading.depth !== undefined && <span>{distance(reading.depth)}</span>}
            {reading.blur !== undefined && reading.blur !== 0 && (
              <span>disc {reading.blur.toFixed(1)} px</span>
            )}
          </>
        ) : (
          <Box component="span" sx={{ color: 'text.secondary' }}>
            scene-linear values under the pointer
          </Box>
        )}
      </Box>
      <Tool
        label="Hold for plate"
        help="Shows the plate while it is pressed (Space)"
        active={holdPlate}
        onPointerDown={hold(true)}
        onPointerUp={hold(false)}
        onPointerLeave={hold(false)}
        onBlur={hold(false)}
        onKeyDown={(event) => {
          if (event.key !== ' ' && event.key !== 'Enter') return;
          event.preventDefault();
          set({ holdPlate: true });
        }}
        onKeyUp={hold(false)}
      />
      <Tool
        label="Wipe"
        help="Plate on the left, final on the right (W)"
        active={compare === 'wipe'}
        onClick={() => set({ compare: compare === 'wipe' ? null : 'wipe' })}
      />
      <Tool
        label="Test strip"
        help="The picture at several values of a setting (T; of the setting under the pointer)"
        active={false}
        onClick={() => startStrip()}
      />
      <Tool
        label="Fit"
        help="Fit the picture (F, or double click)"
        active={fitted}
        onClick={() => set({ zoom: null, centre: null })}
      />
      <Tool
        label="1 : 1"
        help="Actual size (Z)"
        active={zoom === 1 && !fitted}
        onClick={() => set({ zoom: 1 })}
      />
      <Box component="span" data-testid="zoom" sx={{ minWidth: '6ch', textAlign: 'right' }}>
        {zoom === null ? '' : `${Math.round(zoom * 100)} %`}
      </Box>
    </Box>
  );
}

interface ToolProps {
  label: string;
  help: string;
  active: boolean;
  onClick?: () => void;
  onPointerDown?: () => void;
  onPointerUp?: () => void;
  onPointerLeave?: () => void;
  onBlur?: () => void;
  onKeyDown?: (event: React.KeyboardEvent) => void;
  onKeyUp?: () => void;
}

function Tool({ label, help, active, ...events }: ToolProps) {
  return (
    <Tooltip title={help}>
      <ButtonBase
        aria-pressed={active}
        {...events}
        sx={{
          font: 'inherit',
          px: 0.75,
          height: 20,
          borderRadius: 0.5,
          color: active ? 'primary.main' : 'text.secondary',
          '&:hover': { color: 'text.primary' },
        }}
      >
        {label}
      </ButtonBase>
    </Tooltip>
  );
}
