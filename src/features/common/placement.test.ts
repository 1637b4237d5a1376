import { assignSetting, defaultLook } from '../../core/look/look';
import { placesIn } from '../../engine/seen-through-lens';
import { draftScale, fitZoom, frameMapping, layOut, refineScale, zoomAt } from './placement';

const picture = { width: 1280, height: 720 };
const viewer = { width: 792, height: 600 };

describe('the place of the picture', () => {
  it('fits with a margin, and never grows a small picture', () => {
    const { zoom, left, top } = layOut(picture, viewer, null, null);
    expect(zoom).toBeCloseTo((792 - 28) / 1280, 12);
    expect(left).toBeCloseTo(14, 9);
    expect(top).toBeCloseTo((600 - 720 * zoom) / 2, 9);
    expect(fitZoom({ width: 20, height: 20 }, viewer)).toBe(1);
  });

  it('keeps the point under the pointer while it zooms', () => {
    let layout = layOut(picture, viewer, null, null);
    const place = { x: 500, y: 250 };
    const pointOf = (): number[] => [
      (place.x - layout.left) / layout.zoom,
      (place.y - layout.top) / layout.zoom,
    ];
    const before = pointOf();
    for (const zoom of [1, 3, 0.4, 8]) {
      layout = layOut(picture, viewer, zoom, zoomAt(layout, viewer, place, zoom));
      pointOf().forEach((value, index) => expect(value).toBeCloseTo(before[index]!, 9));
    }
  });

  it('lays the middle of the picture in the middle at actual size', () => {
    expect(layOut(picture, viewer, 1, null)).toEqual({ zoom: 1, left: 396 - 640, top: 300 - 360 });
  });
});

describe('the scale of what is computed', () => {
  it.each([
    [0.597, 1, 1],
    [0.5, 1, 0.5],
    [0.2, 1, 0.25],
    [0.2, 2, 0.5],
    [4, 1, 1],
    [0.01, 1, 0.0625],
  ])('at zoom %d on a screen of ratio %d is %d', (zoom, ratio, scale) => {
    expect(refineScale(zoom, ratio)).toBe(scale);
  });

  it('of a draft depends on the size of the picture', () => {
    expect(draftScale(picture)).toBe(0.25);
    expect(draftScale({ width: 3840, height: 2160 })).toBe(0.0625);
    expect(draftScale({ width: 100, height: 100 })).toBe(1);
  });
});

describe('places of the frame', () => {
  const frame = { x: 10, y: 20, width: 640, height: 360 };
  const layout = { zoom: 0.5, left: 30, top: 40 };
  const look = ['glass.k1=-0.2', 'glass.fill=false'].reduce(assignSetting, defaultLook());

  it('are where the lens has moved them, in what has passed it', () => {
    const final = frameMapping(layout, frame, undefined, placesIn({ kind: 'final' }, look, frame));
    const plain = frameMapping(layout, frame);
    const corner = plain.toScreen([1, 1]);
    const [x, y] = final.toScreen([1, 1]);
    // The corner of a barrel of -0.2 lies a fifth nearer to the middle (Brown 1966).
    expect(x).toBeCloseTo(corner[0] - 0.2 * 160, 6);
    expect(y).toBeCloseTo(corner[1] - 0.2 * 90, 6);
    expect(final.toFrame([x, y])).toEqual([1, 1]);
    for (const subject of [
      { kind: 'behind', station: 'ghosts' },
      { kind: 'pass', pass: 'beauty' },
    ] as const)
      expect(placesIn(subject, look, frame)).toBeUndefined();
    expect(placesIn({ kind: 'behind', station: 'film' }, look, frame)).toBeDefined();
  });
});
