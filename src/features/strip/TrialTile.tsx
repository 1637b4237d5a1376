'use client';
import ZoomInMap from '@mui/icons-material/ZoomInMap';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useEffect, useRef, type ReactNode } from 'react';
import type { Rectangle } from '../../core/image/rectangle';
import type { Trial } from '../../core/look/strip';
import type { PlateCard } from '../session';
import type { StripPicture } from './use-strip';
import { drawPart } from './visible-part';

/** Height of a line of a caption. */
export const LINE = 16;

interface Size {
  width: number;
  height: number;
}

interface TrialTileProps {
  trial: Trial;
  cell: Size;
  onTake: () => void;
  /** Takes it and tries finer steps about it; missing where there are none. */
  onRefine?: () => void;
  onKeyDown: (event: React.KeyboardEvent) => void;
  children: ReactNode;
}

/** A picture of the strip with what it is under it. */
export function TrialTile({ trial, cell, onTake, onRefine, onKeyDown, children }: TrialTileProps) {
  const { captions, isPresent, isReal } = trial;
  const name = captions.join(', ');
  return (
    <Box sx={{ position: 'relative' }}>
      <Tooltip
        title={onRefine ? 'Click takes it; Shift and click starts a finer strip about it' : 'Click takes it'}
      >
        <ButtonBase
          data-trial
          aria-label={`Take ${name}${isPresent ? ', present' : ''}${isReal ? ', as real lenses have' : ''}`}
          onClick={(event) => (event.shiftKey && onRefine ? onRefine() : onTake())}
          onKeyDown={onKeyDown}
          sx={{
            display: 'block',
            width: cell.width,
            textAlign: 'left',
            outline: isPresent ? '1px solid' : 'none',
            outlineColor: 'primary.main',
            '&:hover, &:focus-visible': { outline: '1px solid', outlineColor: 'text.primary' },
          }}
        >
          {children}
          <Box sx={{ height: 3, mt: '2px', bgcolor: isReal ? 'success.main' : 'transparent' }} />
          {captions.map((line, k) => (
            <Box
              key={k}
              sx={{
                fontFamily: 'var(--figures)',
                fontSize: 11,
                lineHeight: `${LINE}px`,
                whiteSpace: 'nowrap',
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                pr: 2.5,
                color: isPresent ? 'primary.main' : 'text.primary',
              }}
            >
              {line}
              {k === 0 && isPresent && ' · present'}
            </Box>
          ))}
        </ButtonBase>
      </Tooltip>
      {onRefine && (
        <Tooltip title="Takes it, and tries finer steps about it">
          <IconButton
            size="small"
            aria-label={`Finer about ${name}`}
            onClick={onRefine}
            sx={{ position: 'absolute', right: 0, bottom: 0, p: 0 }}
          >
            <ZoomInMap sx={{ fontSize: 14 }} />
          </IconButton>
        </Tooltip>
      )}
    </Box>
  );
}

interface CellProps {
  picture: StripPicture | undefined;
  card: PlateCard;
  part: Rectangle;
  cell: Size;
}

/** The part of a picture that is looked at. */
export function Cell({ picture, card, part, cell }: CellProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { x, y, width, height } = part;
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const ratio = window.devicePixelRatio;
    context.canvas.width = Math.round(cell.width * ratio);
    context.canvas.height = Math.round(cell.height * ratio);
    if (!picture) return;
    const to = { x: 0, y: 0, width: context.canvas.width, height: context.canvas.height };
    drawPart(context, picture, card, { x, y, width, height }, to);
  }, [picture, card, x, y, width, height, cell.width, cell.height]);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      style={{ display: 'block', width: cell.width, height: cell.height, background: '#1f1f1f' }}
    />
  );
}
