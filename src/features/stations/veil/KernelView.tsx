'use client';
import { settingAt } from '../../../core/look/look';
import Box from '@mui/material/Box';
import type { KernelProfile } from '../../../core/stations/veil/kernel-profile';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { Facts } from '../../common';
import { askBench, usePlates } from '../../session';
import { Chart, useLatest } from '../../controls';

/** Greys and hues that stand apart from each other and from the amber of the whole. */
const HUES = ['#8fb0d9', '#8fc2a4', '#d98a7d', '#b9a3d6', '#c9c48a', '#8fc4c9', '#d6a3bd', '#a8a8a8'];
/** Distances, as shares of the height, at which the share outside is told. */
const TOLD = [0.01, 0.05, 0.2];

/** How the veil falls off with the distance from a light, all of it and each part, and where its light goes. */
export function KernelView() {
  const look = useShot((state) => state.look);
  const activePlate = useShot((state) => state.activePlate);
  const id = usePlates((state) => (activePlate ? state.cards[activePlate]?.id : undefined));
  const account = useDesk((state) => state.accounts.veil);
  const key = id && JSON.stringify([id, look.veil, look.pupil, look.camera]);
  const profile = useLatest(key, () =>
    askBench({ name: 'kernelProfile', look: useShot.getState().look, input: {}, plate: id }),
  );
  if (!profile?.parts.length)
    return (
      <Box sx={{ fontSize: 11, color: 'text.secondary', py: 0.5 }}>
        {id ? 'No part of the veil has an amount yet: give one, and its fall-off is drawn here' : 'No plate'}
      </Box>
    );
  return (
    <Box data-testid="kernel-view">
      <ProfileChart profile={profile} />
      <Facts
        facts={[
          ...TOLD.map((radius): [string, string] => [
            `scattered beyond ${radius * 100} % h`,
            percent(outsideAt(profile, radius)),
          ]),
          ...(account
            ? ([
                ['taken from the sources', `${percent(account.moved)} of all light`],
                ['left the frame', percent(account.lostOutsideFrame)],
                ['light out over light in', account.gain.toFixed(4)],
              ] as [string, string][])
            : []),
        ]}
      />
    </Box>
  );
}

const percent = (share: number): string => `${Number((share * 100).toPrecision(3))} %`;

/** The share outside a distance, between those that were computed. */
export function outsideAt({ radius, outside }: KernelProfile, at: number): number {
  const next = radius.findIndex((r) => r > at);
  if (next === 0) return outside[0]!;
  if (next < 0) return outside.at(-1)!;
  const part = Math.log(at / radius[next - 1]!) / Math.log(radius[next]! / radius[next - 1]!);
  return outside[next - 1]! + part * (outside[next]! - outside[next - 1]!);
}

function ProfileChart({ profile }: { profile: KernelProfile }) {
  const { radius, whole, parts } = profile;
  const x = radius.map((r) => r * 100);
  // The inverse square through the whole's value a tenth of the way out.
  const anchor = Math.max(
    0,
    radius.findIndex((r) => r > 0.02),
  );
  const square = radius.map((r) => whole[anchor]! * (radius[anchor]! / r) ** 2);
  const line = (
    name: string,
    y: number[],
    colour: string,
    more: { width?: number; dash?: 'dot' } = {},
  ): Partial<Plotly.Data> => ({
    x,
    y: y.map((value) => (value > 1e-12 ? value : null)),
    name,
    type: 'scatter',
    mode: 'lines',
    line: { color: colour, width: 1, ...more },
    hovertemplate: `${name}: %{y:.2e} at %{x:.2f} %<extra></extra>`,
  });
  return (
    <Chart
      data={[
        line('inverse square', square, '#6a6a6a', { dash: 'dot' }),
        ...parts.map(({ name, density }, k) => line(partLabel(name), density, HUES[k % HUES.length]!)),
        line('whole', whole, '#e8a33d', { width: 1.6 }),
      ]}
      layout={{
        width: 296,
        height: 236,
        margin: { l: 40, r: 4, t: 4, b: 62 },
        showlegend: true,
        legend: { orientation: 'h', x: -0.12, y: -0.2, font: { size: 10 } },
        paper_bgcolor: '#1f1f1f',
        plot_bgcolor: '#161616',
        font: { family: 'var(--figures)', size: 10, color: '#9a9a9a' },
        xaxis: {
          type: 'log',
          gridcolor: '#2a2a2a',
          dtick: 1,
          ticksuffix: ' % h',
          zeroline: false,
          fixedrange: true,
        },
        yaxis: {
          type: 'log',
          gridcolor: '#2a2a2a',
          exponentformat: 'power',
          nticks: 5,
          zeroline: false,
          fixedrange: true,
        },
      }}
      config={{ displayModeBar: false, responsive: false }}
    />
  );
}

/** `veil.stack[0]` is layer 1. */
function partLabel(name: string): string {
  return settingAt(`${name}.amount`).group.toLowerCase();
}
