'use client';
import Box from '@mui/material/Box';
import { useRef, useState } from 'react';
import { monotoneCubic } from '../../core/color/monotone';
import { BINS_PER_STOP, HISTOGRAM_STOPS, type Histogram } from '../../core/image/histogram';
import { MAX_CURVE_POINTS, parseCurve, writeCurve, type Curve } from '../../core/settings/curve';
import { getSetting } from '../../core/look/look';
import type { Setting } from '../../core/settings/setting';
import { useDesk } from '../../state/desk-store';
import { beginGesture, endGesture, useShot } from '../../state/shot-store';
import { ResetMark, RowLabel } from './row';
import { TextField } from '../common';

const [WIDTH, HEIGHT] = [296, 148];
/** Stops from middle grey that are drawn to either side. */
const REACH = 10;
const SAMPLES = 96;
/** Points keep this distance in stops, so that each can be grasped. */
const GAP = 0.1;

const toX = (stops: number): number => ((stops + REACH) / (2 * REACH)) * WIDTH;
const toY = (stops: number): number => HEIGHT - ((stops + REACH) / (2 * REACH)) * HEIGHT;
const round = (value: number): number => Math.round(value * 100) / 100;

/** A curve in stops over the histogram of what is on show: points are dragged, typed, or nudged with the arrow keys. */
export function CurveEditor({
  setting,
  histogram,
}: {
  setting: Setting & { kind: 'curve' };
  histogram?: Histogram | undefined;
}) {
  const curve = useShot((state) => getSetting(state.look, setting.path) as Curve);
  const change = useShot((state) => state.change);
  const set = useDesk((state) => state.set);
  const surface = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const name = `${setting.group} ${setting.label}`;

  const place = (event: React.PointerEvent): [number, number] => {
    const box = surface.current!.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * 2 * REACH - REACH;
    const y = REACH - ((event.clientY - box.top) / box.height) * 2 * REACH;
    return [Math.min(REACH, Math.max(-REACH, x)), Math.min(REACH, Math.max(-REACH, y))];
  };
  const put = (index: number, [x, y]: readonly [number, number]): void => {
    const low = (curve[index - 1]?.[0] ?? -REACH - GAP) + GAP;
    const high = (curve[index + 1]?.[0] ?? REACH + GAP) - GAP;
    const point = [round(Math.min(high, Math.max(low, x))), round(y)] as const;
    change(
      setting.path,
      curve.map((one, i) => (i === index ? point : one)),
    );
  };
  const remove = (index: number): void =>
    change(
      setting.path,
      curve.filter((_, i) => i !== index),
    );
  const hold = (index: number, event: React.PointerEvent): void => {
    beginGesture();
    set({ dragging: true });
    setHeld(index);
    surface.current!.setPointerCapture(event.pointerId);
  };
  const letGo = (): void => {
    if (held === null) return;
    setHeld(null);
    endGesture();
    set({ dragging: false });
  };
  const begin = (event: React.PointerEvent): void => {
    if (event.button !== 0 || curve.length >= MAX_CURVE_POINTS) return;
    const [x, y] = place(event);
    const near = curve.findIndex((point) => Math.abs(point[0] - x) < GAP);
    if (near >= 0) return hold(near, event);
    const at = curve.filter((point) => point[0] < x).length;
    hold(at, event);
    change(setting.path, [...curve.slice(0, at), [round(x), round(y)], ...curve.slice(at)]);
  };
  const map = monotoneCubic(curve, 1);
  const line = Array.from({ length: SAMPLES + 1 }, (_, i) => {
    const x = -REACH + (2 * REACH * i) / SAMPLES;
    return `${toX(x).toFixed(1)},${toY(map(x)).toFixed(1)}`;
  }).join(' ');

  return (
    <Box data-setting={setting.path} sx={{ pt: 0.5 }}>
      <Box sx={{ display: 'flex', justifyContent: 'space-between', minHeight: 22 }}>
        <RowLabel setting={setting} />
        <ResetMark setting={setting} changed={curve.length > 0} />
      </Box>
      <svg
        ref={surface}
        width={WIDTH}
        height={HEIGHT}
        role="group"
        aria-label={`${name}: click adds a point`}
        onPointerDown={begin}
        onPointerMove={(event) => held !== null && put(held, place(event))}
        onPointerUp={letGo}
        onPointerCancel={letGo}
        style={{ display: 'block', background: '#161616', touchAction: 'none', cursor: 'crosshair' }}
      >
        {histogram && <path d={histogramPath(histogram)} fill="#2f2f2f" />}
        {[-8, -4, 0, 4, 8].map((stop) => (
          <g key={stop} stroke={stop === 0 ? '#4a4a4a' : '#2a2a2a'}>
            <line x1={toX(stop)} x2={toX(stop)} y1={0} y2={HEIGHT} />
            <line x1={0} x2={WIDTH} y1={toY(stop)} y2={toY(stop)} />
          </g>
        ))}
        <polyline points={line} fill="none" stroke="#d6d6d6" strokeWidth={1.25} />
        {curve.map(([x, y], index) => (
          <circle
            key={index}
            cx={toX(x)}
            cy={toY(y)}
            r={5}
            tabIndex={0}
            role="slider"
            aria-label={`${name}, point ${index + 1}`}
            aria-valuenow={y}
            aria-valuetext={`${x} stops become ${y} stops`}
            fill={held === index ? '#e8a33d' : '#1f1f1f'}
            stroke="#e8a33d"
            strokeWidth={1.5}
            style={{ cursor: 'grab' }}
            onPointerDown={(event) => {
              event.stopPropagation();
              hold(index, event);
            }}
            onDoubleClick={() => remove(index)}
            onKeyDown={(event) => {
              const step = event.shiftKey ? 1 : 0.1;
              const moves: Record<string, [number, number]> = {
                ArrowLeft: [-step, 0],
                ArrowRight: [step, 0],
                ArrowUp: [0, step],
                ArrowDown: [0, -step],
              };
              const move = moves[event.key];
              if (move) put(index, [x + move[0], y + move[1]]);
              else if (event.key === 'Delete' || event.key === 'Backspace') remove(index);
              else return;
              event.preventDefault();
              event.stopPropagation();
            }}
          />
        ))}
      </svg>
      <TextField
        label={`${name} points`}
        value={writeCurve(curve)}
        problem={(text) =>
          parseCurve(text) ? undefined : 'points are wanted, as -2:-2.5, 0:0, 3:2, or none'
        }
        onTake={(text) => change(setting.path, parseCurve(text)!)}
      />
    </Box>
  );
}

function histogramPath({ channels }: Histogram): string {
  const sums = channels[0].map((value, i) => value + channels[1][i]! + channels[2][i]!);
  const most = Math.max(...sums, 1e-9);
  const points = sums.map((value, i) => {
    const x = toX((i + 0.5) / BINS_PER_STOP - HISTOGRAM_STOPS);
    return `${x.toFixed(1)},${(HEIGHT - Math.sqrt(value / most) * HEIGHT * 0.85).toFixed(1)}`;
  });
  return `M${toX(-HISTOGRAM_STOPS)},${HEIGHT} L${points.join(' L')} L${toX(HISTOGRAM_STOPS)},${HEIGHT} Z`;
}
