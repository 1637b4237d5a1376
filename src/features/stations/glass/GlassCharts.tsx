'use client';
import Box from '@mui/material/Box';
import type { GlassCurves } from '../../../core/stations/glass/queries';
import { useShot } from '../../../state/shot-store';
import { Chart, useLatest } from '../../controls';
import { askBench, usePlates } from '../../session';

/** What the present look's glass does, as curves; undefined without a plate. */
export function useGlassCurves(): GlassCurves | undefined {
  const look = useShot((state) => state.look);
  const activePlate = useShot((state) => state.activePlate);
  const id = usePlates((state) => (activePlate ? state.cards[activePlate]?.id : undefined));
  const { glass, camera, ghosts } = look;
  const lens = glass.fromLens && [ghosts.design, ghosts.own];
  const key = id && JSON.stringify([id, glass, camera, lens]);
  return useLatest(key, () =>
    askBench({ name: 'glassCurves', look: useShot.getState().look, input: {}, plate: id }),
  );
}

/** Index, focus and lateral colour over the wavelength, or the fall-off over the field. */
export function GlassCharts({ fallOff = false }: { fallOff?: boolean }) {
  const curves = useGlassCurves();
  const hasPlate = useShot((state) => state.activePlate !== null);
  if (!curves)
    return (
      <Box sx={{ fontSize: 11, color: 'text.secondary', py: 0.5 }}>
        {hasPlate ? 'The curves are being computed' : 'With a plate, its curves are drawn here'}
      </Box>
    );
  if (fallOff)
    return (
      <Curve
        label="Fall-off over the field"
        x={curves.radii.map((r) => 100 * r)}
        y={curves.fallOff.map((share) => 100 * share)}
        xUnit=" % of half the diagonal"
        yUnit=" %"
        range={[0, 105]}
      />
    );
  const x = curves.wavelengths;
  return (
    <>
      <Curve label="Index over the wavelength" x={x} y={curves.index} xUnit=" nm" yUnit="" />
      <Curve
        label="Focus behind that of the d line, µm"
        x={x}
        y={curves.focus}
        xUnit=" nm"
        yUnit=""
        atLeast={1}
      />
      <Curve
        label="Image in the corner beyond that of the d line, px"
        x={x}
        y={curves.lateral}
        xUnit=" nm"
        yUnit=""
        atLeast={0.1}
      />
    </>
  );
}

interface CurveProps {
  label: string;
  x: number[];
  y: number[];
  xUnit: string;
  yUnit: string;
  range?: [number, number];
  /** The least span that is drawn, so that nothing does not look like much. */
  atLeast?: number;
}

function Curve({ label, x, y, xUnit, yUnit, range, atLeast = 0 }: CurveProps) {
  const [low, high] = [Math.min(...y), Math.max(...y)];
  const room = Math.max(atLeast, high - low) * 0.08;
  const middle = (low + high) / 2;
  const half = Math.max(atLeast / 2, (high - low) / 2) + room;
  return (
    <Box role="img" aria-label={label} sx={{ pt: 0.5 }}>
      <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{label}</Box>
      <Chart
        data={[
          {
            x,
            y,
            type: 'scatter',
            mode: 'lines',
            line: { color: '#e8a33d', width: 1.4 },
            hovertemplate: `%{y:.4~f}${yUnit} at %{x:.0f}${xUnit}<extra></extra>`,
          },
        ]}
        layout={{
          width: 296,
          height: 104,
          margin: { l: 46, r: 6, t: 4, b: 20 },
          showlegend: false,
          paper_bgcolor: '#1f1f1f',
          plot_bgcolor: '#161616',
          font: { family: 'var(--figures)', size: 10, color: '#9a9a9a' },
          xaxis: { gridcolor: '#2a2a2a', zeroline: false, fixedrange: true, nticks: 5 },
          yaxis: {
            gridcolor: '#2a2a2a',
            zeroline: false,
            fixedrange: true,
            nticks: 4,
            range: range ?? [middle - half, middle + half],
          },
        }}
        config={{ displayModeBar: false, responsive: false }}
      />
    </Box>
  );
}
