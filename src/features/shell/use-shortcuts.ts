import { useEffect, useRef } from 'react';
import { isSwitched, STATION_IDS, type StationId } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { redo, undo, useShot } from '../../state/shot-store';
import { reportError, saveProof, usePlates } from '../session';
import { stepFrame, stepKey, togglePlay, togglePointedKey, toggleReel } from '../reel';
import { toggleStrip } from '../strip';
import { stepPass, swapCompared, toggleMeasuring } from '../viewer';
import { bindingOf } from './bindings';

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

const desk = () => useDesk.getState();

function toggleSubject(kind: 'feed' | 'sharpness'): void {
  desk().set({ subject: { kind: desk().subject.kind === kind ? 'final' : kind } });
}

function stepThroughPasses(step: 1 | -1): void {
  const { activePlate } = useShot.getState();
  const card = activePlate ? usePlates.getState().cards[activePlate] : undefined;
  if (card) desk().set({ subject: stepPass(card, desk().subject, step) });
}

function toggleRegion(): void {
  const { region, drawingRegion, set } = desk();
  const isOn = region?.plate === useShot.getState().activePlate;
  set(isOn || drawingRegion ? { region: null, drawingRegion: false } : { drawingRegion: true });
}

function giveUp(): void {
  const { pen, picking, drawingRegion, alone, strip, patches, circles, looks, tour, playing, set } = desk();
  if (strip || looks) set({ strip: null, looks: false });
  else if (patches ?? circles) set({ patches: null, circles: null });
  else if (pen || picking || drawingRegion) set({ pen: null, picking: null, drawingRegion: false });
  else if (alone) set({ alone: false });
  else if (playing) togglePlay();
  else if (tour !== null) set({ tour: null });
  else set({ subject: { kind: 'final' } });
}

function switchStation(id: StationId): void {
  const { look, change } = useShot.getState();
  if (isSwitched(id)) change(`${id}.on`, !look[id].on);
}

/** What is done by each key, by the names of `bindings.ts`. */
function actionsOf(dialogs: () => Dialogs): Readonly<Record<string, () => void>> {
  return {
    ...Object.fromEntries(
      STATION_IDS.flatMap((id, index) => [
        [`${index + 1}`, () => desk().set({ station: id })],
        [`shift+${index + 1}`, () => switchStation(id)],
      ]),
    ),
    w: () => desk().set({ compare: desk().compare === 'wipe' ? null : 'wipe' }),
    x: swapCompared,
    p: () => void saveProof().catch(reportError),
    f: () => desk().set({ zoom: null, centre: null }),
    z: () => desk().set({ zoom: 1 }),
    e: () => toggleSubject('feed'),
    o: () => toggleSubject('sharpness'),
    r: toggleRegion,
    v: () => desk().set({ falseColour: !desk().falseColour }),
    c: () => desk().set({ rangeWarning: !desk().rangeWarning }),
    s: () => desk().set({ scopes: !desk().scopes }),
    t: toggleStrip,
    l: toggleMeasuring,
    k: () => desk().set({ looks: !desk().looks, strip: null }),
    n: toggleReel,
    y: togglePlay,
    q: togglePointedKey,
    '[': () => stepFrame(-1),
    ']': () => stepFrame(1),
    '{': () => stepKey(-1),
    '}': () => stepKey(1),
    h: () => desk().foldSides(),
    'shift+h': () => desk().set({ alone: !desk().alone }),
    '.': () => stepThroughPasses(1),
    ',': () => stepThroughPasses(-1),
    escape: giveUp,
    'mod+z': undo,
    'mod+shift+z': redo,
    'mod+y': redo,
    'mod+p': () => dialogs().print(),
    '/': () => dialogs().find(),
    '?': () => dialogs().help(),
  };
}

/** What is so only as long as its key is held. */
const HELD = { space: 'holdPlate', b: 'overblur' } as const;

/** Binds the application's keys. They rest while something is being typed. */
export function useShortcuts(dialogs: Dialogs): void {
  const newest = useRef(dialogs);
  useEffect(() => {
    newest.current = dialogs;
  });
  useEffect(() => {
    const actions = actionsOf(() => newest.current);
    /** By the key's place: what it is called may change while it is held. */
    const held = new Map<string, 'holdPlate' | 'overblur'>();
    const down = (event: KeyboardEvent): void => {
      const name = bindingOf(event, (one) => one in actions || one in HELD);
      if (!name || isTaken(event.target)) return;
      const what = HELD[name as keyof typeof HELD];
      if (what === 'holdPlate' && isOnButton(event.target)) return;
      event.preventDefault();
      if (!what) return actions[name]!();
      if (event.repeat) return;
      held.set(event.code, what);
      desk().set({ [what]: true });
    };
    const up = (event: KeyboardEvent): void => {
      const what = held.get(event.code);
      if (!what) return;
      held.delete(event.code);
      event.preventDefault();
      desk().set({ [what]: false });
    };
    const away = (): void => {
      held.clear();
      desk().set({ holdPlate: false, overblur: false });
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', away);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', away);
    };
  }, []);
}
