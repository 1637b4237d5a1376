'use client';
import Box from '@mui/material/Box';
import { useRef } from 'react';
import { settingAt } from '../../core/look/look';
import { withMovedKeys, type KeyChoice } from '../../core/look/track-edits';
import type { Tracks } from '../../core/look/tracks';
import type { FrameRange } from '../../core/shot/reel';
import { beginGesture, endGesture, useShot } from '../../state/shot-store';
import { goTo } from '../session';
import { frameScale } from './frame-scale';

const HEIGHT = 12;
/** Pixels that a hand moves before it drags. */
const LEAST = 3;

/** The keys at each frame, whatever they are of. */
function keysByFrame(tracks: Tracks): Map<number, string[]> {
  const found = new Map<number, string[]>();
  for (const [path, { keys }] of Object.entries(tracks))
    for (const { frame } of keys) found.set(frame, [...(found.get(frame) ?? []), path]);
  return found;
}

/** All keys under the reel, those of one frame together: a click goes there, a drag moves them. */
export function KeyStrip({ range, width }: { range: FrameRange; width: number }) {
  const tracks = useShot((state) => state.tracks);
  const playhead = useShot((state) => state.reel.playhead);
  const scale = frameScale(range, width);
  const found = [...keysByFrame(tracks)].filter(([frame]) => frame >= range.first && frame <= range.last);
  const drag = useKeyDrag((x) => scale.toFrame(x));
  if (found.length === 0) return null;
  return (
    <Box
      sx={{ position: 'relative', height: HEIGHT, touchAction: 'none' }}
      role="group"
      aria-label="Keys by frame"
      {...drag.line}
    >
      {found.map(([frame, paths]) => (
        <Box
          key={frame}
          component="button"
          type="button"
          aria-label={`Keys at frame ${frame}: ${paths.map(nameOfTrack).join(', ')}`}
          title={`${frame}: ${paths.map(nameOfTrack).join(', ')}`}
          onPointerDown={(event: React.PointerEvent<HTMLElement>) => drag.begin(event, frame, paths)}
          onClick={({ detail }: React.MouseEvent) => {
            // By the keyboard; what a hand does ends on the line.
            if (detail === 0) void goTo(frame);
          }}
          sx={{
            position: 'absolute',
            left: scale.toX(frame) + scale.step / 2 - 4,
            top: 2,
            width: 8,
            height: 9,
            p: 0,
            borderRadius: '2px',
            border: '1px solid',
            borderColor: 'primary.main',
            bgcolor: frame === playhead ? 'primary.main' : 'background.default',
            cursor: 'ew-resize',
            touchAction: 'none',
          }}
        />
      ))}
    </Box>
  );
}

/** What people call a setting that changes over time. */
export function nameOfTrack(path: string): string {
  const { group, label } = settingAt(path);
  return `${group} ${label}`;
}

/** Moves all keys of a frame to where a hand goes, as one step; a click goes to the frame. */
function useKeyDrag(toFrame: (x: number) => number) {
  const held = useRef<{ x: number; from: number; choice: KeyChoice; tracks: Tracks; moved: boolean } | null>(
    null,
  );
  const end = (): void => {
    const own = held.current;
    held.current = null;
    if (own?.moved) endGesture();
    else if (own) void goTo(own.from);
  };
  return {
    begin(event: React.PointerEvent<HTMLElement>, from: number, paths: readonly string[]): void {
      if (event.button !== 0) return;
      // What is dragged is drawn anew at every frame; the line stays.
      event.currentTarget.parentElement!.setPointerCapture(event.pointerId);
      const choice = Object.fromEntries(paths.map((path) => [path, [from]]));
      held.current = { x: event.clientX, from, choice, tracks: useShot.getState().tracks, moved: false };
    },
    line: {
      onPointerMove(event: React.PointerEvent<HTMLElement>): void {
        const own = held.current;
        if (!own) return;
        if (!own.moved) {
          if (Math.abs(event.clientX - own.x) < LEAST) return;
          own.moved = true;
          beginGesture();
        }
        const frame = toFrame(event.clientX - event.currentTarget.getBoundingClientRect().left);
        const { tracks } = withMovedKeys(own.tracks, own.choice, ({ value }) => ({ frame, value }));
        useShot.getState().setTracks(tracks);
      },
      onPointerUp: end,
      onPointerCancel: end,
    },
  };
}
