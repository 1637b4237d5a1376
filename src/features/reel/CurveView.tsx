'use client';
import Box from '@mui/material/Box';
import { useMemo, useRef } from 'react';
import { valueText } from '../../core/look/strip';
import { withoutKeys } from '../../core/look/track-edits';
import { rangeOfReel } from '../../core/shot/reel';
import { useShot } from '../../state/shot-store';
import { useFrameSize } from '../common';
import { curvePoints, drawnTracks, handlesOf, type DrawnTrack } from './curve-layout';
import { isChosen, presentChoice, useCurves } from './curve-state';
import { CurveTools } from './CurveTools';
import type { FrameScale } from './frame-scale';
import { nameOfTrack } from './KeyStrip';
import { copyChosen, nudgeChosen, pasteKeys, useCurveDrag } from './use-curve-drag';

const HEIGHT = 150;
const EMPTY_HEIGHT = 48;
/** Lines of tracks: the accent first, then hues and greys apart from it. */
const COLOURS = ['#e8a33d', '#8fb0d9', '#57b894', '#c79bd0', '#d6d6d6', '#9a9a9a'];

/** What changes over time, as curves over the frames of the reel: keys and handles are dragged, chosen with a box, copied, typed. */
export function CurveView() {
  const surface = useRef<SVGSVGElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const { width } = useFrameSize(frame);
  const tracks = useShot((state) => state.tracks);
  const reel = useShot((state) => state.reel);
  const plate = useShot((state) => state.plates.find(({ id }) => id === state.activePlate));
  const setTracks = useShot((state) => state.setTracks);
  const { hidden, choice: wanted, set } = useCurves();
  const choice = presentChoice(wanted, tracks);
  const range = rangeOfReel(reel, plate);
  const { first, last } = range;
  const { drawn, scale } = useMemo(() => {
    const shown = Object.fromEntries(Object.entries(tracks).filter(([path]) => !hidden.includes(path)));
    return drawnTracks(shown, { range: { first, last }, width: Math.max(1, width), height: HEIGHT });
  }, [tracks, hidden, first, last, width]);
  const drag = useCurveDrag({ surface, drawn, scale });
  const paths = Object.keys(tracks);
  const height = paths.length > 0 ? HEIGHT : EMPTY_HEIGHT;
  return (
    <Box sx={{ borderBottom: '1px solid', borderColor: 'divider', px: 1.5, pb: 0.5 }}>
      {paths.length > 0 && (
        <CurveTools paths={paths} colourOf={(path) => COLOURS[paths.indexOf(path) % COLOURS.length]!} />
      )}
      <Box ref={frame}>
        <svg
          ref={surface}
          width="100%"
          height={height}
          role="group"
          aria-label="Curves over time: arrows move what is chosen, Delete takes it out"
          tabIndex={0}
          style={{ display: 'block', background: '#161616', touchAction: 'none' }}
          {...drag.surface}
          onKeyDown={(event) => {
            const mod = event.ctrlKey || event.metaKey;
            const far = event.shiftKey ? 10 : 1;
            const acts: Record<string, () => void> = {
              ArrowLeft: () => nudgeChosen(-far, 0),
              ArrowRight: () => nudgeChosen(far, 0),
              ArrowUp: () => nudgeChosen(0, far),
              ArrowDown: () => nudgeChosen(0, -far),
              Delete: () => setTracks(withoutKeys(tracks, choice)),
              Backspace: () => setTracks(withoutKeys(tracks, choice)),
              ...(mod && {
                a: () =>
                  set({
                    choice: Object.fromEntries(
                      drawn.map(({ path, track }) => [path, track.keys.map((key) => key.frame)]),
                    ),
                  }),
                c: copyChosen,
                v: pasteKeys,
              }),
            };
            const act = acts[event.key];
            if (!act) return;
            act();
            event.preventDefault();
            event.stopPropagation();
          }}
        >
          <rect
            x={scale.toX(reel.playhead)}
            width={Math.max(1, scale.step)}
            height={HEIGHT}
            fill="#e8a33d"
            opacity={0.12}
          />
          {drawn.map((one) => (
            <TrackLine
              key={one.path}
              drawn={one}
              scale={scale}
              width={width}
              colour={COLOURS[paths.indexOf(one.path) % COLOURS.length]!}
              isChosen={(at) => isChosen(choice, one.path, at)}
              drag={drag}
            />
          ))}
          {drag.box && (
            <rect {...drag.box} fill="#d6d6d6" fillOpacity={0.08} stroke="#9a9a9a" strokeDasharray="3 3" />
          )}
          {paths.length === 0 && (
            <text x={12} y={height / 2 + 4} fill="#9a9a9a" fontSize={12}>
              Nothing changes over time yet. The mark beside the name of a setting sets its first key.
            </text>
          )}
        </svg>
      </Box>
    </Box>
  );
}

interface TrackLineProps {
  drawn: DrawnTrack;
  scale: FrameScale;
  width: number;
  colour: string;
  isChosen: (frame: number) => boolean;
  drag: ReturnType<typeof useCurveDrag>;
}

/** One track: its curve, or its lane with what holds from each key on; its keys and their handles. */
function TrackLine({ drawn, scale, width, colour, isChosen: chosen, drag }: TrackLineProps) {
  const { path, track, isCurve, toY } = drawn;
  const name = nameOfTrack(path);
  return (
    <g>
      {isCurve ? (
        <polyline
          points={curvePoints(drawn, scale, width)}
          fill="none"
          stroke={colour}
          strokeWidth={1.25}
          onDoubleClick={(event) => drag.addKey(event, drawn)}
        />
      ) : (
        <line
          x1={0}
          x2={width}
          y1={toY(0)}
          y2={toY(0)}
          stroke={colour}
          strokeDasharray="2 4"
          onDoubleClick={(event) => drag.addKey(event, drawn)}
        />
      )}
      {track.keys.map((key, index) => {
        const [x, y] = [scale.middle(key.frame), toY(key.value as number)];
        return (
          <g key={index}>
            {chosen(key.frame) &&
              handlesOf(drawn, key, scale).map((handle, side) => (
                <g key={side}>
                  <line x1={handle.fromX} y1={handle.fromY} x2={handle.x} y2={handle.y} stroke="#6b6b6b" />
                  <circle
                    cx={handle.x}
                    cy={handle.y}
                    r={4}
                    fill="#161616"
                    stroke={colour}
                    aria-label={`${name}, handle ${side + 1} of the way to frame ${key.frame}`}
                    style={{ cursor: 'grab' }}
                    onPointerDown={(event) => drag.holdHandle(event, drawn, key, side as 0 | 1)}
                  />
                </g>
              ))}
            <rect
              x={x - 3.5}
              y={y - 5}
              width={7}
              height={10}
              rx={2}
              fill={chosen(key.frame) ? colour : '#161616'}
              stroke={colour}
              strokeWidth={1.5}
              role="button"
              aria-label={`${name}, key at frame ${key.frame}: ${valueText({ path }, key.value)}`}
              aria-pressed={chosen(key.frame)}
              style={{ cursor: 'grab' }}
              onPointerDown={(event) => drag.holdKey(event, drawn, key)}
            />
            {!isCurve && (
              <text x={x + 8} y={y + 4} fill="#9a9a9a" fontSize={10} pointerEvents="none">
                {valueText({ path }, key.value)}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}
