'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Tooltip from '@mui/material/Tooltip';
import { useEffect, useRef, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { isSwitched, STATION_IDS, STATION_LABELS, type StationId } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { SwitchDot } from '../common';
import { RealityCheck } from '../reality';
import { askBench, reportError, usePlates } from '../session';
import { AXIS, STATION_VIEWS } from '../stations';
import { WeighTable } from '../weigh';
import { BENCH_HEIGHT, colourSpread, fannedRays, rayPaths, scatteredRays, stationX } from './drawing';

/** Pixels at the right end that the reality check takes, and the point that shows the final before it. */
const [ROOM_FOR_CHECK, ROOM_FOR_FINAL] = [44, 64];
/** Widest tag of a station, pixels. */
const TAG_WIDTH = 128;

/** The optical axis with its stations: shows what light passes, selects, bypasses, and looks at the light in between. */
export function Bench() {
  const strip = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1280);
  useEffect(() => {
    const element = strip.current!;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  // No more than what is drawn: a drag changes the look many times a second.
  const heights = useShot(useShallow((state) => STATION_VIEWS.map((view) => view.rayHeight(state.look))));
  const veilOn = useShot((state) => state.look.veil.on);
  const moved = useDesk((state) => state.accounts.veil?.moved ?? 0);
  const selected = useDesk((state) => state.station);
  const last = STATION_IDS.at(-1)!;
  const room = width - ROOM_FOR_CHECK;
  const x = (id: StationId): number => stationX(STATION_IDS.indexOf(id), STATION_IDS.length, room);
  const spread = useShot((state) => colourSpread(state.look));
  return (
    <Box
      ref={strip}
      component="nav"
      aria-label="Bench"
      sx={{
        height: BENCH_HEIGHT,
        flex: 'none',
        position: 'relative',
        bgcolor: 'background.default',
        borderBottom: '1px solid',
        borderColor: 'divider',
        '--panel': '#1f1f1f',
        '--amber': '#e8a33d',
      }}
    >
      <svg width={width} height={BENCH_HEIGHT} aria-hidden="true" style={{ position: 'absolute', inset: 0 }}>
        <defs>
          <linearGradient id="scattered" gradientUnits="userSpaceOnUse" x1={x('veil')} x2={x(last)}>
            <stop offset="0" stopColor="#e8a33d" stopOpacity={0.55} />
            <stop offset="0.55" stopColor="#e8a33d" stopOpacity={0} />
          </linearGradient>
        </defs>
        <line x1={0} x2={width} y1={AXIS} y2={AXIS} stroke="#383838" strokeDasharray="1 4" />
        {rayPaths(heights, room).map((path) => (
          <path key={path} d={path} fill="none" stroke="var(--amber)" opacity={0.42} strokeWidth={0.8} />
        ))}
        {veilOn &&
          scatteredRays(x('veil'), x(last), moved, heights[STATION_IDS.indexOf('veil')]!).map((path) => (
            <path key={path} d={path} fill="none" stroke="url(#scattered)" strokeWidth={0.7} />
          ))}
        {fannedRays(x('glass'), x('film'), spread, heights[STATION_IDS.indexOf('glass')]!).map(
          ({ path, colour }) => (
            <path key={colour} d={path} fill="none" stroke={colour} strokeWidth={0.9} opacity={0.8} />
          ),
        )}
        {STATION_VIEWS.map(({ id, Glyph }) => (
          <g key={id} transform={`translate(${x(id)} 0)`} color={id === selected ? '#e8a33d' : '#a8a8a8'}>
            <Glyph />
          </g>
        ))}
      </svg>
      {STATION_IDS.map((id) => (
        <StationTag key={id} id={id} x={x(id)} width={Math.min(TAG_WIDTH, room / STATION_IDS.length)} />
      ))}
      {STATION_IDS.map((id, index) => (
        <AxisPoint
          key={id}
          behind={id}
          x={
            index < STATION_IDS.length - 1
              ? (x(id) + x(STATION_IDS[index + 1]!)) / 2
              : Math.min((x(id) + width) / 2, width - ROOM_FOR_FINAL)
          }
        />
      ))}
      <FeedShift x={x('veil')} />
      <RealityCheck />
      <WeighTable />
    </Box>
  );
}

/** A station's name, figure and switch; clicking it opens its panel. */
function StationTag({ id, x, width }: { id: StationId; x: number; width: number }) {
  const selected = useDesk((state) => state.station === id);
  const set = useDesk((state) => state.set);
  const on = useShot((state) => (isSwitched(id) ? state.look[id].on : true));
  const change = useShot((state) => state.change);
  const figure = useFigure(id);
  const label = STATION_LABELS[id];
  return (
    <Box sx={{ position: 'absolute', left: x - width / 2, top: 2, width, height: BENCH_HEIGHT - 4 }}>
      <ButtonBase
        aria-pressed={selected}
        aria-label={`${label}, ${figure}`}
        onClick={() => set({ station: id })}
        sx={{
          position: 'absolute',
          inset: 0,
          borderRadius: 0.5,
          border: '1px solid',
          borderColor: selected ? 'primary.main' : 'transparent',
          bgcolor: selected ? 'rgba(232, 163, 61, 0.07)' : 'transparent',
          '&:hover': { borderColor: selected ? 'primary.main' : 'divider' },
          display: 'block',
          textAlign: 'center',
          pt: '57px',
          opacity: on ? 1 : 0.55,
        }}
      >
        <Box
          sx={{
            fontSize: 13,
            lineHeight: '16px',
            fontWeight: selected ? 600 : 400,
            color: selected ? 'primary.main' : 'text.primary',
          }}
        >
          {label}
        </Box>
        <Box sx={{ fontFamily: 'var(--figures)', fontSize: 11, lineHeight: '14px', color: 'text.secondary' }}>
          {figure}
        </Box>
      </ButtonBase>
      {isSwitched(id) && (
        <Tooltip title={on ? `Switch ${label} off` : `Switch ${label} on`}>
          <ButtonBase
            role="switch"
            aria-checked={on}
            aria-label={`${label} on`}
            onClick={() => change(`${id}.on`, !on)}
            sx={{ position: 'absolute', right: 11, top: 52, width: 28, height: 28, borderRadius: '50%' }}
          >
            <SwitchDot on={on} />
          </ButtonBase>
        </Tooltip>
      )}
    </Box>
  );
}

/** A point on the axis behind a station: shows the light as it is there. */
function AxisPoint({ behind, x }: { behind: StationId; x: number }) {
  const subject = useDesk((state) => state.subject);
  const set = useDesk((state) => state.set);
  const last = behind === STATION_IDS.at(-1);
  const active = last ? subject.kind === 'final' : subject.kind === 'behind' && subject.station === behind;
  const label = last ? 'Look at the final' : `Look at the light behind ${STATION_LABELS[behind]}`;
  return (
    <Tooltip title={label}>
      <ButtonBase
        aria-label={label}
        aria-pressed={active}
        onClick={() =>
          set({ subject: last || active ? { kind: 'final' } : { kind: 'behind', station: behind } })
        }
        sx={{
          position: 'absolute',
          left: x - 12,
          top: AXIS - 12,
          width: 24,
          height: 24,
          borderRadius: '50%',
        }}
      >
        <Box
          sx={{
            width: 7,
            height: 7,
            borderRadius: '50%',
            border: '1px solid',
            borderColor: active ? 'primary.main' : 'text.secondary',
            bgcolor: active ? 'primary.main' : 'background.default',
          }}
        />
      </ButtonBase>
    </Tooltip>
  );
}

/** Makes as much of the light feed the veil as before something else changed it. */
async function bringFeedBack(share: number): Promise<void> {
  const { look, activePlate, change } = useShot.getState();
  const plate = activePlate ? usePlates.getState().cards[activePlate]?.id : undefined;
  if (!plate) return;
  try {
    const input = { share, of: 'light' } as const;
    change('veil.feed.threshold', await askBench({ name: 'feedThreshold', look, input, plate }));
    useDesk.getState().set({ feedShift: null });
  } catch (error) {
    reportError(error);
  }
}

/** Says quietly that something before the veil changed what feeds it; it is brought back, or taken note of. */
function FeedShift({ x }: { x: number }) {
  const shift = useDesk((state) => state.feedShift);
  const set = useDesk((state) => state.set);
  if (!shift) return null;
  const percent = (value: number): string => (value * 100).toFixed(value >= 0.1 ? 0 : value >= 0.01 ? 1 : 2);
  return (
    <Box
      role="status"
      data-testid="feed-shift"
      sx={{
        position: 'absolute',
        left: x + 72,
        top: 56,
        height: 24,
        display: 'flex',
        alignItems: 'center',
        borderRadius: 0.5,
        bgcolor: 'background.paper',
        color: 'primary.main',
        fontFamily: 'var(--figures)',
        fontSize: 11,
      }}
    >
      <Tooltip
        describeChild
        title="A change at the plate altered how much light feeds the veil. Click to make as much feed as before, by the threshold"
      >
        <ButtonBase
          aria-label="Bring the fed light back"
          onClick={() => void bringFeedBack(shift.before)}
          sx={{ px: 0.75, height: 24 }}
        >
          fed light {percent(shift.before)} → {percent(shift.after)} %, bring back
        </ButtonBase>
      </Tooltip>
      <ButtonBase
        aria-label="Leave the fed light as it is"
        onClick={() => set({ feedShift: null })}
        sx={{ width: 24, height: 24 }}
      >
        <Close sx={{ fontSize: 13 }} />
      </ButtonBase>
    </Box>
  );
}

/** The one most telling figure of a station. */
function useFigure(id: StationId): string {
  const activePlate = useShot((state) => state.activePlate);
  const passes = usePlates((state) => (activePlate ? state.cards[activePlate]?.passes.length : undefined));
  const elements = useShot(
    ({ plates }) => plates.find((plate) => plate.id === activePlate)?.elements.length ?? 0,
  );
  const moved = useDesk((state) => state.accounts[id]?.moved ?? 0);
  return useShot(({ look }) => {
    if (isSwitched(id) && !look[id].on) return 'off';
    return STATION_VIEWS.find((view) => view.id === id)!.figure({ look, passes, elements, moved });
  });
}
