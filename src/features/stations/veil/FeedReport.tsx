'use client';
import { GLOWING } from '../../../core/look/reality';
import { useDesk } from '../../../state/desk-store';
import { ReportRow } from '../../controls';

/** How much of the picture feeds the veil, or one part by a feed of its own, and the button that shows it. */
export function FeedReport({ part }: { part?: string }) {
  const feed = useDesk((state) => (part === undefined ? state.feed : state.ownFeeds[part]));
  const shown = useDesk(({ subject }) => subject.kind === 'feed' && subject.part === part);
  const set = useDesk((state) => state.set);
  // Diffusion is meant to be fed by all of the picture.
  const many = feed !== undefined && feed.pixels > GLOWING && part !== 'veil.diffusion';
  return (
    <ReportRow
      warning={many}
      testId={part === undefined ? 'feed-share' : `feed-share ${part}`}
      button="Show feed"
      pressed={shown}
      onPress={() =>
        set({ subject: shown ? { kind: 'final' } : { kind: 'feed', ...(part !== undefined && { part }) } })
      }
    >
      <div>{feed ? `${percent(feed.pixels)} of the pixels` : 'nothing feeds'}</div>
      {feed && <div>{percent(feed.light)} of the light</div>}
      {many && <div>over 1 %: everything glows</div>}
    </ReportRow>
  );
}

function percent(share: number): string {
  const value = share * 100;
  return `${value.toFixed(value >= 10 ? 1 : 2)} %`;
}
