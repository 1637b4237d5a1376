'use client';
import Box from '@mui/material/Box';
import { useRef } from 'react';
import { FEED_KINDS } from '../../../core/stations/veil/feed-facts';
import { thresholdPath } from '../../../core/stations/veil/fed-light';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { NumberField, ReportRow, type NumberSetting } from '../../controls';
import { askBench, reportError, usePlates } from '../../session';

/** Single pixels with more of the fed light are worth a word. */
const MUCH_LONE = 0.3;

/**
 * How much of the picture feeds the veil, or one part by a feed of its own, and what it is. A share that is typed is made to be by
 * the threshold.
 */
export function FeedReport({ part }: { part?: string }) {
  const feed = useDesk((state) => (part === undefined ? state.feed : state.ownFeeds[part]));
  const shown = useDesk(({ subject }) => subject.kind === 'feed' && subject.part === part);
  const set = useDesk((state) => state.set);
  // Diffusion is meant to be fed by all of the picture.
  const isAll = part === 'veil.diffusion';
  // Lamps need no word.
  const kind = feed?.kind && feed.kind !== 'lamps' && !isAll ? FEED_KINDS[feed.kind] : undefined;
  const lone = feed?.lone && feed.lone.light > MUCH_LONE && !isAll ? feed.lone : undefined;
  return (
    <ReportRow
      warning={feed?.kind === 'scene' && !isAll}
      testId={part === undefined ? 'feed-share' : `feed-share ${part}`}
      button="Show feed"
      pressed={shown}
      onPress={() =>
        set({ subject: shown ? { kind: 'final' } : { kind: 'feed', ...(part !== undefined && { part }) } })
      }
    >
      <ShareField of="pixels" value={feed?.pixels ?? 0} part={part} />
      <ShareField of="light" value={feed?.light ?? 0} part={part} />
      {feed?.sources !== undefined && (
        <div>
          {feed.sources} {feed.sources === 1 ? 'source' : 'sources'}
          {feed.largest && feed.sources > 1 && `, ${percent(feed.largest.light)} from one`}
        </div>
      )}
      {kind && <div>{kind}</div>}
      {lone && (
        <div>
          {lone.count} single pixels bring {percent(lone.light)} of it
        </div>
      )}
    </ReportRow>
  );
}

/** A share in the form of a setting, so that it is typed as all numbers are. */
const shareSetting = (path: string, label: string): NumberSetting => ({
  kind: 'number',
  path,
  group: 'Feed',
  label,
  help: 'What is typed is made to be by the threshold',
  unit: 'share',
  min: 0,
  max: 1,
  step: 0.0001,
  default: 0,
  scale: 'log',
  floor: 0.00001,
  shown: { factor: 100, unit: '%', digits: 2 },
});

interface ShareFieldProps {
  of: 'pixels' | 'light';
  value: number;
  part: string | undefined;
}

function ShareField({ of, value, part }: ShareFieldProps) {
  const label = `${part === undefined ? 'Wished' : `Wished ${part}`} share of the ${of}`;
  const asked = useRef(0);
  const wish = async (share: number): Promise<void> => {
    const own = ++asked.current;
    const { look, activePlate, change } = useShot.getState();
    const plate = activePlate ? usePlates.getState().cards[activePlate]?.id : undefined;
    if (!plate) return;
    const threshold = await askBench({ name: 'feedThreshold', look, input: { share, of, part }, plate });
    // Of many that are asked for while it is dragged, the last counts.
    if (own === asked.current) change(thresholdPath(part), threshold);
  };
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, pb: 0.25 }}>
      <Box sx={{ width: 66 }}>
        <NumberField
          setting={shareSetting(`feed.${of}`, label)}
          value={Number(value.toPrecision(3))}
          onChange={(share) => void wish(share).catch(reportError)}
        />
      </Box>
      of the {of}
    </Box>
  );
}

function percent(share: number): string {
  const value = share * 100;
  return `${value.toFixed(value >= 10 ? 1 : 2)} %`;
}
