'use client';
import Box from '@mui/material/Box';
import { useShot } from '../../../state/shot-store';
import type { SINGLE } from '../../../core/stations/veil/parts';
import { FeedReport } from '../FeedReport';
import { Group } from '../Group';
import { pathsBelow, Rows } from '../Rows';
import { SeparationTools } from '../SeparationTools';

interface PartProps {
  name: (typeof SINGLE)[number];
  title: string;
  /** Settings that have no say at present. */
  without?: readonly string[];
  /** Whether it is unfolded although there is none of it. */
  open?: boolean;
  /** What the button that shows it alone calls it. */
  alone: string;
}

/** One part of the veil: its switch, its settings, its feed, and itself alone. */
export function PartGroup({ name, title, without = [], open = false, alone }: PartProps) {
  const path = `veil.${name}`;
  const amount = useShot((state) => state.look.veil[name].amount);
  const own = useShot((state) => state.look.veil[name].feed.own);
  const feed = pathsBelow(`${path}.feed`, ['own']);
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
      {own && (
        <Box sx={{ pl: 1, borderLeft: '1px solid', borderColor: 'divider' }}>
          <Rows paths={feed} />
          <FeedReport part={path} />
        </Box>
      )}
      <SeparationTools name={path} label={alone} />
    </Group>
  );
}
