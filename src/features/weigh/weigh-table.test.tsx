import '@testing-library/jest-dom';
import { act, fireEvent, render, screen } from '@testing-library/react';
import type { Weight } from '../../core/bench/weigh';
import { assignSetting, defaultLook } from '../../core/look/look';
import { plateOfFile } from '../../core/shot/shot';
import { useDesk } from '../../state/desk-store';
import { EMPTY_SHOT, useShot } from '../../state/shot-store';
import { WeighTable } from '.';

const mockAsked: { timed: boolean }[] = [];
const row = (
  path: string,
  label: string,
  station: Weight['station'],
  share: number,
  stops: number,
): Weight => ({
  ...{ path, label, station, share, stops, x: 12, y: 7 },
  milliseconds: undefined,
});
const mockRows = [
  row('elements[0].passes.emission.on', 'emission', 'plate', 0.4, 6),
  row('veil.bloom.on', 'Bloom', 'veil', 0.012, 1.99),
  row('veil.stack[0].on', 'Layer 1', 'veil', 0, 0.001),
];

jest.mock('../session', () => ({
  askBench: ({ input }: { input: { timed: boolean } }) => {
    mockAsked.push(input);
    const weights = mockRows.map((one, k) => ({
      ...one,
      ...(input.timed && { milliseconds: [3, 50, 80][k] }),
    }));
    return Promise.resolve({ weights });
  },
  reportError: (error: unknown) => {
    throw error;
  },
  useMattes: () => [],
  useOtherElements: () => [],
  usePlates: (select: (state: unknown) => unknown) => select({ cards: { q: { id: 'e' } } }),
}));

const settle = (): Promise<void> => act(() => new Promise<void>((resolve) => setTimeout(resolve, 0)));
const names = (): (string | null)[] =>
  screen.getAllByRole('button', { name: /^Show / }).map((button) => button.textContent);

beforeEach(() => {
  mockAsked.length = 0;
  useShot.getState().replaceShot({
    ...EMPTY_SHOT,
    plates: [plateOfFile('q', 'quay.exr')],
    activePlate: 'q',
    look: ['veil.bloom.amount=0.02', 'veil.stack[0].amount=0.01'].reduce(assignSetting, defaultLook()),
  });
  useDesk.getState().set({ phase: 'final', dragging: false, subject: { kind: 'final' }, station: 'plate' });
});

async function open(): Promise<void> {
  render(<WeighTable />);
  fireEvent.click(screen.getByRole('button', { name: 'What still matters' }));
  await settle();
  await settle();
}

describe('the table of what still matters', () => {
  it('asks only once it is open, for figures first and times after', async () => {
    render(<WeighTable />);
    await settle();
    expect(mockAsked).toEqual([]);
    fireEvent.click(screen.getByRole('button', { name: 'What still matters' }));
    await settle();
    await settle();
    expect(mockAsked).toEqual([{ timed: false }, { timed: true }]);
    expect(screen.getByTestId('weight veil.bloom.on')).toHaveTextContent('1.20 %+2.0 st at 12, 750 ms');
    expect(screen.getByTestId('weight veil.stack[0].on')).toHaveTextContent('not seen');
    expect(screen.getByText(/could be left out without anyone seeing it/)).toBeInTheDocument();
  });

  it('is put in order by its columns', async () => {
    await open();
    expect(names()).toEqual(['emission', 'Veil · Bloom', 'Veil · Layer 1']);
    fireEvent.click(screen.getByText('Time'));
    expect(names()).toEqual(['Veil · Layer 1', 'Veil · Bloom', 'emission']);
  });

  it('switches, shows alone and leads to what a row is of', async () => {
    await open();
    fireEvent.click(screen.getByRole('switch', { name: 'Layer 1 on' }));
    expect(useShot.getState().look.veil.stack[0]!.on).toBe(false);
    fireEvent.click(screen.getByRole('button', { name: 'Bloom solo' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'separation', name: 'veil.bloom' });
    fireEvent.click(screen.getByRole('button', { name: 'emission solo' }));
    expect(useShot.getState().look.elements[0]!.passes['emission']!.solo).toBe(true);
    fireEvent.click(screen.getByRole('button', { name: 'Show Bloom' }));
    expect(useDesk.getState()).toMatchObject({ station: 'veil', revealed: 'veil.bloom.on' });
    await settle();
  });

  it('waits while a hand moves', async () => {
    act(() => useDesk.getState().set({ dragging: true }));
    await open();
    expect(mockAsked).toEqual([]);
    expect(screen.getByText('Weighing …')).toBeInTheDocument();
  });
});
