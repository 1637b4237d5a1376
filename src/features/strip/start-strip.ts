import { settingAt, type StationId } from '../../core/look/look';
import { canBeTried, firstAxis, STRIP_SETS } from '../../core/look/strip';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { pointedSetting } from '../controls';
import { notify, usePlates } from '../session';

/** What a strip of a station begins with where no setting is pointed at. */
const FIRST_OF: Readonly<Record<StationId, string>> = {
  plate: 'elements[0].exposure',
  focus: 'camera.fStop',
  pupil: 'pupil',
  veil: 'veil.bloom.amount',
  ghosts: 'ghosts.design',
  glass: 'glass',
  film: 'film.exposure',
};

/** Starts a test strip of a setting, or of the station that is open. */
export function startStrip(path?: string): void {
  const { activePlate, look } = useShot.getState();
  const { station, set } = useDesk.getState();
  if (!activePlate || !usePlates.getState().cards[activePlate])
    return notify('there is no picture to try anything on yet: bring a render in', 'warning');
  const wanted = path ?? FIRST_OF[station];
  if (!STRIP_SETS[wanted] && !canBeTried(settingAt(wanted)))
    return notify(
      `${settingAt(wanted).label} has no values to try side by side: point at a number, a choice or a switch`,
      'warning',
    );
  set({ strip: [firstAxis(look, wanted)], subject: { kind: 'final' } });
}

/** The key: a strip of what is pointed at; without anything, the strip that is there goes. */
export function toggleStrip(): void {
  const pointed = pointedSetting();
  const { strip, set } = useDesk.getState();
  if (strip && pointed === undefined) set({ strip: null });
  else startStrip(pointed);
}
