'use client';
import Box from '@mui/material/Box';
import { useEffect, useRef, useSyncExternalStore } from 'react';
import { isSkipped, numbersOf, playedRange, rangeOfReel, stepped } from '../../core/shot/reel';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { cleanCanvas, hasWideScreen, useFrameSize } from '../common';
import { goTo, passBy } from '../session';
import { frameDrafts } from '../viewer';
import { frameScale } from './frame-scale';
import { KeyStrip } from './KeyStrip';

const TILE = 46;
/** No tile is narrower. */
const LEAST_TILE = 40;
/** A hand that has not moved for so long rests. */
const REST_MS = 180;

/** Hears of drafts that come and go. */
export const useDraftChanges = (): number =>
  useSyncExternalStore(
    (listener) => frameDrafts.subscribe(listener),
    () => frameDrafts.changes,
    () => 0,
  );

/** The frames as small pictures; a drag over them moves the playhead. */
export function Filmstrip() {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useFrameSize(frame);
  const changes = useDraftChanges();
  const reel = useShot((state) => state.reel);
  const plate = useShot((state) => state.plates.find(({ id }) => id === state.activePlate));
  const range = rangeOfReel(reel, plate);
  const played = playedRange(reel, plate);
  const scale = frameScale(range, size.width);
  const scrub = useFrameScrub((x) => scale.toFrame(x));

  useEffect(() => {
    const context = cleanCanvas(canvas.current, size, hasWideScreen() ? 'display-p3' : 'srgb');
    if (!context || size.width === 0) return;
    const { first, last } = range;
    const count = last - first + 1;
    const tiles = Math.min(count, Math.max(1, Math.floor(size.width / LEAST_TILE)));
    for (let tile = 0; tile < tiles; tile++) {
      const from = first + Math.floor((tile * count) / tiles);
      const [x, next] = [(tile * size.width) / tiles, ((tile + 1) * size.width) / tiles];
      drawTile(context, from, { x, width: next - x - 1 });
    }
    for (let at = first; at <= last; at++) {
      const x = scale.toX(at);
      const width = Math.max(1, scale.step - (scale.step > 4 ? 1 : 0));
      const ready = frameDrafts.find(at) !== undefined;
      context.fillStyle = frameDrafts.failureAt(at) !== undefined ? '#e0604c' : ready ? '#9a9a9a' : '#2a2a2a';
      context.fillRect(x, TILE + 1, width, 2);
      if (isGap(plate, at)) {
        context.fillStyle = 'rgb(22 22 22 / 60%)';
        context.fillRect(x, 0, width, TILE);
      }
    }
    context.fillStyle = 'rgb(22 22 22 / 70%)';
    context.fillRect(0, 0, scale.toX(played.first), TILE);
    context.fillRect(scale.toX(played.last + 1), 0, size.width, TILE);
    context.strokeStyle = '#e8a33d';
    context.lineWidth = 1.5;
    const width = Math.max(3, Math.min(scale.step, size.width / tiles) - 1);
    context.strokeRect(scale.toX(reel.playhead) + 0.75, 0.75, width - 1.5, TILE - 1.5);
  }, [size, changes, reel, plate, range, played, scale]);

  const step = (by: 1 | -1): void => {
    const at = stepped(reel, plate, { from: reel.playhead, by, range });
    void goTo(at);
  };
  return (
    <Box sx={{ px: 1.5, pb: 0.5 }}>
      <Box
        ref={frame}
        role="slider"
        tabIndex={0}
        aria-label="Playhead"
        aria-valuemin={range.first}
        aria-valuemax={range.last}
        aria-valuenow={reel.playhead}
        aria-valuetext={`frame ${reel.playhead}${isSkipped(reel, plate, reel.playhead) ? ', which has no file' : ''}`}
        onKeyDown={(event) => {
          const keys: Record<string, () => void> = {
            ArrowLeft: () => step(-1),
            ArrowRight: () => step(1),
            Home: () => void goTo(played.first),
            End: () => void goTo(played.last),
          };
          const act = keys[event.key];
          if (!act) return;
          act();
          event.preventDefault();
          event.stopPropagation();
        }}
        {...scrub}
        sx={{ height: TILE + 4, position: 'relative', cursor: 'ew-resize', touchAction: 'none' }}
      >
        <canvas
          ref={canvas}
          data-testid="filmstrip"
          aria-hidden
          style={{ position: 'absolute', inset: 0, width: '100%', height: '100%' }}
        />
      </Box>
      <KeyStrip range={range} width={size.width} />
    </Box>
  );
}

/** Whether a sequence has no file of a frame. */
function isGap(plate: Parameters<typeof numbersOf>[0] | undefined, at: number): boolean {
  const numbers = plate ? numbersOf(plate) : [];
  return numbers.length > 1 && !numbers.includes(at);
}

/** The middle of a frame's draft; darker if it is not of the present look. */
function drawTile(
  context: CanvasRenderingContext2D,
  frame: number,
  { x, width }: { x: number; width: number },
): void {
  context.fillStyle = '#161616';
  context.fillRect(x, 0, width, TILE);
  const found = frameDrafts.findAny(frame);
  if (!found) return;
  const { bitmap, isPresent } = found;
  const zoom = Math.max(width / bitmap.width, TILE / bitmap.height);
  const [w, h] = [width / zoom, TILE / zoom];
  context.imageSmoothingQuality = 'high';
  context.globalAlpha = isPresent ? 1 : 0.4;
  context.drawImage(bitmap, (bitmap.width - w) / 2, (bitmap.height - h) / 2, w, h, x, 0, width, TILE);
  context.globalAlpha = 1;
}

/** A drag along frames: past those that have drafts, onto others; where it rests the frame is put on the bench. */
function useFrameScrub(toFrame: (x: number) => number) {
  const isHeld = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const visit = (event: React.PointerEvent<HTMLElement>): void => {
    const frame = toFrame(event.clientX - event.currentTarget.getBoundingClientRect().left);
    clearTimeout(timer.current);
    if (frame === useShot.getState().reel.playhead && !useDesk.getState().passing) return;
    if (frameDrafts.find(frame)) {
      passBy(frame);
      timer.current = setTimeout(() => void goTo(useShot.getState().reel.playhead), REST_MS);
    } else void goTo(frame);
  };
  const end = (): void => {
    if (!isHeld.current) return;
    isHeld.current = false;
    clearTimeout(timer.current);
    useDesk.getState().set({ dragging: false });
    void goTo(useShot.getState().reel.playhead);
  };
  useEffect(() => () => clearTimeout(timer.current), []);
  return {
    onPointerDown(event: React.PointerEvent<HTMLElement>): void {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      isHeld.current = true;
      useDesk.getState().set({ playing: false, dragging: true });
      visit(event);
    },
    onPointerMove(event: React.PointerEvent<HTMLElement>): void {
      if (isHeld.current) visit(event);
    },
    onPointerUp: end,
    onPointerCancel: end,
  };
}
