/** What a sheet is drawn on: the part of a canvas that browsers and Node have in common. */
export interface SheetCanvas {
  fillStyle: unknown;
  font: string;
  textBaseline: unknown;
  fillRect(x: number, y: number, width: number, height: number): void;
  fillText(text: string, x: number, y: number): void;
  measureText(text: string): { width: number };
}

/** One picture of a sheet with what stands under it. */
export interface SheetCell {
  captions: readonly string[];
  isPresent: boolean;
  isReal: boolean | undefined;
}

export interface SheetContent {
  /** The first line of the sheet. */
  title: string;
  /** What varies, under the title. */
  subtitle: string;
  cells: readonly SheetCell[];
  /** How many pictures stand beside each other. */
  columns: number;
  /** Of each picture, in pixels. */
  width: number;
  height: number;
}

/** Where everything of a sheet lies, in pixels. */
export interface SheetLayout {
  width: number;
  height: number;
  /** The top left corner of each picture. */
  places: readonly { x: number; y: number }[];
}

const MARGIN = 24;
const GAP = 12;
const LINE = 18;
const HEAD = 56;
/** The line under a picture whose values lie where real lenses do. */
const BAND = 3;

const PAPER = '#161616';
const WORDS = '#d6d6d6';
const QUIET = '#9a9a9a';
const REAL = '#57b894';
const PRESENT = '#e8a33d';

/** Families of the words and of the figures, as they are registered where the sheet is drawn. */
export interface SheetFonts {
  words: string;
  figures: string;
}

const captionHeight = (cells: readonly SheetCell[]): number =>
  BAND + 6 + LINE * Math.max(...cells.map(({ captions }) => captions.length), 1);

/** Lays a sheet out. */
export function layOutSheet({ cells, columns, width, height }: SheetContent): SheetLayout {
  const across = Math.min(columns, cells.length);
  const rows = Math.ceil(cells.length / across);
  const step = height + captionHeight(cells) + GAP;
  return {
    width: 2 * MARGIN + across * width + (across - 1) * GAP,
    height: MARGIN + HEAD + rows * step - GAP + MARGIN,
    places: cells.map((_, k) => ({
      x: MARGIN + (k % across) * (width + GAP),
      y: MARGIN + HEAD + Math.floor(k / across) * step,
    })),
  };
}

/** Draws all of a sheet but its pictures, which belong at the layout's places. */
export function drawSheet(
  canvas: SheetCanvas,
  content: SheetContent,
  layout: SheetLayout,
  { words, figures }: SheetFonts,
): void {
  const { title, subtitle, cells, width, height } = content;
  const room = layout.width - 2 * MARGIN;
  canvas.fillStyle = PAPER;
  canvas.fillRect(0, 0, layout.width, layout.height);
  canvas.textBaseline = 'alphabetic';
  write(canvas, title, { x: MARGIN, y: MARGIN + 18, room, font: `600 18px ${words}`, colour: WORDS });
  write(canvas, subtitle, { x: MARGIN, y: MARGIN + 40, room, font: `13px ${words}`, colour: QUIET });
  for (const [k, { captions, isPresent, isReal }] of cells.entries()) {
    const { x, y } = layout.places[k]!;
    if (isReal) {
      canvas.fillStyle = REAL;
      canvas.fillRect(x, y + height + 2, width, BAND);
    }
    captions.forEach((caption, line) =>
      write(canvas, line === 0 && isPresent ? `${caption}  (present)` : caption, {
        x,
        y: y + height + BAND + LINE * (line + 1) - 1,
        room: width,
        font: `13px ${figures}`,
        colour: isPresent ? PRESENT : WORDS,
      }),
    );
  }
}

/** Writes a line, cut short where there is no room for all of it. */
function write(
  canvas: SheetCanvas,
  text: string,
  { x, y, room, font, colour }: { x: number; y: number; room: number; font: string; colour: string },
): void {
  canvas.font = font;
  canvas.fillStyle = colour;
  let shown = text;
  while (shown.length > 1 && canvas.measureText(shown).width > room)
    shown = `${shown.slice(0, -2).trimEnd()}…`;
  canvas.fillText(shown, x, y);
}

/** In how many columns pictures stand so that each is as large as it can be in a space. */
export function columnsFor(
  count: number,
  space: { width: number; height: number },
  picture: { width: number; height: number },
): number {
  let [best, most] = [1, 0];
  for (let columns = 1; columns <= count; columns++) {
    const rows = Math.ceil(count / columns);
    const zoom = Math.min(space.width / columns / picture.width, space.height / rows / picture.height);
    if (zoom > most * 1.0001) [best, most] = [columns, zoom];
  }
  return best;
}
