'use client';
import Box from '@mui/material/Box';
import type { Rectangle } from '../../core/image/rectangle';
import { useDesk } from '../../state/desk-store';
import { DragSurface, type PictureOnScreen, type Share } from './DragSurface';
import { useBesideReference } from './compared';

interface PatchToolProps extends PictureOnScreen {
  side: 'shown' | 'compared';
}

const patchOf = (a: Share, b: Share): Rectangle => ({
  x: Math.min(a[0], b[0]),
  y: Math.min(a[1], b[1]),
  width: Math.abs(a[0] - b[0]),
  height: Math.abs(a[1] - b[1]),
});

/** A patch that is drawn on a picture, as shares of it, while patches are wanted: on a picture and a reference beside it. */
export function PatchTool({ side, picture, layout }: PatchToolProps) {
  const isBeside = useBesideReference();
  const patches = useDesk((state) => state.patches);
  const set = useDesk((state) => state.set);
  if (!patches || !isBeside) return null;
  const [width, height] = [picture.width * layout.zoom, picture.height * layout.zoom];
  return (
    <DragSurface
      testId={`patch-${side}`}
      picture={picture}
      layout={layout}
      shapeOf={patchOf}
      onDrawn={(patch) => set({ patches: { ...patches, [side]: patch } })}
      onEnd={() => set({ patches: null })}
    >
      {(drawn) => {
        const shown = drawn ?? patches[side];
        return (
          shown && (
            <Box
              sx={{
                position: 'absolute',
                left: layout.left + shown.x * width,
                top: layout.top + shown.y * height,
                width: Math.max(2, shown.width * width),
                height: Math.max(2, shown.height * height),
                outline: '1px solid',
                outlineColor: 'primary.main',
                pointerEvents: 'none',
              }}
            />
          )
        );
      }}
    </DragSurface>
  );
}
