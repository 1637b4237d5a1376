'use client';
import { MOST_LAYERS } from '../../../core/stations/veil/settings';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { EntryList, useSought } from '../../controls';
import { PartBody } from './PartBody';

/** A new layer is so many times as wide as the widest, over so many times its threshold (common practice). */
const [WIDER, HIGHER] = [3, 2];

/** Layers of bloom over each other. */
export function LayerList() {
  const layers = useShot((state) => state.look.veil.stack);
  return (
    <EntryList
      path="veil.stack"
      entries={layers}
      most={MOST_LAYERS}
      addLabel="New layer"
      nameOf={(index) => `Layer ${index + 1}`}
      newEntry={() => {
        const { bloom, feed } = useShot.getState().look.veil;
        const peak = useDesk.getState().feed?.peak ?? Infinity;
        const last = layers.at(-1) ?? { radius: bloom.radius, threshold: feed.threshold };
        const higher = Number((last.threshold * HIGHER).toPrecision(3));
        return {
          amount: 0.005,
          radius: Math.min(0.5, Number((last.radius * WIDER).toPrecision(3))),
          // Over all light there is nothing to spread.
          threshold: higher < Math.min(10000, peak) ? higher : last.threshold,
        };
      }}
    >
      {(index) => <LayerRows index={index} />}
    </EntryList>
  );
}

function LayerRows({ index }: { index: number }) {
  const shape = useShot((state) => state.look.veil.stack[index]?.shape);
  const isSought = useSought(['veil.stack[i].falloff']);
  return (
    <PartBody
      path={`veil.stack[${index}]`}
      label={`Layer ${index + 1}`}
      without={shape === 'power' || isSought ? [] : ['falloff']}
    />
  );
}
