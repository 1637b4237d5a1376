import { filmView } from '../core/stations/film/run';
import { evaluate, type Evaluation } from '../core/bench/evaluate';
import { evaluateRegion } from '../core/bench/evaluate-region';
import type { RunOptions } from '../core/kernels/runtime/parallel';
import type { Rectangle } from '../core/image/rectangle';
import type { Rgb } from '../core/image/rgb';
import type { Plate } from '../core/light/plate';
import type { Size } from '../core/image/rectangle';
import type { Feed, StationContext } from '../core/light/station';
import { feedFacts } from '../core/stations/veil/feed-facts';
import type { Look } from '../core/look/look';
import type { EngineContext } from './context';
import type { FeedReport, Shown, ShowRequest, Subject } from './messages';
import {
  isPlateSubject,
  paintDifference,
  paintEvaluated,
  paintGrain,
  paintPlateSubject,
  type Painted,
} from './subjects';

/** What was shown last, to be read from. */
export interface ShownLight {
  plate: Plate;
  look: Look;
  subject: Subject;
  rgb: Rgb;
  width: number;
  height: number;
  /** As the display has it, RGBA. */
  pixels: Uint8ClampedArray<ArrayBuffer>;
}

/** Computes and paints what a person looks at. */
export class Views {
  /** What lane `view` showed last, and the part of it that was computed by itself since. */
  shown: ShownLight | undefined;
  shownRegion: (ShownLight & { region: Rectangle }) | undefined;
  /** What lane `compare` showed last: what the picture is held against. */
  compared: ShownLight | undefined;

  constructor(private readonly engine: EngineContext) {}

  /** Forgets what was shown of a plate. */
  forget(plate: string): void {
    if (this.shown?.plate.id === plate) this.shown = undefined;
    if (this.shownRegion?.plate.id === plate) this.shownRegion = undefined;
    if (this.compared?.plate.id === plate) this.compared = undefined;
  }

  async show(request: ShowRequest, options: RunOptions): Promise<Shown> {
    const started = performance.now();
    const { subject, draft, region, apart, nearbyLights } = request;
    const plate = this.engine.plate(request.plate);
    const context = {
      ...this.engine.forStations(plate, options),
      nearbyLights,
      separate: subject.kind === 'separation',
      totalOnly: subject.kind !== 'separation',
      draft,
      apart,
    };
    const shown = await (region && !isPlateSubject(subject)
      ? this.showRegion(request, region, context)
      : this.showWhole(request, context));
    return { ...shown, milliseconds: performance.now() - started };
  }

  private async showWhole(
    request: ShowRequest,
    context: StationContext,
  ): Promise<Omit<Shown, 'milliseconds'>> {
    const { look, scale, lane, subject } = request;
    const { evaluation, painted } = await paint(request, context);
    const { width, height, rgb, pixels, report, colourSpace } = painted;
    if (lane === 'compare')
      this.compared = { plate: context.plate, look, subject, rgb, width, height, pixels };
    if (lane === 'view') {
      this.shown = { plate: context.plate, look, subject, rgb, width, height, pixels };
      this.shownRegion = undefined;
    }
    const { veil: feed, ...ownFeeds } = evaluation?.feeds ?? {};
    const cleaned = evaluation?.cleaned;
    return {
      width,
      height,
      scale,
      pixels,
      colourSpace,
      accounts: evaluation?.accounts ?? {},
      feed: feed && reportFeed(feed, evaluation!.light, context),
      ownFeeds: Object.fromEntries(
        Object.entries(ownFeeds).map(([name, own]) => [name, reportFeed(own, evaluation!.light, context)]),
      ),
      touched: cleaned && { despiked: cleaned.despiked, clamped: cleaned.clamped },
      report,
    };
  }

  /** Computes a region by itself. What belongs to the whole picture, such as where the light went, is left out. */
  private async showRegion(
    request: ShowRequest,
    region: Rectangle,
    context: StationContext,
  ): Promise<Omit<Shown, 'milliseconds'>> {
    const { look, subject } = request;
    const behind = subject.kind === 'behind' ? subject.station : undefined;
    const light = await evaluateRegion(look, context, region, behind);
    const viewed = { ...request, view: filmView(look, context) };
    const painted = paintEvaluated({ light, accounts: {}, feeds: {}, cleaned: undefined, times: {} }, viewed);
    const { width, height, rgb, pixels, report, colourSpace } = painted;
    this.shownRegion = { plate: context.plate, look, subject, rgb, width, height, pixels, region };
    return {
      width,
      height,
      scale: 1,
      pixels,
      colourSpace,
      accounts: {},
      feed: undefined,
      ownFeeds: {},
      touched: undefined,
      report,
      region,
    };
  }
}

/** What is told of a feed; drafts leave out what takes a while. */
function reportFeed(feed: Feed, size: Size, { draft }: StationContext): FeedReport {
  const { pixels, light } = feed;
  return { pixels, light, ...(!draft && feedFacts(feed, size)) };
}

/** The final of a look, kept until another is asked for at this scale. */
function lightOf(look: Look, context: StationContext, scale: number): Promise<Rgb> {
  return context.cache.getOrReplace(
    `against @${scale}`,
    JSON.stringify([context.plate.id, context.draft, look, context.nearbyLights]),
    async () => (await evaluate(look, context, { scale })).light.total,
    (rgb) => 3 * rgb[0].byteLength,
  );
}

/** Paints a subject; what the whole bench had to be evaluated for comes with its evaluation. */
async function paint(
  request: ShowRequest,
  context: StationContext,
): Promise<{ painted: Painted; evaluation?: Evaluation }> {
  const { look, subject, scale } = request;
  const viewed = { ...request, view: filmView(look, context) };
  if (isPlateSubject(subject)) return { painted: await paintPlateSubject(subject, viewed, context) };
  const behind = subject.kind === 'behind' ? subject.station : undefined;
  // What a difference is taken from is kept while the look changes.
  const other =
    subject.kind === 'difference' ? await lightOf(request.against ?? look, context, scale) : undefined;
  const evaluation = await evaluate(look, context, { scale, behind });
  const painted =
    other && subject.kind === 'difference'
      ? paintDifference(evaluation.light, other, subject.gain)
      : subject.kind === 'grain'
        ? await paintGrain(evaluation.light, viewed, context)
        : paintEvaluated(evaluation, viewed);
  return { painted, evaluation };
}
