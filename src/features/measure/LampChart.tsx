'use client';
import Box from '@mui/material/Box';
import { useRef } from 'react';
import type { LightProfile } from '../../core/measure/measure';
import type { MeasuredLamp } from '../../core/measure/queries';
import type { ShownLamp } from '../../engine/readings';
import { useFrameSize } from '../common';
import { Chart } from '../controls';

type Trace = Record<string, unknown>;

interface LampChartProps {
  reference: MeasuredLamp | null | undefined;
  picture: ShownLamp | undefined;
  /** The light of each channel instead of luminance. */
  channels: boolean;
}

const REFERENCE = '#e8a33d';
const FIT = '#fff0d4';
const PICTURE = '#d6d6d6';
const CHANNELS = [
  ['red', '#d98a7d'],
  ['green', '#8fc2a4'],
  ['blue', '#8fb0d9'],
] as const;
/** Shares of rings that are cut off from which on they are marked. */
const CUT = 0.02;
/** Powers of ten below the brightest that are drawn. */
const DECADES = 4;

/** Light by distance from the lamp, and by direction, of the reference and of the picture over each other. */
export function LampChart({ reference, picture, channels }: LampChartProps) {
  const frame = useRef<HTMLDivElement>(null);
  const size = useFrameSize(frame);
  const lamps = [
    ...(reference ? [{ lamp: reference, name: 'reference', colour: REFERENCE }] : []),
    ...(picture ? [{ lamp: picture, name: 'picture', colour: PICTURE }] : []),
  ];
  const data: Trace[] = [
    ...lamps.flatMap(({ lamp, name, colour }) => [
      ...radialTraces(lamp, { name, colour, channels }),
      ...angularTraces(lamp, { name, colour }),
    ]),
    ...(reference?.fitted ? [fittedTrace(reference, reference.fitted)] : []),
  ];
  const cut = reference ? cutOffUpTo(reference) : undefined;
  const all = lamps.flatMap(({ lamp }) => distances(lamp));
  const [near, far] = [Math.min(1, ...all) / 1.6, Math.max(10, ...all) * 1.1];
  const most = Math.max(1e-6, ...lamps.flatMap(({ lamp }) => lamp.profile.light.filter(Number.isFinite)));
  return (
    <Box ref={frame} data-testid="lamp-chart" sx={{ flex: 1, minWidth: 0, height: '100%' }}>
      {size.width > 0 && (
        <Chart
          data={data}
          layout={{
            width: size.width,
            height: size.height,
            margin: { l: 44, r: 6, t: 6, b: 30 },
            showlegend: false,
            paper_bgcolor: '#1f1f1f',
            plot_bgcolor: '#161616',
            font: { family: 'var(--figures)', size: 10, color: '#9a9a9a' },
            xaxis: {
              type: 'log',
              domain: [0, 0.6],
              range: [Math.log10(near), Math.log10(far)],
              gridcolor: '#2a2a2a',
              title: { text: 'distance, % of the height', standoff: 4 },
            },
            yaxis: {
              type: 'log',
              gridcolor: '#2a2a2a',
              exponentformat: 'power',
              range: [Math.log10(most) - DECADES, Math.log10(most) + 0.3],
              nticks: 6,
            },
            xaxis2: {
              domain: [0.68, 1],
              anchor: 'y2',
              gridcolor: '#2a2a2a',
              range: [0, 360],
              dtick: 90,
              title: { text: 'direction, deg', standoff: 4 },
            },
            yaxis2: { anchor: 'x2', gridcolor: '#2a2a2a', nticks: 4, zerolinecolor: '#4a4a4a' },
            shapes:
              cut === undefined
                ? []
                : [
                    {
                      type: 'rect',
                      xref: 'x',
                      yref: 'paper',
                      x0: near,
                      x1: cut,
                      y0: 0,
                      y1: 1,
                      fillcolor: 'rgba(232, 163, 61, 0.12)',
                      line: { width: 0 },
                    },
                  ],
          }}
          config={{ displayModeBar: false, responsive: false }}
        />
      )}
    </Box>
  );
}

const distances = ({ profile, height }: { profile: LightProfile['profile']; height: number }): number[] =>
  profile.radius.map((radius) => (100 * radius) / height);

/** What a logarithmic axis can show. */
const over = (values: readonly number[]): (number | null)[] =>
  values.map((value) => (value > 0 ? value : null));

function radialTraces(
  lamp: LightProfile & { height: number },
  { name, colour, channels }: { name: string; colour: string; channels: boolean },
): Trace[] {
  const dash = name === 'picture' && channels ? 'dot' : 'solid';
  const trace = (of: string, values: readonly number[], of_colour: string): Trace => ({
    x: distances(lamp),
    y: over(values),
    name: of,
    type: 'scatter',
    mode: 'lines',
    line: { color: of_colour, width: 1.25, dash },
    hovertemplate: `${of}: %{y:.3g} at %{x:.2f} %<extra></extra>`,
  });
  if (!channels) return [trace(name, lamp.profile.light, colour)];
  return CHANNELS.map(([channel, own]) => trace(`${name}, ${channel}`, lamp.profile[channel], own));
}

const fittedTrace = (lamp: MeasuredLamp, fitted: readonly number[]): Trace => ({
  x: distances(lamp),
  y: over(fitted),
  name: 'fit',
  type: 'scatter',
  mode: 'lines',
  line: { color: FIT, width: 1, dash: 'dash' },
  hovertemplate: 'fit: %{y:.3g} at %{x:.2f} %<extra></extra>',
});

const angularTraces = (
  { angular }: LightProfile,
  { name, colour }: { name: string; colour: string },
): Trace[] => [
  {
    x: angular.angle,
    y: angular.contrast,
    xaxis: 'x2',
    yaxis: 'y2',
    name,
    type: 'scatter',
    mode: 'lines',
    line: { color: colour, width: 1 },
    hovertemplate: `${name}: %{y:.2f} deviations at %{x:.0f} degrees<extra></extra>`,
  },
];

/** The distance up to which the reference's lamp is cut off at white, in percent of the height; undefined if it is not. */
function cutOffUpTo({ source, profile, height }: MeasuredLamp): number | undefined {
  const rings = profile.clipped.findIndex((share) => !(share > CUT));
  const pixels = Math.max(source.isClipped ? source.radius : 0, rings > 0 ? profile.radius[rings - 1]! : 0);
  return pixels > 0 ? (100 * pixels) / height : undefined;
}
