import { useEffect, useRef, useState } from 'react';
import type { Rectangle } from '../../core/image/rectangle';
import { partsApart, type StripAxis, type Trial } from '../../core/look/strip';
import { benchEngine, EngineError, unwrap } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { hasWideScreen } from '../common';
import { benchLook, reportError, type PlateCard } from '../session';

/** A trial's picture: of the whole, or of a region of the full size. */
export interface StripPicture {
  bitmap: ImageBitmap;
  region: Rectangle | undefined;
}

/** What the pictures of a strip are made of, and how fine. */
export interface StripRequest {
  card: PlateCard;
  axes: readonly StripAxis[];
  trials: readonly Trial[];
  /** Of the whole, or all of a region at full size. */
  scale: number;
  region: Rectangle | undefined;
}

export interface StripState {
  pictures: readonly (StripPicture | undefined)[];
  /** 0 to 1; 1 when every picture is as fine as it gets. */
  progress: number;
  stopped: boolean;
  stop: () => void;
}

const isCancelled = (error: unknown): boolean =>
  error instanceof EngineError && error.failure.kind === 'cancelled';

/** Renders every trial, first as a draft, then as fine as it is shown, for as long as the strip is looked at. */
export function useStrip({ card, axes, trials, scale, region }: StripRequest): StripState {
  const [made, setMade] = useState<Readonly<Record<string, StripPicture>>>({});
  const [done, setDone] = useState({ of: '', share: 0 });
  const [stoppedAt, setStoppedAt] = useState<string | null>(null);
  /** The same at once: the loop may stand between two requests. */
  const stopped = useRef<string | null>(null);
  const viewExposure = useDesk((state) => state.viewExposure);
  const falseColour = useDesk((state) => state.falseColour);
  const starts = useDesk((state) => state.engineStarts);
  const keys = trials.map(({ look }) => JSON.stringify([card.id, look]));
  const of = JSON.stringify([keys, card.revision, scale, region, viewExposure, falseColour, starts]);
  useEffect(() => {
    let alive = true;
    const passes = region || scale <= 0.125 ? [false] : [true, false];
    const make = async (): Promise<void> => {
      for (const [pass, draft] of passes.entries())
        for (const [k, { look }] of trials.entries()) {
          if (!alive || stopped.current === of) return;
          const { bitmap } = unwrap(
            await benchEngine().show({
              lane: 'strip',
              plate: card.id,
              look: benchLook(look),
              scale: draft ? scale / 2 : scale,
              subject: { kind: 'final' },
              ...(region && { region }),
              draft,
              viewExposure,
              falseColour,
              displayP3: hasWideScreen(),
              apart: partsApart(axes),
            }),
          );
          if (!alive) return bitmap.close();
          setMade((before) => ({
            ...Object.fromEntries(Object.entries(before).filter(([key]) => keys.includes(key))),
            [keys[k]!]: { bitmap, region },
          }));
          setDone({ of, share: (pass * trials.length + k + 1) / (passes.length * trials.length) });
        }
    };
    make().catch((error: unknown) => {
      if (alive && !isCancelled(error)) reportError(error);
    });
    return () => {
      alive = false;
      void benchEngine().cancel('strip');
    };
    // What is computed is named by `of` whole.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [of]);
  return {
    pictures: keys.map((key) => made[key]),
    progress: done.of === of ? done.share : 0,
    stopped: stoppedAt === of,
    stop: () => {
      stopped.current = of;
      setStoppedAt(of);
      void benchEngine().cancel('strip');
    },
  };
}
