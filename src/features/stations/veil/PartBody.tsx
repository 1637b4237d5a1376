'use client';
import Box from '@mui/material/Box';
import { getSetting } from '../../../core/look/look';
import { thresholdPath } from '../../../core/stations/veil/fed-light';
import { useShot } from '../../../state/shot-store';
import { pathsBelow, Rows, useSought } from '../../controls';
import { FeedReport } from './FeedReport';
import { SeparationTools } from './SeparationTools';

interface PartBodyProps {
  /** Path of the part: `veil.bloom`, `veil.streaks[0]`. */
  path: string;
  /** What the button that shows it alone calls it. */
  label: string;
  /** Settings that have no say at present. */
  without?: readonly string[];
}

/** The settings of one part of the veil, its feed, and itself alone. */
export function PartBody({ path, label, without = [] }: PartBodyProps) {
  // Settings of things in a list are known by the place in general.
  const known = path.replace(/\[\d+\]/, '[i]');
  const here = (setting: string): string => setting.replace(known, path);
  const own = useShot((state) => getSetting(state.look, `${path}.feed.own`) as boolean);
  const hasOwnThreshold = useShot(
    ({ look }) => getSetting(look, thresholdPath(path)) !== look.veil.feed.threshold,
  );
  const feed = pathsBelow(`${known}.feed`, ['own']);
  const isSought = useSought(feed);
  // A layer has a threshold of its own with the common feed as well.
  const isFed = own || (hasOwnThreshold && thresholdPath(path) === `${path}.threshold`);
  return (
    <>
      <Rows paths={pathsBelow(known, ['on', ...without]).map(here)} />
      <Rows paths={[`${path}.feed.own`]} />
      {(own || isSought) && (
        <Box sx={{ pl: 1, borderLeft: '1px solid', borderColor: 'divider' }}>
          <Rows paths={feed.map(here)} />
        </Box>
      )}
      {(isFed || isSought) && <FeedReport part={path} />}
      <SeparationTools name={path} label={label} />
    </>
  );
}
