'use client';
import { Chart } from './Chart';
import Box from '@mui/material/Box';
import { FigureLine } from '../common';
import { BINS_PER_STOP, HISTOGRAM_BINS, HISTOGRAM_STOPS, type Histogram } from '../../core/image/histogram';

const COLOURS = ['#d98a7d', '#8fc2a4', '#8fb0d9'];
const NAMES = ['red', 'green', 'blue'];
const STOPS = Array.from({ length: HISTOGRAM_BINS }, (_, i) => (i + 0.5) / BINS_PER_STOP - HISTOGRAM_STOPS);

const percent = (share: number): string => `${(share * 100).toFixed(share >= 0.1 ? 1 : 2)} %`;

/** How the light on show is spread over stops from middle grey, and what of it is beyond black and white. */
export function HistogramChart({ histogram }: { histogram: Histogram | undefined }) {
  if (!histogram) return <Box sx={{ height: 132 }} />;
  return (
    <Box data-testid="histogram">
      <Chart
        data={histogram.channels.map((shares, c) => ({
          x: STOPS,
          y: shares.map((value) => value * 100),
          name: NAMES[c]!,
          type: 'scatter',
          mode: 'lines',
          line: { color: COLOURS[c]!, width: 1, shape: 'hvh' },
          hovertemplate: '%{x:.1f} st: %{y:.2f} %<extra></extra>',
        }))}
        layout={{
          width: 296,
          height: 118,
          margin: { l: 30, r: 4, t: 4, b: 22 },
          showlegend: false,
          paper_bgcolor: '#1f1f1f',
          plot_bgcolor: '#161616',
          font: { family: 'var(--figures)', size: 10, color: '#9a9a9a' },
          xaxis: {
            range: [-HISTOGRAM_STOPS, HISTOGRAM_STOPS],
            gridcolor: '#2a2a2a',
            zerolinecolor: '#4a4a4a',
            dtick: 4,
            ticksuffix: ' st',
          },
          yaxis: { rangemode: 'tozero', gridcolor: '#2a2a2a', nticks: 3, ticksuffix: ' %', zeroline: false },
        }}
        config={{ displayModeBar: false, responsive: false }}
      />
      <FigureLine pb={0.5}>
        <span>over white {percent(histogram.clipped)}</span>
        <Box component="span" sx={{ color: histogram.negative > 0 ? 'error.main' : undefined }}>
          negative {percent(histogram.negative)}
        </Box>
        <span>black {percent(histogram.black)}</span>
      </FigureLine>
    </Box>
  );
}
