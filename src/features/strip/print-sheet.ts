import { drawSheet, layOutSheet, type SheetContent } from '../../core/print/sheet';

const FONTS = { words: "'Hanken Grotesk Variable'", figures: "'JetBrains Mono Variable'" };

/** Puts pictures and captions on one sheet, as PNG. `drawPicture` draws the picture of a place of the content. */
export async function printSheet(
  content: SheetContent,
  drawPicture: (context: CanvasRenderingContext2D, place: number, x: number, y: number) => void,
): Promise<Blob> {
  await document.fonts.ready;
  const layout = layOutSheet(content);
  const canvas = document.createElement('canvas');
  canvas.width = layout.width;
  canvas.height = layout.height;
  const context = canvas.getContext('2d')!;
  drawSheet(context, content, layout, FONTS);
  layout.places.forEach(({ x, y }, place) => drawPicture(context, place, x, y));
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (!blob) throw new Error('the sheet is larger than this browser can draw: try fewer values');
  return blob;
}
