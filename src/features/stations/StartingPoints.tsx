'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Tooltip from '@mui/material/Tooltip';
import { useEffect, useState } from 'react';
import type { Look } from '../../core/look/look';
import type { StartingPoint } from '../../core/look/starting-point';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { BitmapPicture } from '../common';
import { benchLook, reportError, usePlates } from '../session';

/** Pixels across of a thumbnail. */
const WIDTH = 214;

interface StartingPointsProps {
  points: readonly StartingPoint[];
  apply: (look: Look, point: StartingPoint) => Look;
  /** What of the look a starting point leaves as it is, as text: the pictures are made anew when it changes. */
  keeps: () => string;
}

/** Looks of a station to begin from, each shown on the present plate; a click takes one, as one step that can be undone. */
export function StartingPoints(props: StartingPointsProps) {
  const { points, apply } = props;
  const pictures = useTrials(props);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75, pb: 0.5 }}>
      {points.map((point) => (
        <Tooltip key={point.id} title={point.says}>
          <ButtonBase
            aria-label={`Start from ${point.name}`}
            onClick={() => {
              const { look, setLook } = useShot.getState();
              setLook(apply(look, point));
            }}
            sx={{
              display: 'block',
              textAlign: 'left',
              border: '1px solid',
              borderColor: 'divider',
              borderRadius: 0.5,
              overflow: 'hidden',
              '&:hover': { borderColor: 'text.secondary' },
            }}
          >
            <Box sx={{ aspectRatio: '16 / 9', bgcolor: 'canvas.main' }}>
              {pictures[point.id] && <BitmapPicture bitmap={pictures[point.id]!} label="" fill />}
            </Box>
            <Box sx={{ fontSize: 11, lineHeight: '14px', px: 0.5, py: 0.25, minHeight: 32 }}>
              {point.name}
            </Box>
          </ButtonBase>
        </Tooltip>
      ))}
    </Box>
  );
}

/** Each starting point on the present plate, made one after the other whenever the picture rests. */
function useTrials({ points, apply, keeps }: StartingPointsProps): Readonly<Record<string, ImageBitmap>> {
  const [pictures, setPictures] = useState<Readonly<Record<string, ImageBitmap>>>({});
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const kept = useShot(() => keeps());
  const ready = useDesk((state) => state.phase === 'final');
  const id = card?.id;
  const width = card?.width;
  useEffect(() => {
    if (!ready || !id || !width) return;
    let alive = true;
    const make = async (): Promise<void> => {
      for (const point of points) {
        if (!alive) return;
        const { look } = useShot.getState();
        const { bitmap } = unwrap(
          await benchEngine().show({
            lane: 'trial',
            plate: id,
            look: apply(benchLook(look), point),
            scale: Math.min(1, WIDTH / width),
            subject: { kind: 'final' },
            viewExposure: useDesk.getState().viewExposure,
          }),
        );
        if (alive) setPictures((made) => ({ ...made, [point.id]: bitmap }));
      }
    };
    make().catch((error: unknown) => {
      if (alive) reportError(error);
    });
    return () => {
      alive = false;
    };
  }, [ready, id, width, kept, points, apply]);
  return pictures;
}
