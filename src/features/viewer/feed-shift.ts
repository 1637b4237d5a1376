import type { Look } from '../../core/look/look';

interface Fed {
  pixels: number;
  light: number;
}

/** The share of fed light must change by more than this factor to be worth a word. */
const WORTH = 1.1;

const plateOf = ({ plate, elements }: Look): unknown => [plate, elements];

/**
 * Notices that a change before the veil altered what feeds it, although the feed's own settings are as they were: the
 * classic back-and-forth between grading a render and tuning its glow.
 */
export class FeedShifts {
  private last: { look: Look; plate: string; feed: Fed } | undefined;

  /** What to say after a finished picture: a new shift, nothing new, or that the old one is past. */
  notice(
    wish: { look: Look; plate: string } | undefined,
    feed: Fed | undefined,
  ): { feedShift?: { before: number; after: number } | null } {
    if (!wish || !feed) return {};
    const { last } = this;
    this.last = { look: wish.look, plate: wish.plate, feed };
    if (!last) return {};
    const sameVeil = JSON.stringify(last.look.veil) === JSON.stringify(wish.look.veil);
    // Whoever turns the veil itself looks at it anyway.
    if (!sameVeil || last.plate !== wish.plate) return { feedShift: null };
    if (JSON.stringify(plateOf(last.look)) === JSON.stringify(plateOf(wish.look))) return {};
    const [low, high] = [Math.min(last.feed.light, feed.light), Math.max(last.feed.light, feed.light)];
    if (high <= low * WORTH || high < 1e-5) return {};
    return { feedShift: { before: last.feed.light, after: feed.light } };
  }
}
