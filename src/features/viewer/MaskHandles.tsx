'use client';
import Box from '@mui/material/Box';
import { useRef } from 'react';
import { isDrawn, type DrawnShape, type Mask, type MaskShape } from '../../core/settings/mask';
import { useDesk } from '../../state/desk-store';
import { beginGesture, endGesture, useShot } from '../../state/shot-store';
import type { PlateCard } from '../session';
import { ARROW_KEYS } from './arrow-keys';
import { HANDLE_SURFACE } from './handle-surface';
import type { Layout } from '../common';
import { useFrameMapping } from './use-frame-mapping';

type Place = [number, number];

/** A handle: where it stands (pixels of the viewer), and the shape when it is put elsewhere (shares of the frame). */
interface Handle {
  name: string;
  at: Place;
  move: (to: Place) => DrawnShape;
  /** What a double click takes away, if anything. */
  remove?: () => DrawnShape;
  quiet?: boolean;
}

const round = (value: number): number => Math.round(value * 10_000) / 10_000;
const held = (value: number): number => round(Math.min(4.9, Math.max(-3.9, value)));
const radius = (value: number): number => round(Math.min(4, Math.max(0.005, value)));

/** Outline and handles of the chosen mask's shapes on the picture. Dragging a handle is one step to undo. */
export function MaskHandles({ layout, card }: { layout: Layout; card: PlateCard }) {
  const id = useDesk((state) => state.mask);
  const mask = useShot((state) => state.look.masks.find((one) => one.id === id));
  if (!mask) return null;
  return <MaskDrawing mask={mask} layout={layout} card={card} />;
}

function MaskDrawing({ mask, layout, card }: { mask: Mask; layout: Layout; card: PlateCard }) {
  const change = useShot((state) => state.change);
  const set = useDesk((state) => state.set);
  const surface = useRef<SVGSVGElement>(null);
  const drag = useRef<((to: Place) => void) | null>(null);
  const { frame } = card;
  const { toScreen, toFrame } = useFrameMapping(layout, card);
  /** A share of the frame's height in screen pixels. */
  const unit = frame.height * layout.zoom;
  const aspect = frame.width / frame.height;
  const put = (index: number, shape: DrawnShape): void =>
    change(
      'masks',
      useShot
        .getState()
        .look.masks.map((one) =>
          one.id === mask.id
            ? { ...one, shapes: one.shapes.map((old, i) => (i === index ? shape : old)) }
            : one,
        ),
    );
  const placeOf = (event: React.PointerEvent): Place => {
    const box = surface.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const end = (): void => {
    if (!drag.current) return;
    drag.current = null;
    endGesture();
    set({ dragging: false });
  };
  return (
    <Box
      component="svg"
      ref={surface}
      role="group"
      aria-label={`Handles of ${mask.name}`}
      onPointerMove={(event: React.PointerEvent) => {
        if (!drag.current) return;
        event.stopPropagation();
        drag.current(placeOf(event));
      }}
      onPointerUp={end}
      onPointerCancel={end}
      sx={HANDLE_SURFACE}
    >
      {mask.shapes.map((shape, index) => {
        if (!isDrawn(shape)) return null;
        const handles = handlesOf(shape, toScreen, unit, aspect);
        return (
          <g key={index}>
            <Outline shape={shape} toScreen={toScreen} unit={unit} />
            {handles.map((handle) => (
              <circle
                key={handle.name}
                cx={handle.at[0]}
                cy={handle.at[1]}
                r={handle.quiet ? 3.5 : 5.5}
                tabIndex={0}
                role="button"
                aria-label={`${mask.name}, shape ${index + 1}: ${handle.name}`}
                fill="#1f1f1f"
                fillOpacity={0.8}
                stroke="#e8a33d"
                strokeWidth={1.5}
                style={{ pointerEvents: 'all', cursor: 'grab', touchAction: 'none' }}
                onPointerDown={(event) => {
                  event.stopPropagation();
                  surface.current!.setPointerCapture(event.pointerId);
                  beginGesture();
                  set({ dragging: true });
                  // A new corner becomes one when it is first moved, and is that corner from then on.
                  const { name } = handle;
                  drag.current = (to) => {
                    const now = useShot.getState().look.masks.find((one) => one.id === mask.id)?.shapes[
                      index
                    ];
                    if (!now || !isDrawn(now)) return;
                    const own = handlesOf(now, toScreen, unit, aspect).find((one) => one.name === name);
                    const target = own ?? handle;
                    put(index, target.move(toFrame(to)));
                    if (name.startsWith('new corner'))
                      drag.current = (next) => {
                        const corner = `corner ${Number(name.split(' ')[2]) + 1}`;
                        const then = useShot.getState().look.masks.find((one) => one.id === mask.id)?.shapes[
                          index
                        ];
                        if (!then || !isDrawn(then)) return;
                        const found = handlesOf(then, toScreen, unit, aspect).find(
                          (one) => one.name === corner,
                        );
                        if (found) put(index, found.move(toFrame(next)));
                      };
                  };
                }}
                onDoubleClick={(event) => {
                  event.stopPropagation();
                  if (handle.remove) put(index, handle.remove());
                }}
                onKeyDown={(event) => {
                  const step = event.shiftKey ? 20 : 2;
                  const by = ARROW_KEYS[event.key];
                  if (by)
                    put(
                      index,
                      handle.move(toFrame([handle.at[0] + step * by[0], handle.at[1] + step * by[1]])),
                    );
                  else if (event.key === 'Delete' && handle.remove) put(index, handle.remove());
                  else return;
                  event.preventDefault();
                  event.stopPropagation();
                }}
              />
            ))}
          </g>
        );
      })}
    </Box>
  );
}

function Outline({
  shape,
  toScreen,
  unit,
}: {
  shape: DrawnShape;
  toScreen: (place: readonly [number, number]) => Place;
  unit: number;
}) {
  const line = { fill: 'none', stroke: '#e8a33d', strokeWidth: 1.25 } as const;
  const soft = { ...line, strokeDasharray: '3 4', opacity: 0.6 } as const;
  if (shape.kind === 'gradient') {
    const [a, b] = [toScreen(shape.from), toScreen(shape.to)];
    return <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} {...line} />;
  }
  if (shape.kind === 'polygon')
    return <polygon points={shape.points.map((point) => toScreen(point).join(',')).join(' ')} {...line} />;
  const [cx, cy] = toScreen(shape.centre);
  const half = (shape.feather * unit) / 2;
  const [rx, ry] = shape.radii.map((value) => value * unit) as Place;
  const turn = `rotate(${shape.rotation} ${cx} ${cy})`;
  return (
    <g transform={turn}>
      <ellipse cx={cx} cy={cy} rx={rx} ry={ry} {...line} />
      {shape.feather > 0 && (
        <>
          <ellipse cx={cx} cy={cy} rx={rx + half} ry={ry + half} {...soft} />
          <ellipse cx={cx} cy={cy} rx={Math.max(0, rx - half)} ry={Math.max(0, ry - half)} {...soft} />
        </>
      )}
    </g>
  );
}

function handlesOf(
  shape: DrawnShape,
  toScreen: (place: readonly [number, number]) => Place,
  unit: number,
  aspect: number,
): Handle[] {
  if (shape.kind === 'gradient')
    return [
      { name: 'where it is full', at: toScreen(shape.from), move: (from) => ({ ...shape, from }) },
      { name: 'where it ends', at: toScreen(shape.to), move: (to) => ({ ...shape, to }) },
    ];
  if (shape.kind === 'polygon') return polygonHandles(shape, toScreen);
  const [cx, cy] = toScreen(shape.centre);
  const angle = (shape.rotation * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [rx, ry] = shape.radii;
  /** From the centre, in shares of the frame's height. */
  const from = ([u, v]: Place): Place => [(u - shape.centre[0]) * aspect, v - shape.centre[1]];
  const outer = rx + shape.feather / 2 + 24 / unit;
  return [
    { name: 'centre', at: [cx, cy], move: (centre) => ({ ...shape, centre }) },
    {
      name: 'width and turn',
      at: [cx + rx * unit * cos, cy + rx * unit * sin],
      move: (to) => {
        const [x, y] = from(to);
        const rotation = round((Math.atan2(y, x) * 180) / Math.PI);
        return { ...shape, radii: [radius(Math.hypot(x, y)), ry], rotation };
      },
    },
    {
      name: 'height',
      at: [cx - ry * unit * sin, cy + ry * unit * cos],
      move: (to) => {
        const [x, y] = from(to);
        return { ...shape, radii: [rx, radius(Math.abs(y * cos - x * sin))] };
      },
    },
    {
      name: 'feather',
      at: [cx - outer * unit * cos, cy - outer * unit * sin],
      quiet: true,
      move: (to) => {
        const [x, y] = from(to);
        const feather = round(Math.min(2, Math.max(0, 2 * (Math.hypot(x, y) - rx - 24 / unit))));
        return { ...shape, feather };
      },
    },
  ];
}

function polygonHandles(
  shape: Extract<MaskShape, { kind: 'polygon' }>,
  toScreen: (place: readonly [number, number]) => Place,
): Handle[] {
  const { points } = shape;
  const count = points.length;
  const corners = points.map((point, i): Handle => ({
    name: `corner ${i + 1}`,
    at: toScreen(point),
    move: (to) => ({ ...shape, points: points.map((one, k) => (k === i ? to : one)) }),
    ...(count > 3 && { remove: () => ({ ...shape, points: points.filter((_, k) => k !== i) }) }),
  }));
  const between = points.map((point, i): Handle => {
    const next = points[(i + 1) % count]!;
    return {
      name: `new corner ${i + 1}`,
      at: toScreen([(point[0] + next[0]) / 2, (point[1] + next[1]) / 2]),
      quiet: true,
      move: (to) => ({ ...shape, points: [...points.slice(0, i + 1), to, ...points.slice(i + 1)] }),
    };
  });
  const middle: Place = [
    points.reduce((sum, [x]) => sum + x, 0) / count,
    points.reduce((sum, [, y]) => sum + y, 0) / count,
  ];
  const whole: Handle = {
    name: 'whole shape',
    at: toScreen(middle),
    move: ([x, y]) => ({
      ...shape,
      points: points.map(([u, v]): Place => [held(u + x - middle[0]), held(v + y - middle[1])]),
    }),
  };
  return [...between, ...corners, whole];
}
