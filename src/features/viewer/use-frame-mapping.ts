import { useMemo } from 'react';
import { placesIn } from '../../engine/seen-through-lens';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import type { PlateCard } from '../session';
import { frameMapping, type Layout } from '../common';

/** The way between places of a plate's frame and pixels of the viewer, in what is looked at. */
export function useFrameMapping(
  layout: Layout,
  { frame }: PlateCard,
  reach?: readonly [number, number],
): ReturnType<typeof frameMapping> {
  const look = useShot((state) => state.look);
  const subject = useDesk((state) => state.subject);
  return useMemo(
    () => frameMapping(layout, frame, reach, placesIn(subject, look, frame)),
    [layout, frame, reach, subject, look],
  );
}
