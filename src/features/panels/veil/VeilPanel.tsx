'use client';
import { useShot } from '../../../state/shot-store';
import { FeedReport } from '../FeedReport';
import { Group } from '../Group';
import { pathsBelow, Rows } from '../Rows';
import { Balance } from './Balance';
import { KernelView } from './KernelView';
import { LayerList } from './LayerList';
import { PartGroup } from './PartGroup';
import { StartingPoints } from './StartingPoints';

const FEED = pathsBelow('veil.feed');

/** The veil's panel: where to start, what feeds it, every part of it, and the kernel that they make together. */
export function VeilPanel() {
  const law = useShot((state) => state.look.veil.bloom.law);
  const layers = useShot((state) => state.look.veil.stack.length);
  return (
    <>
      <Group title="Starting points" open={false}>
        <StartingPoints />
      </Group>
      <Group title="Feed" paths={FEED}>
        <Rows paths={['veil.mode', 'veil.edge', ...FEED]} />
        <FeedReport />
      </Group>
      <Balance />
      <PartGroup
        name="bloom"
        title="Bloom"
        open
        without={law === 'eye' ? ['radius', 'falloff'] : ['age']}
        alone="Bloom"
      />
      <Group title="Layers" summary={layers ? String(layers) : ''} open={layers > 0}>
        <LayerList />
      </Group>
      <PartGroup name="spikes" title="Spikes" open alone="Spikes" />
      <PartGroup name="halo" title="Halo ring" alone="Halo" />
      <PartGroup name="streak" title="Streak" alone="Streak" />
      <PartGroup name="diffusion" title="Diffusion" alone="Diffusion" />
      <PartGroup name="dirt" title="Front-glass dirt" alone="Dirt" />
      <Group title="Kernel" open={false}>
        <KernelView />
      </Group>
    </>
  );
}
