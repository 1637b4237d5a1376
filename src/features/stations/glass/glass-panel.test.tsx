import '@testing-library/jest-dom';
import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { assignSetting, defaultLook, type Look } from '../../../core/look/look';
import type { GlassCurves } from '../../../core/stations/glass/queries';
import { LENSES } from '../../../core/stations/glass/starting-points';
import { EMPTY_SHOT, plateOfFile } from '../../../core/shot/shot';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { FilmPanel } from '../film/FilmPanel';
import { GlassPanel } from './GlassPanel';
import { glassView } from '.';

const mockCard = { id: 'e', plate: 'q', width: 64, height: 32, passes: [], beauty: 'beauty' };
const mockBitmap = { width: 64, height: 32 } as ImageBitmap;
const mockChosen: object[] = [];
const mockCurves: GlassCurves = {
  wavelengths: [400, 550, 700],
  index: [1.53, 1.519, 1.513],
  focus: [-8, 0, 5],
  lateral: [-1.2, 0, 0.7],
  radii: [0, 0.5, 1],
  fallOff: [1, 0.9, 0.6],
  between: { lateral: 0.0007, axial: 0.0005, pixels: 0.5 },
};

jest.mock('../../session', () => ({
  askBench: () => Promise.resolve(mockCurves),
  benchLook: (look: unknown) => look,
  useMattes: () => ['matte.floats'],
  useOtherElements: () => [],
  usePlates: Object.assign(
    (select: (state: unknown) => unknown) => select({ cards: { q: mockCard }, images: {} }),
    {
      getState: () => ({ cards: { q: mockCard } }),
    },
  ),
  useFileChooser: () => (purpose: object) => mockChosen.push(purpose),
  reportError: (error: unknown) => {
    throw error;
  },
}));
jest.mock('../../../engine/browser/client', () => ({
  EngineError: class EngineError extends Error {},
  unwrap: (outcome: { value: unknown }) => outcome.value,
  benchEngine: () => ({
    show: () => Promise.resolve({ value: { bitmap: mockBitmap } }),
    histogram: () => Promise.resolve(undefined),
  }),
}));
jest.mock('../../controls/Chart', () => ({
  Chart: function Chart({ data }: { data: { y: number[] }[] }) {
    return <div data-testid="chart">{data[0]!.y.join()}</div>;
  },
}));

const look = (): Look => useShot.getState().look;
const put = (...settings: string[]): void =>
  act(() => useShot.getState().setLook(settings.reduce(assignSetting, defaultLook())));
const field = (name: string): HTMLInputElement => screen.getByRole('textbox', { name });
const type = (name: string, text: string): void => {
  fireEvent.change(field(name), { target: { value: text } });
  fireEvent.blur(field(name));
};

beforeEach(() => {
  act(() => {
    useShot.getState().replaceShot({
      name: 's',
      plates: [plateOfFile('q', 'a.exr')],
      references: [],
      images: [{ id: 'i', name: 'warm.cube' }],
      proofs: [],
      follows: null,
      tracks: EMPTY_SHOT.tracks,
      reel: EMPTY_SHOT.reel,
      activePlate: 'q',
      look: defaultLook(),
    });
    useDesk.getState().set({ phase: 'final', revealed: null, arrivals: 1 });
  });
});

describe('the panel of Glass', () => {
  it('tells how far colours lie apart, and shows what drives them', async () => {
    render(<GlassPanel />);
    expect(await screen.findByTestId('glass-amounts')).toHaveTextContent('0.0700 % hin pixels0.50 px');
    expect(screen.getByTestId('glass-amounts')).toHaveTextContent('driven bytyped');
    expect(field('Glass Lateral colour')).toBeInTheDocument();
    expect(screen.queryByRole('textbox', { name: 'Glass Left over' })).not.toBeInTheDocument();
    put('glass.drive=glass');
    expect(field('Glass Left over')).toBeInTheDocument();
    expect(screen.queryByRole('textbox', { name: 'Glass Lateral colour' })).not.toBeInTheDocument();
    put('glass.fromLens=true');
    expect(screen.getByTestId('glass-amounts')).toHaveTextContent('traced lens');
    expect(field('Links to the lens Axial')).toHaveValue('1.00');
    expect(screen.queryByRole('textbox', { name: 'Glass Abbe number' })).not.toBeInTheDocument();
  });

  it('draws index, focus, lateral colour and fall-off', async () => {
    render(<GlassPanel />);
    const charts = await screen.findAllByTestId('chart');
    expect(charts.map((chart) => chart.textContent)).toEqual([
      '1.53,1.519,1.513',
      '-8,0,5',
      '-1.2,0,0.7',
      '100,90,60',
    ]);
  });

  it('takes materials by name and by six digits, both numbers in one step', () => {
    put('glass.scene.on=true');
    render(<GlassPanel />);
    expect(screen.getByText(/reflected inside it is not known/)).toBeInTheDocument();
    type('Glass in the scene six-digit code', '785258');
    expect([look().glass.scene.index, look().glass.scene.abbe]).toEqual([expect.closeTo(1.785, 9), 25.8]);
    act(() => useShot.temporal.getState().undo());
    expect(look().glass.scene.index).toBe(1.5168);
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Glass in the scene material' }));
    fireEvent.click(within(screen.getByRole('listbox')).getByText(/Diamond/));
    expect([look().glass.scene.index, look().glass.scene.abbe]).toEqual([2.4175, 55.3]);
    type('Glass in the scene six-digit code', 'BK7');
    expect(look().glass.scene.index).toBe(2.4175);
  });

  it('holds glass to a matte of the plate, and takes more pieces', () => {
    put('glass.scene.on=true');
    render(<GlassPanel />);
    const matte = screen.getByRole('combobox', { name: 'Glass in the scene Within' });
    expect(matte).toHaveTextContent('no matte yet');
    fireEvent.mouseDown(matte);
    fireEvent.click(within(screen.getByRole('listbox')).getByText('matte.floats'));
    expect(look().glass.scene.matte).toBe('matte.floats');
    fireEvent.click(screen.getByRole('button', { name: 'More glass' }));
    expect(look().glass.pieces).toHaveLength(1);
    expect(field('Glass 2 six-digit code')).toBeInTheDocument();
  });

  it('shows no row of a drawn vignette before there is one, but when it is looked for', () => {
    render(<GlassPanel />);
    expect(screen.queryByRole('textbox', { name: 'Vignetting Midpoint' })).not.toBeInTheDocument();
    put('glass.vignette.amount=0.3');
    expect(field('Vignetting Midpoint')).toBeInTheDocument();
  });

  it('starts from a lens in one step', () => {
    render(<GlassPanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Starting points' }));
    fireEvent.click(screen.getByRole('button', { name: `Start from ${LENSES[1]!.name}` }));
    expect(look().glass.drive).toBe('glass');
    expect(glassView.figure({ look: look(), passes: 1, moved: 0 })).toBe('V 48');
    act(() => useShot.temporal.getState().undo());
    expect(glassView.figure({ look: look(), passes: 1, moved: 0 })).toBe('clear');
  });
});

describe('the panel of Film', () => {
  it('has its parts in light’s own order', () => {
    render(<FilmPanel />);
    const titles = screen.getAllByRole('heading', { level: 3 }).map(({ textContent }) => textContent);
    expect(titles).toEqual([
      'Starting points',
      'Halation',
      'Exposure',
      'Tone',
      'Curves',
      'Saturation',
      'Curve over hue',
      'Grain',
      'Sharpening',
      'View',
    ]);
  });

  it('edits the curve of one channel at a time', () => {
    put('film.curves.red=0:1');
    render(<FilmPanel />);
    expect(screen.getByRole('region', { name: 'Curves' })).toHaveTextContent('1 set');
    fireEvent.click(screen.getByRole('button', { name: 'Red' }));
    expect(screen.getByDisplayValue('0:1')).toBeInTheDocument();
    fireEvent.click(screen.getByRole('button', { name: 'Blue' }));
    expect(screen.queryByDisplayValue('0:1')).not.toBeInTheDocument();
  });

  it('turns hues by typed numbers', () => {
    put('film.hues.blue.shift=10');
    render(<FilmPanel />);
    expect(screen.getByRole('region', { name: 'Curve over hue' })).toHaveTextContent('blue');
    type('Blues Saturation', '0.5');
    expect(look().film.hues.blue.saturation).toBe(0.5);
  });

  it('offers look-up tables, and says what it takes for one to show', () => {
    put('film.lut=warm.cube');
    render(<FilmPanel />);
    expect(screen.getByText(/once the view is Look-up table/)).toBeInTheDocument();
    put('film.lut=warm.cube', 'film.view=lut');
    expect(screen.queryByText(/once the view is Look-up table/)).not.toBeInTheDocument();
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Film Table' }));
    fireEvent.click(within(screen.getByRole('listbox')).getByText('From a file…'));
    expect(mockChosen).toEqual([{ kind: 'image', path: 'film.lut' }]);
  });

  it('switches grain off without forgetting it', () => {
    put('film.grain.amount=0.02');
    render(<FilmPanel />);
    fireEvent.click(screen.getByRole('switch', { name: 'Grain on' }));
    expect(look().film.grain).toMatchObject({ on: false, amount: 0.02 });
  });
});
