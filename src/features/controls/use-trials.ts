import { useEffect, useRef, useState } from 'react';
import type { Look } from '../../core/look/look';
import { benchEngine, EngineError, unwrap } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { reportError, usePlates } from '../session';

/** A look that the present plate is shown under, made when it is asked for. */
export interface Trial {
  id: string;
  /** The picture is made anew when this changes. */
  key: string;
  look: () => Look;
  /** Pixels across, if not as many as of the others. */
  across?: number;
}

export type TrialPictures = Readonly<Record<string, ImageBitmap>>;

/** The present plate under each of some looks, about so many pixels across, one after the other whenever the picture rests. */
export function useTrials(
  trials: readonly Trial[],
  { lane, across }: { lane: 'trial' | 'looks'; across: number },
): TrialPictures {
  const [pictures, setPictures] = useState<TrialPictures>({});
  const made = useRef(new Map<string, string>());
  const newest = useRef(trials);
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  const isResting = useDesk((state) => state.phase === 'final');
  const viewExposure = useDesk((state) => state.viewExposure);
  const starts = useDesk((state) => state.engineStarts);
  const id = card?.id;
  const width = card?.width;
  const wanted = JSON.stringify(trials.map((trial) => [trial.id, trial.key]));
  useEffect(() => {
    newest.current = trials;
  });
  useEffect(() => {
    if (!isResting || !id || !width) return;
    let alive = true;
    const make = async (): Promise<void> => {
      for (const trial of newest.current) {
        const key = JSON.stringify([id, viewExposure, starts, trial.key]);
        if (made.current.get(trial.id) === key) continue;
        const { bitmap } = unwrap(
          await benchEngine().show({
            lane,
            plate: id,
            look: trial.look(),
            scale: Math.min(1, (trial.across ?? across) / width),
            subject: { kind: 'final' },
            viewExposure,
          }),
        );
        if (!alive) return bitmap.close();
        made.current.set(trial.id, key);
        setPictures((before) => ({ ...before, [trial.id]: bitmap }));
      }
    };
    make().catch((error: unknown) => {
      const isCancelled = error instanceof EngineError && error.failure.kind === 'cancelled';
      if (alive && !isCancelled) reportError(error);
    });
    return () => {
      alive = false;
    };
  }, [isResting, id, width, wanted, viewExposure, starts, lane, across]);
  return pictures;
}
