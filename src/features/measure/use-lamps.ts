import { useEffect, useState } from 'react';
import { defaultLook, STATION_IDS, type Look } from '../../core/look/look';
import type { Triple } from '../../core/color/primaries';
import { ofLamp } from '../../core/measure/estimates';
import type { MeasuredLamp } from '../../core/measure/queries';
import type { Reference } from '../../core/shot/shot';
import { benchEngine } from '../../engine/browser/client';
import type { ShownLamp } from '../../engine/readings';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { useLatest } from '../controls';
import { askBench, referenceId, usePlates } from '../session';

const BEFORE_VEIL = STATION_IDS.slice(0, STATION_IDS.indexOf('veil'));

/** What of a look makes the light that the veil is fed with, as a text that tells it from others. */
const lightKey = (look: Look): string =>
  JSON.stringify([look.elements, look.camera, BEFORE_VEIL.map((station) => look[station])]);

/** The reference's gains of each channel, as it is shown beside the picture. */
const gainsOf = ({ exposure, white }: Reference): Triple =>
  white.map((gain) => gain * 2 ** exposure) as Triple;

export interface Lamps {
  /** What is measured in the reference; null if its circle holds no light, undefined if it is not known yet. */
  reference: MeasuredLamp | null | undefined;
  /** Whether what is there is of circles that were drawn before. */
  isOutdated: boolean;
  /** The light about the picture's lamp as it is shown, which follows every change. */
  picture: ShownLamp | undefined;
}

/** Measures the lamps in the circles of the picture and of the reference beside it. */
export function useLamps(): Lamps {
  const circles = useDesk((state) => state.circles);
  const against = useDesk((state) => state.against);
  const starts = useDesk((state) => state.engineStarts);
  const isDragging = useDesk((state) => state.dragging);
  const look = useShot((state) => state.look);
  const activePlate = useShot((state) => state.activePlate);
  const reference = useShot(({ references }) =>
    against.kind === 'reference' ? references.find(({ id }) => id === against.id) : undefined,
  );
  const plate = usePlates((state) => (activePlate ? state.cards[activePlate]?.id : undefined));
  const isOpen = usePlates((state) => reference !== undefined && reference.id in state.references);
  const { shown, compared } = circles ?? {};

  const lampKey =
    plate && shown && !isDragging ? JSON.stringify([starts, plate, shown, lightKey(look)]) : undefined;
  const lamp = useLatest(lampKey, async () => ({
    light: await askBench({ name: 'lampLight', look, input: { circle: shown! }, plate: plate! }),
  }));
  const { fStop, sensorWidth } = look.camera;
  const key =
    isOpen && compared
      ? JSON.stringify([starts, reference!.id, gainsOf(reference!), compared, fStop, sensorWidth])
      : undefined;
  const measured = useLatest(key, async () => ({
    of: key,
    lamp: await askBench({
      name: 'measureLamp',
      look: defaultLook(),
      input: { circle: compared!, gains: gainsOf(reference!), camera: look.camera },
      plate: referenceId(reference!.id),
    }),
  }));
  // Amounts are those of the picture's lamp: it is to spread as much light as the reference's, on a picture as high.
  const own = shown ? lamp?.light : undefined;
  const found = measured?.lamp;
  const held = found && own !== undefined ? ofLamp(found, own * found.height ** 2) : found;
  return {
    reference: measured && compared ? (held ?? null) : undefined,
    isOutdated: compared !== undefined && measured?.of !== key,
    picture: useShownLamp(),
  };
}

/** The light about the lamp in the picture's circle, read anew from every picture that arrives. */
function useShownLamp(): ShownLamp | undefined {
  const circle = useDesk((state) => state.circles?.shown);
  const arrivals = useDesk((state) => state.draftArrivals);
  const [lamp, setLamp] = useState<ShownLamp>();
  useEffect(() => {
    if (!circle) return;
    let alive = true;
    void benchEngine()
      .readLamp(circle)
      .then((found) => alive && setLamp(found));
    return () => {
      alive = false;
    };
  }, [circle, arrivals]);
  return circle ? lamp : undefined;
}
