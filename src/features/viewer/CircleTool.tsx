'use client';
import Box from '@mui/material/Box';
import type { Circle } from '../../core/measure/queries';
import { useDesk } from '../../state/desk-store';
import { useBesideReference } from './compared';
import { DragSurface, type PictureOnScreen, type Share } from './DragSurface';

interface CircleToolProps extends PictureOnScreen {
  side: 'shown' | 'compared';
}

/** What is less than this, in screen pixels, was a click: the circle keeps its size. */
const CLICK = 4;
/** Of the height, for a first click. */
const FIRST_RADIUS = 0.25;

/** A circle that is drawn round a lamp, from its middle, while lamps are measured: on a picture and a reference beside it. */
export function CircleTool({ side, picture, layout }: CircleToolProps) {
  const isBeside = useBesideReference();
  const circles = useDesk((state) => state.circles);
  const set = useDesk((state) => state.set);
  if (!circles || !isBeside) return null;
  const [width, height] = [picture.width * layout.zoom, picture.height * layout.zoom];
  const kept = circles[side]?.radius ?? circles.shown?.radius ?? circles.compared?.radius ?? FIRST_RADIUS;
  const circleOf = (from: Share, to: Share): Circle => {
    const away = Math.hypot((to[0] - from[0]) * width, (to[1] - from[1]) * height);
    return { x: from[0], y: from[1], radius: away < CLICK ? kept : away / height };
  };
  return (
    <DragSurface
      testId={`circle-${side}`}
      picture={picture}
      layout={layout}
      shapeOf={circleOf}
      onDrawn={(circle) => set({ circles: { ...circles, [side]: circle } })}
      onEnd={() => set({ circles: null })}
    >
      {(drawn) => {
        const circle = drawn ?? circles[side];
        if (!circle) return null;
        const radius = circle.radius * height;
        const [x, y] = [layout.left + circle.x * width, layout.top + circle.y * height];
        return (
          <>
            <Box
              sx={{
                position: 'absolute',
                left: x - radius,
                top: y - radius,
                width: 2 * radius,
                height: 2 * radius,
                borderRadius: '50%',
                outline: '1px solid',
                outlineColor: 'primary.main',
                pointerEvents: 'none',
              }}
            />
            <Box
              sx={{
                position: 'absolute',
                left: x - 1,
                top: y - 1,
                width: 3,
                height: 3,
                bgcolor: 'primary.main',
                pointerEvents: 'none',
              }}
            />
          </>
        );
      }}
    </DragSurface>
  );
}
