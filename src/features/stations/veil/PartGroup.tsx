'use client';
import { useShot } from '../../../state/shot-store';
import { getSetting, settingAt } from '../../../core/look/look';
import { Group, pathsBelow } from '../../controls';
import { PartBody } from './PartBody';

interface PartProps {
  /** Its section below `veil`. */
  name: string;
  /** Settings that have no say at present. */
  without?: readonly string[] | undefined;
  /** Whether it is unfolded although there is none of it. */
  open?: boolean;
  /** What the button that shows it alone calls it; its title by default. */
  alone?: string;
}

/** One part of the veil: its switch, its settings, its feed, and itself alone. */
export function PartGroup({ name, without = [], open = false, alone }: PartProps) {
  const path = `veil.${name}`;
  const title = settingAt(`${path}.amount`).group;
  const amount = useShot((state) => getSetting(state.look, `${path}.amount`) as number);
  const feed = pathsBelow(`${path}.feed`, ['own']);
  return (
    <Group
      title={title}
      summary={amount > 0 ? `${Number((amount * 100).toFixed(2))} %` : ''}
      open={open || amount > 0}
      toggle={`${path}.on`}
      paths={[...pathsBelow(path), `${path}.feed.own`, ...feed]}
    >
      <PartBody path={path} label={alone ?? title} without={without} />
    </Group>
  );
}
