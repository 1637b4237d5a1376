'use client';
import Box from '@mui/material/Box';
import { asFocusDistance, blurDiameter, fStopForLimit, sharpLimits } from '../../../core/optics/camera';
import { settingAt } from '../../../core/look/look';
import { valueAt } from '../../../core/look/tracks';
import { rangeOfReel } from '../../../core/shot/reel';
import type { DepthHistogram } from '../../../core/light/distances';
import { useShot } from '../../../state/shot-store';
import { Chart, useLatest } from '../../controls';
import { askBench, usePlates } from '../../session';

const TICKS = [0.1, 0.3, 1, 3, 10, 30, 100, 1000];
const REACH: [number, number] = [-1, 4];
/** Neighbouring f-stops: a stop opener, itself, a stop closer. */
const STOPS = [-1, 0, 1] as const;
const SAMPLES = Array.from({ length: 151 }, (_, i) => REACH[0] + (i * (REACH[1] - REACH[0])) / 150);

const GREEN = '#57b894';
const AMBER = '#e8a33d';

/** The lens, at the left end of the axis. */
const LENS = {
  type: 'path' as const,
  xref: 'paper' as const,
  yref: 'paper' as const,
  path: 'M 0.012 0.08 Q 0.045 0.5 0.012 0.92 Q -0.021 0.5 0.012 0.08 Z',
  line: { color: '#9a9a9a', width: 1 },
  fillcolor: 'rgba(154, 154, 154, 0.25)',
  editable: false,
};

/** An upright line of the chart, which can be dragged along the axis. */
const line = (distance: number, colour: string, dash: 'solid' | 'dot') => ({
  type: 'line' as const,
  xref: 'x' as const,
  yref: 'paper' as const,
  x0: Math.log10(distance),
  x1: Math.log10(distance),
  y0: 0,
  y1: 1,
  line: { color: colour, width: dash === 'solid' ? 2 : 1.5, dash },
});

/**
 * The scene from above along the axis, the lens at the left: where the picture's surfaces lie, the focus and the limits of
 * what counts as sharp (drag them), and how large a point is blurred over distance at this and the neighbouring f-stops.
 */
export function PlanView() {
  const look = useShot((state) => state.look);
  const change = useShot((state) => state.change);
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const histogram = useDepthHistogram(card?.id, JSON.stringify(look.focus.depth));
  const focusTravel = useFocusTravel();
  if (!card) return null;
  const { camera, focus } = look;
  const { near, far } = sharpLimits(camera);
  const pixels = card.frame.width / camera.sensorWidth;
  const farthest = Math.min(far, 10 ** REACH[1]);
  const shapes = [
    line(camera.focusDistance, AMBER, 'solid'),
    line(near, GREEN, 'dot'),
    line(farthest, GREEN, 'dot'),
    LENS,
  ];

  /** A dragged line: the focus itself, or the f-stop at which the limit lies there. */
  const dragged = (event: Record<string, unknown>): void => {
    for (const [index] of shapes.entries()) {
      const place = event[`shapes[${index}].x0`];
      if (typeof place !== 'number') continue;
      const distance = 10 ** place;
      if (index === 0) return change('camera.focusDistance', asFocusDistance(distance));
      const fStop = fStopForLimit(camera, distance);
      if (fStop !== undefined)
        change('camera.fStop', Number(Math.min(128, Math.max(0.01, fStop)).toPrecision(3)));
    }
  };
  const curves = STOPS.map((step) => {
    const fStop = camera.fStop * 2 ** (step / 2);
    return {
      x: SAMPLES,
      y: SAMPLES.map(
        (place) =>
          focus.amount * pixels * Math.abs(blurDiameter({ ...camera, fStop }, 10 ** place, focus.breathing)),
      ),
      type: 'scatter' as const,
      mode: 'lines' as const,
      yaxis: 'y2' as const,
      name: `f/${Number(fStop.toPrecision(2))}`,
      line: { color: step === 0 ? '#d6d6d6' : '#6f6f6f', width: step === 0 ? 1.5 : 1 },
      hovertemplate: `f/${Number(fStop.toPrecision(2))}: %{y:.1f} px<extra></extra>`,
    };
  });
  const largest = Math.max(...curves[1]!.y.slice(60));
  const { travel, range: travelRange } = focusTravel;
  return (
    <Box data-testid="plan-view">
      <Chart
        data={[
          {
            x: histogram?.place ?? [],
            y: (histogram?.share ?? []).map((share) => share * 100),
            type: 'bar',
            marker: { color: '#3d3d3d' },
            hovertemplate: '%{y:.1f} % of the picture<extra></extra>',
          },
          ...curves,
          ...(travel ? [travel] : []),
        ]}
        layout={{
          width: 296,
          height: 170,
          margin: { l: 8, r: 40, t: 6, b: 34 },
          bargap: 0,
          showlegend: false,
          paper_bgcolor: '#1f1f1f',
          plot_bgcolor: '#161616',
          font: { family: 'var(--figures)', size: 10, color: '#9a9a9a' },
          xaxis: {
            range: REACH,
            tickvals: TICKS.map(Math.log10),
            ticktext: TICKS.map((tick) => (tick >= 1000 ? `${tick / 1000}k` : String(tick))),
            gridcolor: '#2a2a2a',
            zeroline: false,
            fixedrange: true,
            title: { text: 'distance from the lens, m', standoff: 4, font: { size: 10 } },
          },
          yaxis: { visible: false, fixedrange: true },
          yaxis2: {
            overlaying: 'y',
            side: 'right',
            range: [0, Math.max(4, largest * 1.6)],
            gridcolor: '#2a2a2a',
            ticksuffix: ' px',
            tickformat: '.2~r',
            nticks: 4,
            fixedrange: true,
          },
          yaxis3: { overlaying: 'y', visible: false, range: travelRange, fixedrange: true },
          shapes,
        }}
        config={{ displayModeBar: false, edits: { shapePosition: true } }}
        onRelayout={(event) => dragged(event as Record<string, unknown>)}
      />
      {histogram === null && (
        <Box sx={{ fontSize: 11, color: 'text.secondary' }}>There is no depth: only the lens is drawn.</Box>
      )}
    </Box>
  );
}

const FOCUS = 'camera.focusDistance';

/** The way of the focus over time: distance along the axis, frames upwards. */
function useFocusTravel() {
  const track = useShot((state) => state.tracks[FOCUS]);
  const reel = useShot((state) => state.reel);
  const plate = useShot((state) => state.plates.find(({ id }) => id === state.activePlate));
  const { first, last } = rangeOfReel(reel, plate);
  const range: [number, number] = [first, Math.max(last, first + 1)];
  if (!track) return { travel: undefined, range };
  const step = Math.max(1, Math.round((last - first) / 100));
  const frames = Array.from({ length: Math.floor((last - first) / step) + 1 }, (_, k) => first + k * step);
  const own = track.keys[0]!.value;
  const distances = frames.map((frame) => valueAt(settingAt(FOCUS), track, { frame, own }) as number);
  const travel = {
    x: distances.map(Math.log10),
    y: frames,
    text: frames.map((frame, k) => `frame ${frame}: ${distances[k]!.toPrecision(3)} m`),
    type: 'scatter' as const,
    mode: 'lines' as const,
    yaxis: 'y3' as const,
    line: { color: AMBER, width: 1, dash: 'dot' as const },
    hovertemplate: '%{text}<extra></extra>',
  };
  return { travel, range };
}

/** The histogram of the plate's distances; null if it has none. */
function useDepthHistogram(id: string | undefined, reading: string): DepthHistogram | null | undefined {
  return useLatest(
    id && `${id} ${reading}`,
    async () =>
      (await askBench({ name: 'depthSpread', look: useShot.getState().look, input: {}, plate: id })) ?? null,
  );
}
