'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Tooltip from '@mui/material/Tooltip';
import { endThrough } from '../../../core/light/depth';
import type { DepthHistogram } from '../../../core/light/distances';
import type { DepthSurvey } from '../../../core/stations/focus/queries';
import { type PageResult } from '../../../engine/browser/client';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { Chart, useLatest } from '../../controls';
import { BitmapPicture, TextField } from '../../common';
import { askBench, usePlates } from '../../session';

/** The depth as it is read: its picture, how its distances are spread, what may be wrong with it, and its two ends. */
export function DepthView() {
  const look = useShot((state) => state.look);
  const activePlate = useShot((state) => state.activePlate);
  const id = usePlates((state) => (activePlate ? state.cards[activePlate]?.id : undefined));
  const survey = useDepth(id, JSON.stringify(look.focus.depth));
  return (
    <>
      {look.focus.depth.reading === 'normalised' && <EndPicks />}
      {survey?.picture && (
        <Box data-testid="depth-picture" sx={{ pt: 0.75, height: 174 }}>
          <BitmapPicture bitmap={survey.picture} label="The depth as it is read: near is white" fill />
        </Box>
      )}
      {survey?.histogram && <SpreadChart histogram={survey.histogram} focus={look.camera.focusDistance} />}
      {survey?.warnings.map((warning) => (
        <Box key={warning} data-testid="depth-warning" sx={{ pt: 0.5, fontSize: 11, color: 'error.main' }}>
          {warning}
        </Box>
      ))}
    </>
  );
}

/** What the engine makes of the depth under the present reading. */
function useDepth(id: string | undefined, reading: string): PageResult<DepthSurvey> | undefined {
  return useLatest(id && `${id} ${reading}`, () =>
    askBench({ name: 'depthSurvey', look: useShot.getState().look, input: {}, plate: id }),
  );
}

const LINE = '#e8a33d';

/** Shares of the picture over distance; a line marks the focus. */
function SpreadChart({ histogram, focus }: { histogram: DepthHistogram; focus: number }) {
  const used = histogram.share
    .map((share, k) => (share > 0 ? histogram.place[k]! : NaN))
    .filter(Number.isFinite);
  const place = Math.log10(focus);
  const range = [Math.min(place, ...used) - 0.15, Math.max(place, ...used) + 0.15];
  const decades = [-1, 0, 1, 2, 3, 4];
  return (
    <Chart
      data={[
        {
          x: histogram.place,
          y: histogram.share.map((share) => share * 100),
          type: 'bar',
          marker: { color: '#5f6b78' },
          hovertemplate: '%{y:.1f} %<extra></extra>',
        },
      ]}
      layout={{
        width: 296,
        height: 84,
        margin: { l: 30, r: 4, t: 6, b: 20 },
        bargap: 0.1,
        paper_bgcolor: '#1f1f1f',
        plot_bgcolor: '#161616',
        font: { family: 'var(--figures)', size: 10, color: '#9a9a9a' },
        xaxis: {
          range,
          tickvals: decades,
          ticktext: decades.map((decade) => `${10 ** decade} m`),
          gridcolor: '#2a2a2a',
          zeroline: false,
          fixedrange: true,
        },
        yaxis: { gridcolor: '#2a2a2a', nticks: 3, ticksuffix: ' %', zeroline: false, fixedrange: true },
        shapes: [
          {
            type: 'line',
            x0: place,
            x1: place,
            yref: 'paper',
            y0: 0,
            y1: 1,
            line: { color: LINE, width: 1 },
          },
        ],
      }}
      config={{ displayModeBar: false }}
    />
  );
}

/** Sets near or far by a place of the picture whose distance is known. */
function EndPicks() {
  const picking = useDesk((state) => state.picking);
  const pick = useDesk((state) => state.depthPick);
  const set = useDesk((state) => state.set);
  return (
    <>
      <Box sx={{ display: 'flex', gap: 0.5, pt: 0.5 }}>
        {(['near', 'far'] as const).map((end) => (
          <Tooltip
            key={end}
            title={`Click a place whose distance you know; ${end} is moved so that it lies there`}
          >
            <Button
              size="small"
              variant="outlined"
              sx={{ flex: 1 }}
              color={picking === end ? 'primary' : 'inherit'}
              aria-pressed={picking === end}
              onClick={() => set({ picking: picking === end ? null : end, depthPick: null })}
            >
              Pick {end}
            </Button>
          </Tooltip>
        ))}
      </Box>
      {pick && <KnownDistance pick={pick} />}
    </>
  );
}

type Pick = NonNullable<ReturnType<typeof useDesk.getState>['depthPick']>;

/** Asks how far the place lies that was clicked. */
function KnownDistance({ pick }: { pick: Pick }) {
  const set = useDesk((state) => state.set);
  const { near, far } = useShot((state) => state.look.focus.depth);
  const ends = { near, far };
  const moved = (text: string): number | undefined => endThrough(pick.end, pick.share, Number(text), ends);
  const stuck = pick.share === (pick.end === 'near' ? 1 : 0);
  return (
    <Box data-testid="known-distance" sx={{ pt: 0.5, fontSize: 11 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, whiteSpace: 'nowrap' }}>
        <span>
          Place {pick.x}, {pick.y} lies at
        </span>
        <TextField
          label="Known distance"
          value={pick.distance.toPrecision(4)}
          problem={(text) =>
            Number(text) > 0 && moved(text) !== undefined
              ? undefined
              : 'no end of the depth gives this distance'
          }
          onTake={(text) => {
            useShot.getState().change(`focus.depth.${pick.end}`, Number(moved(text)!.toPrecision(5)));
            set({ depthPick: null });
          }}
        />
        <span>m</span>
      </Box>
      {stuck && (
        <Box sx={{ color: 'error.main' }}>
          This place is the {pick.end === 'near' ? 'far' : 'near'} end itself: pick one that is nearer to the{' '}
          {pick.end} end
        </Box>
      )}
    </Box>
  );
}
