'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useDesk, type Placement } from '../../state/desk-store';
import { cleanCanvas, containIn, hasWideScreen, Pill, useFrameSize } from '../common';
import { usePlates, type PlateCard } from '../session';
import { CircleTool } from './CircleTool';
import { useCompareName } from './compare-name';
import { PatchTool } from './PatchTool';
import { usePanZoom } from './use-pan-zoom';
import type { Pictures } from './use-view';

interface BesidePaneProps {
  card: PlateCard;
  compared: React.RefObject<Pictures>;
  /** Counts pictures that arrived. */
  frames: number;
}

/** What the picture is held against, beside it: zoom and pan are the picture's, or its own. */
export function BesidePane({ card, compared, frames }: BesidePaneProps) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useFrameSize(frame);
  const against = useDesk((state) => state.against);
  const isReference = against.kind === 'reference';
  const tied = useDesk((state) => state.tied) || !isReference;
  const zoom = useDesk((state) => state.zoom);
  const centre = useDesk((state) => state.centre);
  const set = useDesk((state) => state.set);
  const name = useCompareName();
  const [own, setOwn] = useState<Placement>({ zoom: null, centre: null });
  const reference = usePlates((state) => (isReference ? state.references[against.id] : undefined));
  const ownSize = useMemo(
    () => (reference ? { width: reference.width, height: reference.height } : card),
    [reference, card],
  );
  // Tied, it lies where the picture would; by itself, it has its own pixels.
  const picture = tied ? card : ownSize;
  const { layout, endPan, ...move } = usePanZoom({
    frame,
    picture,
    size,
    placement: tied ? { zoom, centre } : own,
    setPlacement: tied ? set : setOwn,
  });
  useEffect(() => {
    const context = cleanCanvas(canvas.current, size, hasWideScreen() ? 'display-p3' : 'srgb');
    const shown = compared.current.compared;
    if (!context || !layout || shown?.plate !== card.plate) return;
    const box = {
      x: layout.left,
      y: layout.top,
      width: picture.width * layout.zoom,
      height: picture.height * layout.zoom,
    };
    const place = shown.ownShape ? containIn(shown.bitmap, box) : box;
    context.imageSmoothingQuality = 'high';
    context.imageSmoothingEnabled = place.width / shown.bitmap.width < 2;
    context.drawImage(shown.bitmap, place.x, place.y, place.width, place.height);
    // `frames` counts arrivals of new bitmaps, which live in a ref.
  }, [frames, layout, size, card, picture, compared]);
  const toolLayout = layout && ownLayout(ownSize, picture, layout);
  return (
    <Box
      component="section"
      aria-label={isReference ? `Reference ${name}` : name}
      sx={{
        flex: 1,
        minWidth: 0,
        display: 'flex',
        flexDirection: 'column',
        borderLeft: '1px solid',
        borderColor: 'divider',
        bgcolor: 'canvas.main',
      }}
    >
      <Box
        ref={frame}
        role="group"
        aria-label={`${name}: arrow keys pan, plus and minus zoom`}
        tabIndex={0}
        onKeyDown={move.onKeyDown}
        onPointerDown={move.onPointerDown}
        onPointerMove={move.onPointerMove}
        onPointerUp={endPan}
        onPointerCancel={endPan}
        onDoubleClick={move.onDoubleClick}
        sx={{
          flex: 1,
          minHeight: 0,
          position: 'relative',
          overflow: 'hidden',
          touchAction: 'none',
          cursor: 'grab',
        }}
      >
        <canvas
          ref={canvas}
          role="img"
          aria-label={name}
          style={{ position: 'absolute', inset: 0, width: '100%', height: '100%' }}
        />
        {toolLayout && <PatchTool side="compared" picture={ownSize} layout={toolLayout} />}
        {toolLayout && <CircleTool side="compared" picture={ownSize} layout={toolLayout} />}
        <Box
          onPointerDown={(event) => event.stopPropagation()}
          sx={{
            position: 'absolute',
            right: 6,
            top: 6,
            display: 'flex',
            alignItems: 'center',
            gap: 0.5,
            fontSize: 11,
          }}
        >
          <Box sx={{ px: 0.75, lineHeight: '22px', bgcolor: 'background.default' }}>{name}</Box>
          {isReference && (
            <Pill
              on={tied}
              label="tied"
              name="Zoom and pan tied to the picture"
              onClick={() => set({ tied: !tied })}
            />
          )}
          <IconButton
            size="small"
            aria-label={isReference ? 'Put the reference away' : 'Put it away'}
            onClick={() => set({ compare: null })}
          >
            <Close sx={{ fontSize: 14 }} />
          </IconButton>
        </Box>
      </Box>
    </Box>
  );
}

interface Size {
  width: number;
  height: number;
}

/** How a picture of a shape of its own lies within the place of another. */
function ownLayout(own: Size, picture: Size, layout: { left: number; top: number; zoom: number }) {
  const box = {
    x: layout.left,
    y: layout.top,
    width: picture.width * layout.zoom,
    height: picture.height * layout.zoom,
  };
  const place = containIn(own, box);
  return { left: place.x, top: place.y, zoom: place.width / own.width };
}
