import { createCanvas } from '@napi-rs/canvas';
import { columnsFor, drawSheet, layOutSheet, type SheetContent } from './sheet';

const cell = (caption: string, more: Partial<SheetContent['cells'][number]> = {}) => ({
  captions: [caption],
  isPresent: false,
  isReal: undefined,
  ...more,
});

const CONTENT: SheetContent = {
  title: 'A title',
  subtitle: 'What varies',
  cells: [cell('one'), cell('two', { isReal: true }), cell('three', { isPresent: true }), cell('four')],
  columns: 3,
  width: 120,
  height: 80,
};

describe('a sheet', () => {
  it('puts pictures in rows that do not overlap, within its edges', () => {
    const { width, height, places } = layOutSheet(CONTENT);
    expect(places).toHaveLength(4);
    expect(places[3]!.x).toBe(places[0]!.x);
    expect(places[1]!.x - places[0]!.x).toBeGreaterThanOrEqual(CONTENT.width);
    expect(places[3]!.y - places[0]!.y).toBeGreaterThan(CONTENT.height);
    for (const { x, y } of places) {
      expect(x + CONTENT.width).toBeLessThan(width);
      expect(y + CONTENT.height).toBeLessThan(height);
    }
  });

  it('writes captions under the pictures and marks what real lenses have, and leaves the pictures’ places free', () => {
    const layout = layOutSheet(CONTENT);
    const context = createCanvas(layout.width, layout.height).getContext('2d');
    drawSheet(context, CONTENT, layout, { words: 'sans-serif', figures: 'monospace' });
    const colours = (x: number, y: number, width: number, height: number): Set<string> => {
      const { data } = context.getImageData(x, y, width, height);
      const all = new Set<string>();
      for (let i = 0; i < data.length; i += 4) all.add([data[i], data[i + 1], data[i + 2]].join());
      return all;
    };
    const [first, real, present] = layout.places as [
      { x: number; y: number },
      { x: number; y: number },
      { x: number; y: number },
    ];
    expect([...colours(first.x, first.y, 120, 80)]).toEqual(['22,22,22']);
    expect(colours(first.x, first.y + 82, 120, 24).size).toBeGreaterThan(2);
    expect(colours(real.x, real.y + 82, 120, 3)).toContain('87,184,148');
    expect(colours(first.x, first.y + 82, 120, 3)).not.toContain('87,184,148');
    expect(colours(present.x, present.y + 82, 120, 24)).toContain('232,163,61');
  });

  it('cuts a caption that is longer than its picture is wide', () => {
    const written: string[] = [];
    const canvas = {
      fillStyle: '' as unknown,
      font: '',
      textBaseline: '' as unknown,
      fillRect: () => undefined,
      fillText: (text: string) => void written.push(text),
      measureText: (text: string) => ({ width: 10 * text.length }),
    };
    const content = { ...CONTENT, cells: [cell('a caption that is far too long')], columns: 1 };
    drawSheet(canvas, content, layOutSheet(content), { words: 'w', figures: 'f' });
    expect(written.at(-1)).toMatch(/^a caption.*…$/);
    expect(written.at(-1)!.length).toBeLessThanOrEqual(12);
  });

  it('has as many columns as make its pictures largest', () => {
    const wide = { width: 160, height: 90 };
    expect(columnsFor(4, { width: 1600, height: 900 }, wide)).toBe(2);
    expect(columnsFor(3, { width: 1600, height: 300 }, wide)).toBe(3);
    expect(columnsFor(3, { width: 300, height: 1600 }, wide)).toBe(1);
    expect(columnsFor(9, { width: 1600, height: 900 }, wide)).toBe(3);
  });
});
