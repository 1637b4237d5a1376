import { useEffect } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { isSwitched, STATION_IDS } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { redo, undo, useShot } from '../../state/shot-store';
import { usePlates } from '../session';
import { stepPass } from '../viewer';

interface Dialogs {
  print(): void;
  find(): void;
  help(): void;
}

/** Whether a key belongs to what has the focus: text that is typed, a dialog, a list. Sliders use none of ours. */
function isTaken(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return (
    target.closest(
      'input:not([type="range"]), textarea, [role="dialog"], [role="listbox"], [role="menu"]',
    ) !== null
  );
}

/** Whether Space would press a button that the keyboard has reached; one that was only clicked does not count. */
function isOnButton(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && target.matches('button:focus-visible, [role="combobox"]');
}

function toggleSubject(kind: 'feed' | 'sharpness'): void {
  const { subject, set } = useDesk.getState();
  set({ subject: { kind: subject.kind === kind ? 'final' : kind } });
}

function stepThroughPasses(step: 1 | -1): void {
  const { activePlate } = useShot.getState();
  const card = activePlate ? usePlates.getState().cards[activePlate] : undefined;
  const { subject, set } = useDesk.getState();
  if (card) set({ subject: stepPass(card, subject, step) });
}

/** Binds the application's keys. They rest while something is being typed. */
export function useShortcuts(dialogs: Dialogs): void {
  const { set } = useDesk.getState();
  const plain = {
    enableOnFormTags: true,
    ignoreEventWhen: (event: KeyboardEvent) => isTaken(event.target),
  } as const;
  const once = { ...plain, preventDefault: true } as const;

  STATION_IDS.forEach((id, index) => {
    // The number of stations never changes, so neither does the number of hooks.
    // eslint-disable-next-line react-hooks/rules-of-hooks
    useHotkeys(`${index + 1}`, () => set({ station: id }), plain);
    // eslint-disable-next-line react-hooks/rules-of-hooks
    useHotkeys(
      `shift+${index + 1}`,
      () => {
        const { look, change } = useShot.getState();
        if (isSwitched(id)) change(`${id}.on`, !look[id].on);
      },
      plain,
    );
  });
  useHotkeys('w', () => set({ wipe: useDesk.getState().wipe === null ? 0.5 : null }), plain);
  useHotkeys('f', () => set({ zoom: null, centre: null }), plain);
  useHotkeys('z', () => set({ zoom: 1 }), plain);
  useHotkeys('e', () => toggleSubject('feed'), plain);
  useHotkeys('o', () => toggleSubject('sharpness'), plain);
  useHotkeys(
    'r',
    () => {
      const { region, drawingRegion } = useDesk.getState();
      const isOn = region?.plate === useShot.getState().activePlate;
      set(isOn || drawingRegion ? { region: null, drawingRegion: false } : { drawingRegion: true });
    },
    plain,
  );
  useHotkeys('v', () => set({ falseColour: !useDesk.getState().falseColour }), plain);
  useHotkeys('period', () => stepThroughPasses(1), plain);
  useHotkeys('comma', () => stepThroughPasses(-1), plain);
  useHotkeys(
    'escape',
    () => {
      const { pen, picking, drawingRegion } = useDesk.getState();
      const held = pen || picking || drawingRegion;
      set(held ? { pen: null, picking: null, drawingRegion: false } : { subject: { kind: 'final' } });
    },
    plain,
  );
  useHotkeys('mod+z', () => undo(), once);
  useHotkeys('mod+shift+z, mod+y', () => redo(), once);
  useHotkeys('mod+p', () => dialogs.print(), once);
  useHotkeys('slash', () => dialogs.find(), once);
  useHotkeys('shift+slash', () => dialogs.help(), once);

  useEffect(() => {
    /** What is so only as long as its key is held. */
    const HELD = { Space: 'holdPlate', KeyB: 'overblur' } as const;
    const heldBy = (event: KeyboardEvent) => HELD[event.code as keyof typeof HELD];
    const down = (event: KeyboardEvent): void => {
      const what = heldBy(event);
      if (!what || event.ctrlKey || event.metaKey || isTaken(event.target)) return;
      if (what === 'holdPlate' && isOnButton(event.target)) return;
      event.preventDefault();
      if (!event.repeat) set({ [what]: true });
    };
    const up = (event: KeyboardEvent): void => {
      const what = heldBy(event);
      if (!what || !useDesk.getState()[what]) return;
      event.preventDefault();
      set({ [what]: false });
    };
    const away = (): void => set({ holdPlate: false, overblur: false });
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', away);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', away);
    };
  }, [set]);
}
