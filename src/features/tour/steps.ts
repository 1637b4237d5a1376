import type { StationId } from '../../core/look/look';

/** One thing to do, in the order in which people work. */
export interface TourStep {
  title: string;
  does: string;
  why: string;
  /** What it is about on the screen. */
  anchor: string;
  placement: 'bottom' | 'left' | 'right';
  /** The station whose panel it needs. */
  station?: StationId;
}

const station = (label: string): string => `[aria-label="Bench"] [aria-label^="${label}, "]`;

/** The way from a render to a print, as docs/guide.md has it at length. */
export const TOUR: readonly TourStep[] = [
  {
    title: 'Look at what came in',
    does: 'Press V for false colour in stops, and V again. The keys . and , step through the passes; Esc leads back.',
    why: 'A lens can only spread light that is there: see how far lamps lie over the rest.',
    anchor: station('Plate'),
    placement: 'bottom',
    station: 'plate',
  },
  {
    title: 'Focus',
    does: 'Shift + 2 switches it on. Choose an f-stop, press Click to focus, and click what is to be sharp. Hold B to see where it is.',
    why: 'Depth decides what a viewer looks at, and far lamps become discs in the shape of the pupil.',
    anchor: station('Focus'),
    placement: 'bottom',
    station: 'focus',
  },
  {
    title: 'Choose what glows',
    does: 'Press E: what feeds the glow is painted. Type the share of the pixels that is to, until lamps and glints do and walls do not.',
    why: 'What feeds the glow matters more than how much of it there is.',
    anchor: station('Veil'),
    placement: 'bottom',
    station: 'veil',
  },
  {
    title: 'Choose how much, by eye',
    does: 'Lay the pointer on a row, as the amount of Bloom, and press T. Click the picture that you like. Green lies where real lenses do.',
    why: 'The eye judges by comparing.',
    anchor: '[aria-label="Veil settings"]',
    placement: 'left',
    station: 'veil',
  },
  {
    title: 'The pupil and its spikes',
    does: 'Choose a pupil to start from, then give Spikes an amount in Veil.',
    why: 'Spikes are the image of the pupil, and so are the discs out of focus: change the blades, and both follow.',
    anchor: station('Pupil'),
    placement: 'bottom',
    station: 'pupil',
  },
  {
    title: 'Ghosts',
    does: 'Unfold the starting points and click One small glint.',
    why: 'Reflections within the lens tell that there is one. Often one is enough.',
    anchor: station('Ghosts'),
    placement: 'bottom',
    station: 'ghosts',
  },
  {
    title: 'Glass and film',
    does: 'Start from a lens here, and from a film in Film. Or press K for whole looks, shown on your plate.',
    why: 'Without a little distortion, colour and grain a picture looks rendered; with too much, broken.',
    anchor: station('Glass'),
    placement: 'bottom',
    station: 'glass',
  },
  {
    title: 'Compare',
    does: 'Press P to save a proof, change something, and click the proof: wipe, blink or difference. Of a photograph as reference, L measures the light about a lamp.',
    why: 'After ten minutes the eye has got used to everything. What still helps is seen in a blink.',
    anchor: '[aria-label="Shelf"]',
    placement: 'right',
  },
  {
    title: 'The reality check',
    does: 'Open it: it lists what lies beyond real lenses, says why it looks wrong, and brings it back with a click.',
    why: 'What you mean to be beyond a lens may stay. The rest gives a picture away.',
    anchor: '[aria-label^="Reality check: "]',
    placement: 'bottom',
  },
  {
    title: 'Print',
    does: 'Ctrl + P. OpenEXR with separations holds the final and every effect by itself; PNG is a picture to show.',
    why: 'Added up, separations are the final to the last bit: a compositor may still turn one down.',
    anchor: 'header .MuiButton-contained',
    placement: 'bottom',
  },
];
