'use client';
import Box from '@mui/material/Box';
import { useShot } from '../../../state/shot-store';
import { getSetting, settingAt } from '../../../core/look/look';
import { FeedReport } from './FeedReport';
import { Group, pathsBelow, Rows, useSought } from '../../controls';
import { SeparationTools } from './SeparationTools';

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
  const own = useShot((state) => getSetting(state.look, `${path}.feed.own`) as boolean);
  const feed = pathsBelow(`${path}.feed`, ['own']);
  const isSought = useSought(feed);
  return (
    <Group
      title={title}
      summary={amount > 0 ? `${Number((amount * 100).toFixed(2))} %` : ''}
      open={open || amount > 0}
      toggle={`${path}.on`}
      paths={[...pathsBelow(path), `${path}.feed.own`, ...feed]}
    >
      <Rows paths={pathsBelow(path, ['on', ...without])} />
      <Rows paths={[`${path}.feed.own`]} />
      {(own || isSought) && (
        <Box sx={{ pl: 1, borderLeft: '1px solid', borderColor: 'divider' }}>
          <Rows paths={feed} />
          <FeedReport part={path} />
        </Box>
      )}
      <SeparationTools name={path} label={alone ?? title} />
    </Group>
  );
}
