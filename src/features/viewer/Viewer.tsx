'use client';
import Box from '@mui/material/Box';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { usePlates, type PlateCard } from '../session';
import { ARROW_KEYS } from './arrow-keys';
import { EmptyViewer } from './EmptyViewer';
import { hasWideScreen, layOut, MAX_ZOOM, MIN_ZOOM, zoomAt, type Layout } from '../common';
import { FailureBanner } from './FailureBanner';
import { FocusPicker } from './FocusPicker';
import { GhostMarks } from './GhostMarks';
import { LightHandles } from './LightHandles';
import { FalseColourLegend, LookAt, RangeLegend } from './LookAt';
import { MaskHandles } from './MaskHandles';
import { MaskPen } from './MaskPen';
import { ReadoutBar } from './ReadoutBar';
import { Scopes } from './Scopes';
import { ReferencePane } from './ReferencePane';
import { RegionTool } from './RegionTool';
import { usePixelReading } from './use-pixel-reading';
import { useView } from './use-view';
import { WipeEdge } from './WipeEdge';

const WHEEL_STEP = 1.0016;
const ZOOM_STEP = 1.25;
/** Screen pixels that an arrow key pans. */
const PAN_STEP = 40;

/** The picture: zoom at the pointer, pan, fit; the wipe against the plate; the values under the pointer. */
export function Viewer() {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [frames, setFrames] = useState(0);
  const redraw = useCallback(() => setFrames((count) => count + 1), []);
  const pictures = useView(size, redraw);
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const zoom = useDesk((state) => state.zoom);
  const centre = useDesk((state) => state.centre);
  const wipe = useDesk((state) => state.wipe);
  const holdPlate = useDesk((state) => state.holdPlate);
  const dragging = useDesk((state) => state.dragging);
  const pen = useDesk((state) => state.pen);
  const set = useDesk((state) => state.set);
  const layout: Layout | null = useMemo(
    () => (card && size.width ? layOut(card, size, zoom, centre) : null),
    [card, size, zoom, centre],
  );
  const { reading, readAt, leave } = usePixelReading(layout, card, frames);
  const pan = useRef<{ x: number; y: number; id: number } | null>(null);

  useEffect(() => {
    const element = frame.current!;
    const observer = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    const context = canvas.current?.getContext('2d', {
      colorSpace: hasWideScreen() ? 'display-p3' : 'srgb',
    });
    if (!context) return;
    const ratio = window.devicePixelRatio;
    const { canvas: surface } = context;
    const [surfaceWidth, surfaceHeight] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
    if (surface.width !== surfaceWidth) surface.width = surfaceWidth;
    if (surface.height !== surfaceHeight) surface.height = surfaceHeight;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, size.width, size.height);
    if (!layout || !card) return;
    const { left, top } = layout;
    const [width, height] = [card.width * layout.zoom, card.height * layout.zoom];
    const shown = pictures.current;
    // A picture of another plate is not this one's, however long its own takes.
    const own = <T extends { plate: string }>(picture: T | null): T | null =>
      picture?.plate === card.plate ? picture : null;
    const [final, plate, part] = [own(shown.final), own(shown.plate), own(shown.region)];
    const draw = (bitmap: ImageBitmap): void => {
      // Above twice its size a pixel is shown as the square it is.
      context.imageSmoothingEnabled = width / bitmap.width < 2 || bitmap.width < card.width;
      // While a hand moves, time counts for more than the finest edges.
      context.imageSmoothingQuality = dragging ? 'low' : 'high';
      context.drawImage(bitmap, left, top, width, height);
    };
    draw((holdPlate && plate ? plate : final)?.bitmap ?? card.thumbnail);
    if (part && !(holdPlate && plate)) {
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
    if (plate && !holdPlate && wipe !== null) {
      context.save();
      context.beginPath();
      context.rect(left, top, width * wipe, height);
      context.clip();
      draw(plate.bitmap);
      context.restore();
    }
    // `frames` counts arrivals of new bitmaps, which live in a ref.
  }, [frames, layout, card, size, wipe, holdPlate, dragging, pictures]);

  useEffect(() => {
    const element = frame.current!;
    const wheel = (event: WheelEvent): void => {
      event.preventDefault();
      const { zoom: z, centre: c } = useDesk.getState();
      if (!card) return;
      const now = layOut(card, size, z, c);
      const next = Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, now.zoom * WHEEL_STEP ** -event.deltaY));
      const box = element.getBoundingClientRect();
      const place = { x: event.clientX - box.left, y: event.clientY - box.top };
      set({ zoom: next, centre: zoomAt(now, size, place, next) });
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [card, size, set]);

  const moved = (event: React.PointerEvent): void => {
    if (pan.current && layout && card) {
      const [dx, dy] = [event.clientX - pan.current.x, event.clientY - pan.current.y];
      pan.current = { ...pan.current, x: event.clientX, y: event.clientY };
      const from = {
        x: (size.width / 2 - layout.left) / layout.zoom,
        y: (size.height / 2 - layout.top) / layout.zoom,
      };
      set({ zoom: layout.zoom, centre: { x: from.x - dx / layout.zoom, y: from.y - dy / layout.zoom } });
    }
    const box = frame.current!.getBoundingClientRect();
    readAt(event.clientX - box.left, event.clientY - box.top);
  };

  /** Arrow keys pan and plus and minus zoom while the picture has the focus. */
  const steered = (event: React.KeyboardEvent): void => {
    if (!layout || event.target !== event.currentTarget || event.ctrlKey || event.metaKey) return;
    const middle = { x: size.width / 2, y: size.height / 2 };
    const from = { x: (middle.x - layout.left) / layout.zoom, y: (middle.y - layout.top) / layout.zoom };
    const step = PAN_STEP / layout.zoom;
    const [dx, dy] = ARROW_KEYS[event.key] ?? [0, 0];
    const factor = event.key === '+' || event.key === '=' ? ZOOM_STEP : event.key === '-' ? 1 / ZOOM_STEP : 1;
    if (dx === 0 && dy === 0 && factor === 1) return;
    event.preventDefault();
    const next = Math.min(MAX_ZOOM, Math.max(MIN_ZOOM, layout.zoom * factor));
    set({ zoom: next, centre: { x: from.x + dx * step, y: from.y + dy * step } });
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
          onKeyDown={steered}
          sx={{
            flex: 1,
            minHeight: 0,
            minWidth: 0,
            position: 'relative',
            overflow: 'hidden',
            touchAction: 'none',
            cursor: card ? 'grab' : 'default',
          }}
          onPointerDown={(event) => {
            if (event.button !== 0 || !card) return;
            event.currentTarget.focus({ preventScroll: true });
            event.currentTarget.setPointerCapture(event.pointerId);
            pan.current = { x: event.clientX, y: event.clientY, id: event.pointerId };
          }}
          onPointerEnter={moved}
          onPointerMove={moved}
          onPointerUp={() => (pan.current = null)}
          onPointerCancel={() => (pan.current = null)}
          onPointerLeave={leave}
          onDoubleClick={() => set({ zoom: null, centre: null })}
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
          <LookAt />
          {card && <FailureBanner card={card} />}
          <FalseColourLegend />
          <RangeLegend />
          {!card && <EmptyViewer />}
        </Box>
        <ReferencePane />
      </Box>
      <Scopes />
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
