import '@testing-library/jest-dom';
import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { defaultLook, type Look } from '../../core/look/look';
import { plateOfFile } from '../../core/shot/shot';
import type { ShowRequest } from '../../engine/messages';
import { useDesk } from '../../state/desk-store';
import { EMPTY_SHOT, undo, useShot } from '../../state/shot-store';
import { startStrip, StripView, toggleStrip } from '.';

const mockShown: ShowRequest[] = [];
let mockCancelled = 0;
let mockHold = false;
const mockNotes: string[] = [];

jest.mock('../../engine/browser/client', () => ({
  EngineError: class extends Error {},
  unwrap: (outcome: { value: unknown }) => outcome.value,
  benchEngine: () => ({
    show: (request: ShowRequest) => {
      mockShown.push(request);
      const bitmap = { width: 128, height: 72, close: () => undefined };
      return mockHold ? new Promise(() => undefined) : Promise.resolve({ value: { bitmap } });
    },
    cancel: () => Promise.resolve(mockCancelled++),
  }),
}));
jest.mock('../session', () => ({
  benchLook: (look: Look) => look,
  download: () => undefined,
  notify: (text: string) => mockNotes.push(text),
  reportError: (error: unknown) => {
    throw error;
  },
  useMattes: () => [],
  useOtherElements: () => [],
  usePlates: Object.assign((select: (state: unknown) => unknown) => select({ cards: { q: mockCard } }), {
    getState: () => ({ cards: { q: mockCard } }),
  }),
}));

const mockCard = { id: 'e', plate: 'q', revision: 0, name: 'quay.exr', width: 1280, height: 720 };
const settle = async (): Promise<void> => {
  for (let k = 0; k < 12; k++) await act(() => new Promise<void>((resolve) => setTimeout(resolve, 0)));
};
const amount = (): number => useShot.getState().look.veil.bloom.amount;
const cells = (): string[] =>
  screen.getAllByRole('button', { name: /^Take / }).map((button) => button.getAttribute('aria-label')!);

beforeEach(() => {
  mockShown.length = 0;
  mockNotes.length = 0;
  mockCancelled = 0;
  mockHold = false;
  Object.defineProperty(HTMLElement.prototype, 'clientWidth', { configurable: true, value: 800 });
  Object.defineProperty(HTMLElement.prototype, 'clientHeight', { configurable: true, value: 600 });
  globalThis.ResizeObserver = class {
    constructor(private readonly told: ResizeObserverCallback) {}
    observe = (): void => this.told([], this);
    unobserve = (): void => undefined;
    disconnect = (): void => undefined;
  };
  useShot.getState().replaceShot({
    ...EMPTY_SHOT,
    plates: [plateOfFile('q', 'quay.exr')],
    activePlate: 'q',
    look: defaultLook(),
  });
  useDesk.getState().set({ strip: null, station: 'veil', zoom: null, centre: null });
});

async function open(path?: string): Promise<void> {
  act(() => startStrip(path));
  render(<StripView />);
  await settle();
}

describe('the test strip', () => {
  it('shows each value as a draft first and then finer, the present one and the real ones marked', async () => {
    await open('veil.bloom.amount');
    expect(cells()).toEqual([
      'Take 0.00 %, present',
      ...['0.50', '1.08', '2.32', '5.00'].map((text) => `Take ${text} %, as real lenses have`),
    ]);
    expect(mockShown.map(({ draft }) => draft)).toEqual(Array.from({ length: 10 }, (_, k) => k < 5));
    expect(mockShown[5]!.scale).toBe(2 * mockShown[0]!.scale);
    expect(mockShown.every(({ lane, apart }) => lane === 'strip' && apart![0] === 'veil.bloom')).toBe(true);
    expect(mockShown.slice(0, 5).map(({ look }) => look.veil.bloom.amount)).toEqual([
      0, 0.005, 0.0108, 0.0232, 0.05,
    ]);
    expect(screen.getByTestId('strip-status')).toHaveTextContent(
      '5 pictures; green lies where real lenses do',
    );
  });

  it('takes the value that is clicked as one step, and goes', async () => {
    await open('veil.bloom.amount');
    fireEvent.click(screen.getByRole('button', { name: /^Take 2.32 %/ }));
    expect(amount()).toBe(0.0232);
    expect(useDesk.getState().strip).toBeNull();
    act(() => undo());
    expect(amount()).toBe(0);
  });

  it('starts a finer strip about a value', async () => {
    await open('veil.bloom.amount');
    fireEvent.click(screen.getByRole('button', { name: 'Finer about 1.08 %' }));
    await settle();
    expect(amount()).toBe(0.0108);
    const values = useDesk.getState().strip![0]!.values as number[];
    expect([values[0], values.at(-1)]).toEqual([0.005, 0.0232]);
    expect(cells()).toContain('Take 1.08 %, present, as real lenses have');
  });

  it('lays values out anew by ends, number and spacing, or as they are typed', async () => {
    await open('veil.bloom.amount');
    const values = (): number[] => useDesk.getState().strip![0]!.values as number[];
    const from = screen.getByRole('textbox', { name: 'Across from' });
    fireEvent.change(from, { target: { value: '1' } });
    fireEvent.blur(from);
    expect(values()).toEqual([0.01, 0.015, 0.0224, 0.0334, 0.05]);
    const list = screen.getByRole('textbox', { name: 'Across: values' });
    fireEvent.change(list, { target: { value: '0; 1/2; 3' } });
    fireEvent.blur(list);
    expect(values()).toEqual([0, 0.005, 0.03]);
    fireEvent.change(list, { target: { value: '0; x' } });
    expect(list).toHaveAttribute('aria-invalid', 'true');
    fireEvent.blur(list);
    expect(values()).toEqual([0, 0.005, 0.03]);
  });

  it('becomes a grid by a second setting, and one row again', async () => {
    await open('veil.bloom.amount');
    fireEvent.click(screen.getByRole('button', { name: 'Second setting' }));
    await settle();
    expect(cells()).toHaveLength(15);
    expect(
      within(screen.getByRole('group', { name: 'Down' })).getByRole('combobox', { name: 'Down: setting' }),
    ).toHaveValue('Veil, Bloom: Core radius');
    fireEvent.click(screen.getByRole('button', { name: 'Leave out down' }));
    expect(useDesk.getState().strip).toHaveLength(1);
    await settle();
  });

  it('is given up at any time', async () => {
    mockHold = true;
    await open('film.exposure');
    expect(screen.getByTestId('strip-status')).toHaveTextContent('0 %');
    fireEvent.click(screen.getByRole('button', { name: 'Stop' }));
    expect(mockCancelled).toBeGreaterThan(0);
    expect(screen.getByTestId('strip-status')).toHaveTextContent('stopped');
    expect(screen.getByRole('button', { name: 'Print the sheet' })).toBeDisabled();
    fireEvent.click(screen.getByRole('button', { name: 'Close' }));
    expect(useDesk.getState().strip).toBeNull();
  });

  it('says that a part is off, and switches it on', async () => {
    act(() => useShot.getState().change('veil.bloom.on', false));
    await open('veil.bloom.amount');
    expect(screen.getByText(/Bloom is off, so this changes nothing/)).toBeInTheDocument();
    fireEvent.click(screen.getByRole('button', { name: 'Switch it on' }));
    expect(useShot.getState().look.veil.bloom.on).toBe(true);
    await settle();
  });

  it('tries whole pupils, moves by arrow keys, and begins by station', async () => {
    act(() => useDesk.getState().set({ station: 'pupil' }));
    await open();
    expect(cells()[1]).toBe('Take Five straight blades');
    const [first, second] = screen.getAllByRole('button', { name: /^Take / });
    act(() => first!.focus());
    fireEvent.keyDown(first!, { key: 'ArrowRight' });
    expect(second).toHaveFocus();
    fireEvent.click(second!);
    expect(useShot.getState().look.pupil.blades).toBe(5);
  });

  it('goes by its key, and refuses what has no values', () => {
    toggleStrip();
    expect(useDesk.getState().strip![0]!.path).toBe('veil.bloom.amount');
    toggleStrip();
    expect(useDesk.getState().strip).toBeNull();
    startStrip('film.curve');
    expect(mockNotes.join()).toMatch(/has no values to try/);
    useShot.setState({ activePlate: null });
    startStrip();
    expect(mockNotes.join()).toMatch(/bring a render in/);
  });
});
