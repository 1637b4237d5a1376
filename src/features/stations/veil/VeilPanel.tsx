'use client';
import { SETTINGS } from '../../../core/look/look';
import { PARTS } from '../../../core/stations/veil/parts';
import { useShot } from '../../../state/shot-store';
import { FeedReport } from './FeedReport';
import { Group, pathsBelow, Rows, useSought } from '../../controls';
import { applyVeil } from '../../../core/look/starting-point';
import { VEILS } from '../../../core/stations/veil/starting-points';
import { StartingPoints } from '../StartingPoints';
import { Balance } from './Balance';
import { KernelView } from './KernelView';
import { LayerList } from './LayerList';
import { PartGroup } from './PartGroup';
import { StreakList } from './StreakList';

const COMMON = pathsBelow('veil', ['on']);
const FEED = pathsBelow('veil.feed');

/** The parts that are lists: their title and what stands under it. */
const LISTS = {
  stack: { title: 'Layers', List: LayerList },
  streaks: { title: 'Streaks', List: StreakList },
} as const;

const pathsOfList = (name: keyof typeof LISTS): string[] =>
  SETTINGS.map(({ path }) => path).filter((path) => path.startsWith(`veil.${name}[`));

/** A list of parts as a group of the panel. */
function ListGroup({ name }: { name: keyof typeof LISTS }) {
  const count = useShot((state) => state.look.veil[name].length);
  const { title, List } = LISTS[name];
  return (
    <Group title={title} summary={count ? String(count) : ''} open={count > 0} paths={pathsOfList(name)}>
      <List />
    </Group>
  );
}

/** What a veil to start from leaves as it is. */
const keepsOf = (): string => {
  const { plate, camera, focus, film, veil } = useShot.getState().look;
  return JSON.stringify([plate, camera, focus, film, veil.feed, veil.mode]);
};

/** Words for a part, where its section's title is too long, and whether it is unfolded at first. */
const PART_OPTIONS: Readonly<Record<string, { alone?: string; open?: boolean }>> = {
  bloom: { open: true },
  spikes: { open: true },
  halo: { alone: 'Halo' },
  dirt: { alone: 'Dirt' },
};

/** The veil's panel: where to start, what feeds it, every part of it, and the kernel that they make together. */
export function VeilPanel() {
  const law = useShot((state) => state.look.veil.bloom.law);
  const bloom = law === 'eye' ? ['radius', 'falloff'] : ['age'];
  const isSought = useSought(bloom.map((name) => `veil.bloom.${name}`));
  const unused = { bloom: isSought ? [] : bloom } as Record<string, string[]>;
  return (
    <>
      <Group title="Starting points" open={false}>
        <StartingPoints points={VEILS} apply={applyVeil} keeps={keepsOf} />
      </Group>
      <Group title="Feed" paths={[...COMMON, ...FEED]}>
        <Rows paths={[...COMMON, ...FEED]} />
        <FeedReport />
      </Group>
      <Balance />
      {PARTS.map(({ id }) =>
        id === 'stack' || id === 'streaks' ? (
          <ListGroup key={id} name={id} />
        ) : (
          <PartGroup key={id} name={id} {...PART_OPTIONS[id]} without={unused[id]} />
        ),
      )}
      <Group title="Kernel" open={false}>
        <KernelView />
      </Group>
    </>
  );
}
