'use client';
import { useDesk } from '../../state/desk-store';
import { ReportRow } from './ReportRow';

/** When more of the picture feeds than this, everything glows (common practice). */
const GLOWING = 0.01;

/** How much of the picture feeds the veil, and the button that paints it over the picture. */
export function FeedReport() {
  const feed = useDesk((state) => state.feed);
  const shown = useDesk((state) => state.subject.kind === 'feed');
  const set = useDesk((state) => state.set);
  const many = feed !== undefined && feed.pixels > GLOWING;
  return (
    <ReportRow
      warning={many}
      testId="feed-share"
      button="Show feed"
      pressed={shown}
      onPress={() => set({ subject: { kind: shown ? 'final' : 'feed' } })}
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
