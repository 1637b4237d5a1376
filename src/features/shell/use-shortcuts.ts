import { useEffect } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { STATION_IDS } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';

interface Dialogs {
  print(): void;
  find(): void;
  help(): void;
}

/** Binds the application's keys. They rest while something is being typed. */
export function useShortcuts(dialogs: Dialogs): void {
  const { set } = useDesk.getState();
  const { undo, redo } = useShot.temporal.getState();
  const once = { preventDefault: true } as const;

  STATION_IDS.forEach((id, index) => {
    // The number of stations never changes, so neither does the number of hooks.
    // eslint-disable-next-line react-hooks/rules-of-hooks
    useHotkeys(`${index + 1}`, () => set({ station: id }));
    // eslint-disable-next-line react-hooks/rules-of-hooks
    useHotkeys(`shift+${index + 1}`, () => {
      const { look, change } = useShot.getState();
      if (id !== 'plate') change(`${id}.on`, !look[id].on);
    });
  });
  useHotkeys('w', () => set({ wipe: useDesk.getState().wipe === null ? 0.5 : null }));
  useHotkeys('f', () => set({ zoom: null, centre: null }));
  useHotkeys('z', () => set({ zoom: 1 }));
  useHotkeys('e', () =>
    set({ subject: { kind: useDesk.getState().subject.kind === 'feed' ? 'final' : 'feed' } }),
  );
  useHotkeys('escape', () => set({ subject: { kind: 'final' } }));
  useHotkeys('mod+z', () => undo(), once);
  useHotkeys('mod+shift+z, mod+y', () => redo(), once);
  useHotkeys('mod+p', () => dialogs.print(), once);
  useHotkeys('slash', () => dialogs.find(), once);
  useHotkeys('shift+slash', () => dialogs.help(), once);

  useEffect(() => {
    const typing = (target: EventTarget | null): boolean =>
      target instanceof HTMLElement &&
      target.closest('input, textarea, button, [role="slider"], [role="dialog"], [role="listbox"]') !== null;
    const down = (event: KeyboardEvent): void => {
      if (event.code !== 'Space' || typing(event.target)) return;
      event.preventDefault();
      if (!event.repeat) set({ holdPlate: true });
    };
    const up = (event: KeyboardEvent): void => {
      if (event.code === 'Space') set({ holdPlate: false });
    };
    const away = (): void => set({ holdPlate: false });
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
