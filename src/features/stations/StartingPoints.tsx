'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Tooltip from '@mui/material/Tooltip';
import type { Look } from '../../core/look/look';
import type { StartingPoint } from '../../core/look/starting-point';
import { useShot } from '../../state/shot-store';
import { BitmapPicture } from '../common';
import { useTrials } from '../controls';
import { benchLook } from '../session';

/** Pixels across of a thumbnail. */
const WIDTH = 214;

interface StartingPointsProps {
  points: readonly StartingPoint[];
  apply: (look: Look, point: StartingPoint) => Look;
  /** What of the look a starting point leaves as it is, as text: the pictures are made anew when it changes. */
  keeps: () => string;
}

/** Looks of a station to begin from, each shown on the present plate; a click takes one, as one step that can be undone. */
export function StartingPoints({ points, apply, keeps }: StartingPointsProps) {
  const kept = useShot(() => keeps());
  const trials = points.map((point) => ({
    id: point.id,
    key: kept,
    look: () => apply(benchLook(useShot.getState().look), point),
  }));
  const pictures = useTrials(trials, { lane: 'trial', across: WIDTH });
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75, pb: 0.5 }}>
      {points.map((point) => (
        <Tooltip key={point.id} title={point.says}>
          <ButtonBase
            aria-label={`Start from ${point.name}`}
            onClick={() => {
              const { look, setLook } = useShot.getState();
              setLook(apply(look, point));
            }}
            sx={{
              display: 'block',
              textAlign: 'left',
              border: '1px solid',
              borderColor: 'divider',
              borderRadius: 0.5,
              overflow: 'hidden',
              '&:hover': { borderColor: 'text.secondary' },
            }}
          >
            <Box sx={{ aspectRatio: '16 / 9', bgcolor: 'canvas.main' }}>
              {pictures[point.id] && <BitmapPicture bitmap={pictures[point.id]!} label="" fill />}
            </Box>
            <Box sx={{ fontSize: 11, lineHeight: '14px', px: 0.5, py: 0.25, minHeight: 32 }}>
              {point.name}
            </Box>
          </ButtonBase>
        </Tooltip>
      ))}
    </Box>
  );
}
