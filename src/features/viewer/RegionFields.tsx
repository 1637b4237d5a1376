'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Tooltip from '@mui/material/Tooltip';
import { useDesk } from '../../state/desk-store';
import { TextField } from '../common';
import type { PlateCard } from '../session';
import { regionBetween } from './RegionTool';

const BUTTON = {
  px: 0.75,
  height: 22,
  border: '1px solid',
  borderRadius: 0.5,
  bgcolor: 'background.default',
} as const;

/** Reads `x, y, width, height` in pixels of a picture; undefined if that is no region of it. */
function readRegion(text: string, card: { width: number; height: number }) {
  const [x, y, width, height, ...more] = text.split(/[\s,]+/).map(Number);
  if (more.length || ![x, y, width, height].every(Number.isFinite)) return undefined;
  return regionBetween([x!, y!], [x! + width!, y! + height!], card);
}

/** Draws, types and gives up the region that alone is computed. */
export function RegionFields({ card }: { card: PlateCard }) {
  const region = useDesk((state) => (state.region?.plate === card.plate ? state.region : null));
  const drawing = useDesk((state) => state.drawingRegion);
  const set = useDesk((state) => state.set);
  const active = drawing || region !== null;
  return (
    <>
      <Tooltip
        title={
          region
            ? 'Computes the whole picture again (R)'
            : 'Draw a rectangle that alone is computed, at full size, while you tune (R)'
        }
      >
        <ButtonBase
          aria-label="Region"
          aria-pressed={active}
          onClick={() => set(active ? { region: null, drawingRegion: false } : { drawingRegion: true })}
          sx={{
            ...BUTTON,
            borderColor: active ? 'primary.main' : 'divider',
            color: active ? 'primary.main' : 'text.secondary',
          }}
        >
          Region
        </ButtonBase>
      </Tooltip>
      <FiguresOf />
      {active && (
        <Box sx={{ width: 148 }}>
          <TextField
            label="Region: x, y, width, height in pixels"
            value={region ? [region.x, region.y, region.width, region.height].join(', ') : ''}
            problem={(text) =>
              readRegion(text, card)
                ? undefined
                : `x, y, width, height within ${card.width} x ${card.height}, at least 16 x 16`
            }
            onTake={(text) => {
              const next = readRegion(text, card);
              if (next) set({ region: { ...next, plate: card.plate }, drawingRegion: false });
            }}
          />
        </Box>
      )}
    </>
  );
}

/** Says that the bench's figures are of the whole picture while a region alone is computed. */
function FiguresOf() {
  const figuresOf = useDesk((state) => state.figuresOf);
  if (!figuresOf) return null;
  return (
    <Box
      component="span"
      role="status"
      data-testid="figures-of"
      sx={{ order: 1, px: 0.75, lineHeight: '22px', bgcolor: 'background.default', color: 'text.secondary' }}
    >
      {figuresOf === 'whole' ? 'figures: whole picture' : 'figures: whole picture, before the last change'}
    </Box>
  );
}
