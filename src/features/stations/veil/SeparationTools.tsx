'use client';
import { getSetting } from '../../../core/look/look';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { SoloRow } from '../SoloRow';

/** Shows one part of the veil by itself, and tells how much light it moves. */
export function SeparationTools({ name, label }: { name: string; label: string }) {
  const on = useShot((state) => state.look.veil.on && getSetting(state.look, `${name}.on`) === true);
  const amount = useShot((state) => getSetting(state.look, `${name}.amount`) as number);
  const feed = useDesk((state) => state.ownFeeds[name] ?? state.feed);
  return (
    <SoloRow name={name} label={label}>
      {on && amount > 0 && feed
        ? `moves ${Number((amount * feed.light * 100).toPrecision(3))} % of the light`
        : 'spreads no light'}
    </SoloRow>
  );
}
