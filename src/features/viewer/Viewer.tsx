'use client';
import Box from '@mui/material/Box';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { usePlates, type PlateCard } from '../session';
import { EmptyViewer } from './EmptyViewer';
import { cleanCanvas, containIn, hasWideScreen, type Layout, useFrameSize } from '../common';
import { FailureBanner } from './FailureBanner';
import { FocusPicker } from './FocusPicker';
import { GhostMarks } from './GhostMarks';
import { LightHandles } from './LightHandles';
import { FalseColourLegend, LookAt, RangeLegend } from './LookAt';
import { MaskHandles } from './MaskHandles';
import { MaskPen } from './MaskPen';
import { ReadoutBar } from './ReadoutBar';
import { Scopes } from './Scopes';
import { BesidePane } from './BesidePane';
import { MeasurePanel } from '../measure';
import { CircleTool } from './CircleTool';
import { CompareBar } from './CompareBar';
import { useBesideReference } from './compared';
import { PatchTool } from './PatchTool';
import { useBlink } from './use-blink';
import { usePanZoom } from './use-pan-zoom';
import { RegionTool } from './RegionTool';
import { usePixelReading } from './use-pixel-reading';
import { useView, type ShownCompared } from './use-view';
import { WipeEdge } from './WipeEdge';

/** The picture: zoom at the pointer, pan, fit; the wipe against the plate; the values under the pointer. */
export function Viewer() {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useFrameSize(frame);
  const [frames, setFrames] = useState(0);
  const redraw = useCallback(() => setFrames((count) => count + 1), []);
  const pictures = useView(size, redraw);
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const zoom = useDesk((state) => state.zoom);
  const centre = useDesk((state) => state.centre);
  const wipe = useDesk((state) => (state.compare === 'wipe' ? state.wipe : null));
  const isBeside = useDesk((state) => state.compare === 'beside');
  const isReferenceBeside = useBesideReference();
  const isMeasuring = useDesk((state) => state.circles !== null) && isReferenceBeside;
  const other = useBlink();
  const holdPlate = useDesk((state) => state.holdPlate) || other;
  const dragging = useDesk((state) => state.dragging);
  const pen = useDesk((state) => state.pen);
  const set = useDesk((state) => state.set);
  const { layout, endPan, ...move } = usePanZoom({
    frame,
    picture: card,
    size,
    placement: { zoom, centre },
    setPlacement: set,
  });
  const { reading, readAt, leave } = usePixelReading(layout, card, frames);

  useEffect(() => {
    const context = cleanCanvas(canvas.current, size, hasWideScreen() ? 'display-p3' : 'srgb');
    if (!context) return;
    if (!layout || !card) return;
    const { left, top } = layout;
    const [width, height] = [card.width * layout.zoom, card.height * layout.zoom];
    const shown = pictures.current;
    // A picture of another plate is not this one's, however long its own takes.
    const own = <T extends { plate: string }>(picture: T | null): T | null =>
      picture?.plate === card.plate ? picture : null;
    const [final, compared, part] = [own(shown.final), own(shown.compared), own(shown.region)];
    const whole = { x: left, y: top, width, height };
    const draw = (bitmap: ImageBitmap, place = whole): void => {
      // Above twice its size a pixel is shown as the square it is.
      context.imageSmoothingEnabled = place.width / bitmap.width < 2 || bitmap.width < card.width;
      // While a hand moves, time counts for more than the finest edges.
      context.imageSmoothingQuality = dragging ? 'low' : 'high';
      context.drawImage(bitmap, place.x, place.y, place.width, place.height);
    };
    const drawCompared = ({ bitmap, ownShape }: ShownCompared): void =>
      draw(bitmap, ownShape ? containIn(bitmap, whole) : whole);
    if (holdPlate && compared) drawCompared(compared);
    else draw(final?.bitmap ?? card.thumbnail);
    if (part && !(holdPlate && compared)) {
      const { bitmap, place } = part;
      context.imageSmoothingEnabled = layout.zoom < 2;
      context.drawImage(
        bitmap,
        left + place.x * layout.zoom,
        top + place.y * layout.zoom,
        place.width * layout.zoom,
        place.height * layout.zoom,
      );
    }
    if (compared && !holdPlate && wipe !== null) {
      context.save();
      context.beginPath();
      context.rect(left, top, width * wipe, height);
      context.clip();
      context.clearRect(left, top, width * wipe, height);
      drawCompared(compared);
      context.restore();
    }
    // `frames` counts arrivals of new bitmaps, which live in a ref.
  }, [frames, layout, card, size, wipe, holdPlate, dragging, pictures]);

  const moved = (event: React.PointerEvent): void => {
    move.onPointerMove(event);
    const box = frame.current!.getBoundingClientRect();
    readAt(event.clientX - box.left, event.clientY - box.top);
  };

  return (
    <Box
      component="section"
      aria-label="Picture"
      sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column', bgcolor: 'canvas.main' }}
    >
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <Box
          ref={frame}
          role="group"
          aria-label="Picture: arrow keys pan, plus and minus zoom"
          tabIndex={0}
          onKeyDown={move.onKeyDown}
          sx={{
            flex: 1,
            minHeight: 0,
            minWidth: 0,
            position: 'relative',
            overflow: 'hidden',
            touchAction: 'none',
            cursor: card ? 'grab' : 'default',
          }}
          onPointerDown={move.onPointerDown}
          onPointerEnter={moved}
          onPointerMove={moved}
          onPointerUp={endPan}
          onPointerCancel={endPan}
          onPointerLeave={leave}
          onDoubleClick={move.onDoubleClick}
        >
          <canvas
            ref={canvas}
            data-testid="picture"
            role="img"
            aria-label={card ? `${card.name} through the lens` : 'No picture'}
            style={{ position: 'absolute', inset: 0, width: '100%', height: '100%' }}
          />
          {card && layout && wipe !== null && (
            <WipeEdge layout={layout} width={card.width} height={card.height} />
          )}
          {card && layout && <MaskHandles layout={layout} card={card} />}
          {card && layout && <GhostMarks layout={layout} card={card} />}
          {card && layout && <LightHandles layout={layout} card={card} size={size} />}
          {card && layout && <FocusPicker layout={layout} card={card} />}
          {card && layout && <MaskPen key={`${pen?.mask} ${pen?.shape}`} layout={layout} card={card} />}
          {card && layout && <FrameOutline layout={layout} card={card} />}
          {card && layout && <RegionTool layout={layout} card={card} />}
          {card && layout && <PatchTool side="shown" picture={card} layout={layout} />}
          {card && layout && <CircleTool side="shown" picture={card} layout={layout} />}
          <LookAt />
          {card && <FailureBanner card={card} />}
          <FalseColourLegend />
          <RangeLegend />
          {!card && <EmptyViewer />}
        </Box>
        {isBeside && card && <BesidePane card={card} compared={pictures} frames={frames} />}
      </Box>
      <Scopes />
      {isMeasuring && <MeasurePanel />}
      <CompareBar />
      <ReadoutBar reading={reading} zoom={layout?.zoom ?? null} />
    </Box>
  );
}

/** The frame, where the picture goes beyond it. */
function FrameOutline({ layout, card }: { layout: Layout; card: PlateCard }) {
  const { frame } = card;
  if (frame.width === card.width && frame.height === card.height) return null;
  return (
    <Box
      sx={{
        position: 'absolute',
        left: layout.left + frame.x * layout.zoom,
        top: layout.top + frame.y * layout.zoom,
        width: frame.width * layout.zoom,
        height: frame.height * layout.zoom,
        outline: '1px dashed #9a9a9a',
        pointerEvents: 'none',
      }}
    />
  );
}
