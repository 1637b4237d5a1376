import '@testing-library/jest-dom';
import { act, fireEvent, render, screen } from '@testing-library/react';
import { assignSetting, defaultLook } from '../../core/look/look';
import { NOTHING } from '../../core/measure/estimates';
import { plateOfFile } from '../../core/shot/shot';
import { useDesk } from '../../state/desk-store';
import { EMPTY_SHOT, undo, useShot } from '../../state/shot-store';
import { MeasurePanel } from '.';

const mockAsked: { name: string; input: Record<string, unknown>; plate: string }[] = [];
let mockLamp: unknown;
let mockLight: number | undefined;

jest.mock('../../engine/browser/client', () => ({
  EngineError: class extends Error {},
  benchEngine: () => ({ readLamp: () => Promise.resolve(mockProfile()) }),
}));
jest.mock('../session', () => ({
  askBench: (request: (typeof mockAsked)[number]) => {
    mockAsked.push(request);
    return Promise.resolve(request.name === 'lampLight' ? mockLight : mockLamp);
  },
  referenceId: (id: string) => `reference ${id}`,
  usePlates: (select: (state: unknown) => unknown) =>
    select({ cards: { q: { id: 'e' } }, references: { r: { width: 600, height: 800 } } }),
}));
jest.mock('../controls', () => ({
  useLatest: jest.requireActual<{ useLatest: unknown }>('../controls/use-latest').useLatest,
  Chart: ({ data }: { data: { name: string }[] }) => <div>{data.map(({ name }) => name).join(', ')}</div>,
}));

const mockProfile = () => ({
  source: { x: 400, y: 300, radius: 8, isClipped: true },
  profile: {
    ...{ radius: [20, 40, 80], light: [0.4, 0.1, 0.02], clipped: [0.5, 0, 0] },
    ...{ red: [0.4, 0.1, 0.02], green: [0.4, 0.1, 0.02], blue: [0.4, 0.1, 0.02] },
  },
  angular: { angle: [0, 90, 180, 270], contrast: [0, 1, 0, 1] },
  height: 800,
});
const estimate = (value: number) => ({ value, low: 0.9 * value, high: 1.1 * value });
const circle = { x: 0.5, y: 0.5, radius: 0.3 };
const settle = (change: () => void): Promise<void> =>
  act(async () => {
    change();
    for (let turn = 0; turn < 20; turn++) await Promise.resolve();
  });

beforeEach(() => {
  mockAsked.length = 0;
  mockLight = 0.001;
  mockLamp = {
    ...mockProfile(),
    ...NOTHING,
    ...{ fitted: [0.4, 0.1, 0.02], notes: ['the lamp is cut off at white'] },
    bloom: { falloff: estimate(2.468), radius: null, amount: null },
    spread: { ...NOTHING.spread, bloom: estimate(6.4) },
  };
  globalThis.ResizeObserver = class {
    constructor(private readonly changed: ResizeObserverCallback) {}
    observe = (): void => this.changed([], this);
    unobserve = (): void => undefined;
    disconnect = (): void => undefined;
  };
  Object.defineProperty(HTMLElement.prototype, 'clientWidth', { configurable: true, value: 400 });
  useShot.getState().replaceShot({
    ...EMPTY_SHOT,
    plates: [plateOfFile('q', 'quay.exr')],
    references: [
      { id: 'r', name: 'harbour.jpg', file: { id: 'f', name: 'f' }, exposure: 1, white: [1, 1, 2] },
    ],
    activePlate: 'q',
    look: assignSetting(defaultLook(), 'veil.bloom.law=eye'),
  });
  useDesk.getState().set({ circles: {}, compare: 'beside', against: { kind: 'reference', id: 'r' } });
});

it('measures the reference’s lamp as it is shown, and its amounts by the lamp of the picture', async () => {
  render(<MeasurePanel />);
  expect(screen.getByTestId('measure-status')).toHaveTextContent(
    'draw a circle round a lamp of the reference',
  );
  expect(mockAsked).toEqual([]);
  await settle(() => useDesk.getState().set({ circles: { compared: circle } }));
  expect(mockAsked).toMatchObject([
    { name: 'measureLamp', plate: 'reference r', input: { circle, gains: [2, 2, 4] } },
  ]);
  expect(screen.getByTestId('measure-status')).toHaveTextContent('for amounts');
  expect(screen.getByRole('row', { name: /^Bloom: amount/ })).toHaveTextContent('too little evidence');
  expect(screen.getByText('the lamp is cut off at white')).toBeInTheDocument();
  await settle(() => useDesk.getState().set({ circles: { compared: circle, shown: circle } }));
  // 6.4 square pixels of 800 squared, of a lamp of a thousandth: a hundredth of its light.
  expect(screen.getByRole('row', { name: /^Bloom: amount/ })).toHaveTextContent('1.00 0.90 to 1.10');
  expect(mockAsked.filter(({ name }) => name === 'measureLamp')).toHaveLength(1);
  expect(screen.getByTestId('lamp-chart')).toHaveTextContent('reference, reference, picture, picture, fit');
  fireEvent.click(screen.getByRole('button', { name: 'The light of each channel' }));
  expect(screen.getByTestId('lamp-chart')).toHaveTextContent('picture, blue');
});

it('takes nothing by itself, and one value at a time as one step', async () => {
  render(<MeasurePanel />);
  await settle(() => useDesk.getState().set({ circles: { compared: circle } }));
  expect(useShot.getState().look.veil.bloom).toMatchObject({ falloff: 2, law: 'eye' });
  fireEvent.click(screen.getByRole('button', { name: 'Take Bloom: fall-off' }));
  expect(useShot.getState().look.veil.bloom).toMatchObject({ falloff: 2.468, law: 'power' });
  expect(screen.getByRole('button', { name: 'Take Bloom: fall-off' })).toBeDisabled();
  expect(screen.queryByRole('button', { name: 'Take Bloom: core radius' })).toBeNull();
  act(() => undo());
  expect(useShot.getState().look.veil.bloom).toMatchObject({ falloff: 2, law: 'eye' });
});

it('says where there is no light', async () => {
  mockLamp = undefined;
  render(<MeasurePanel />);
  await settle(() => useDesk.getState().set({ circles: { compared: circle } }));
  expect(screen.getByTestId('measure-status')).toHaveTextContent('there is no light in this circle');
  expect(screen.queryByRole('table')).toBeNull();
});
