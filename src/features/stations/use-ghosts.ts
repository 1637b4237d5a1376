'use client';
import type { ResolvedLight } from '../../core/light/resolved-light';
import type { GhostTable } from '../../core/stations/ghosts/queries';
import type { PageResult } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { useLatest } from '../controls';
import { askBench, usePlates } from '../session';

/** The newest answer to a question, for all who ask it at once: panel and picture. */
function sharedAnswer<T>(): (key: string, ask: () => Promise<T>) => Promise<T> {
  let last: { key: string; answer: Promise<T> } | undefined;
  return (key, ask) => {
    if (last?.key === key) return last.answer;
    const answer = ask();
    last = { key, answer };
    answer.catch(() => {
      if (last?.answer === answer) last = undefined;
    });
    return answer;
  };
}

const shareLights = sharedAnswer<{ lights: ResolvedLight[] }>();
const shareTable = sharedAnswer<PageResult<GhostTable>>();

/** The open plate that is on the bench, by the engine's id. */
function useOpenPlate(): string | undefined {
  const activePlate = useShot((state) => state.activePlate);
  return usePlates((state) => (activePlate ? state.cards[activePlate]?.id : undefined));
}

/** The lights of the look, found ones too, as the plate lets them shine. */
export function useLights(): ResolvedLight[] | undefined {
  const plate = useOpenPlate();
  const look = useShot((state) => state.look);
  const starts = useDesk((state) => state.engineStarts);
  const { lights, groups, find, on } = look.ghosts;
  const { camera, focus } = look;
  const key = JSON.stringify([
    starts,
    plate,
    lights,
    groups,
    find,
    camera,
    focus.depth,
    look.plate,
    look.elements,
    look.masks,
  ]);
  const answer = useLatest(plate && on ? key : undefined, () =>
    shareLights(key, () =>
      askBench({ name: 'ghostLights', look: useShot.getState().look, input: {}, plate: plate! }),
    ),
  );
  return answer?.lights;
}

/** All ghosts of the lens for the light that is worked on. Asked for while no hand moves. */
export function useGhostTable(): PageResult<GhostTable> | undefined {
  const plate = useOpenPlate();
  const look = useShot((state) => state.look);
  const light = useDesk((state) => state.light) ?? 0;
  const dragging = useDesk((state) => state.dragging);
  const starts = useDesk((state) => state.engineStarts);
  // What has no ghosts changes nothing about them.
  const ghosts = { ...look.ghosts, shafts: 0, air: 0, mirror: 0 };
  const { camera, pupil, focus } = look;
  const key = JSON.stringify([
    starts,
    plate,
    light,
    ghosts,
    camera,
    pupil,
    focus.depth,
    look.plate,
    look.elements,
    look.masks,
  ]);
  return useLatest(plate && ghosts.on && !dragging ? key : undefined, () =>
    shareTable(key, () =>
      askBench({ name: 'ghostTable', look: useShot.getState().look, input: { light }, plate: plate! }),
    ),
  );
}
