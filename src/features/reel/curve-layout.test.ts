import { parseTracks, type Tracks } from '../../core/look/tracks';
import { curvePoints, drawnTracks, handlesOf } from './curve-layout';
import { frameScale } from './frame-scale';

const tracks: Tracks = parseTracks({
  version: 1,
  tracks: {
    'veil.bloom.amount': [
      { frame: 1, value: 0 },
      { frame: 11, value: 0.1, ease: [0.25, 0, 0.75, 1] },
    ],
    'veil.on': [{ frame: 5, value: false }],
    'film.exposure': [{ frame: 3, value: 1 }],
  },
});
const layout = { range: { first: 1, last: 20 }, width: 400, height: 150 };

describe('frames along a line', () => {
  const scale = frameScale({ first: 1, last: 20 }, 400);

  it('are found where they stand, also beyond the ends', () => {
    for (let frame = 1; frame <= 20; frame++) {
      expect(scale.toFrame(scale.middle(frame))).toBe(frame);
      expect(scale.frameAt(scale.middle(frame))).toBeCloseTo(frame, 9);
      expect(scale.toFrame(scale.toX(frame))).toBe(frame);
    }
    expect([scale.toFrame(-50), scale.toFrame(900)]).toEqual([1, 20]);
  });
});

describe('curves', () => {
  const { drawn, scale } = drawnTracks(tracks, layout);
  const [amount, on, exposure] = drawn;

  it('go from the least of their values at the foot to the greatest at the top, and back', () => {
    expect(amount!.toY(0)).toBeGreaterThan(amount!.toY(0.1));
    for (const value of [0, 0.03, 0.1]) expect(amount!.toValue(amount!.toY(value))).toBeCloseTo(value, 9);
    const lines = curvePoints(amount!, scale, 400)
      .split(' ')
      .map((point) => Number(point.split(',')[1]));
    expect(Math.min(...lines)).toBeCloseTo(amount!.toY(0.1), 0);
    expect(Math.max(...lines)).toBeCloseTo(amount!.toY(0), 0);
  });

  it('of one value have room about it; what has nothing between has a lane at the foot', () => {
    expect([exposure!.low, exposure!.high]).toEqual([0.5, 1.5]);
    expect([amount!.isCurve, on!.isCurve]).toEqual([true, false]);
    expect(on!.toY(0)).toBeGreaterThan(amount!.toY(0));
  });

  it('have handles where the way to a key goes by them', () => {
    const [first, last] = amount!.track.keys;
    expect(handlesOf(amount!, first!, scale)).toEqual([]);
    const [out, into] = handlesOf(amount!, last!, scale);
    expect(out).toMatchObject({ x: scale.middle(3.5), y: amount!.toY(0), fromX: scale.middle(1) });
    expect(into).toMatchObject({ x: scale.middle(8.5), fromX: scale.middle(11) });
    expect(into!.y).toBeCloseTo(amount!.toY(0.1), 9);
  });
});
