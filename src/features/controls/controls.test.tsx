import { plateOfFile } from '../../core/shot/shot';
import '@testing-library/jest-dom';
import { act, fireEvent, render, screen } from '@testing-library/react';
import { EMPTY_SHOT, useShot } from '../../state/shot-store';
import { useDesk } from '../../state/desk-store';
import { defaultLook, settingAt } from '../../core/look/look';
import type { NumberMeta, Setting } from '../../core/settings/setting';
import { readQuantity } from '../common';
import { shownText } from '../../core/settings/shown-text';
import { fromPosition, nudged, SLIDER_STEPS, toPosition } from './slider-scale';
import { StationPanel } from '../stations';

jest.mock('../session', () => ({
  useMattes: () => [],
  useOtherElements: () => [],
  useFileChooser: () => () => undefined,
  renderId: ({ id }: { id: string }) => id,
  usePlates: (select: (state: unknown) => unknown) =>
    select({
      thumbnails: {},
      failures: {},
      cards: {
        q: {
          id: 'q',
          name: 'quay.exr',
          width: 1280,
          height: 720,
          sampleType: 'half',
          compression: 'zip',
          bytes: 52428800,
          beauty: 'beauty',
          plate: 'q',
          frame: { x: 0, y: 0, width: 1280, height: 720 },
          depth: 'depth',
          passes: [
            {
              name: 'beauty',
              role: 'beauty',
              kind: 'colour',
              light: true,
              component: false,
              channels: ['R', 'G', 'B'],
            },
            {
              name: 'emission',
              role: 'emission',
              kind: 'colour',
              light: true,
              component: true,
              channels: ['emission.R'],
            },
            { name: 'depth', role: 'depth', kind: 'depth', light: false, component: false, channels: ['Z'] },
          ],
        },
      },
    }),
}));

beforeEach(() => {
  useShot.getState().replaceShot({
    ...EMPTY_SHOT,
    plates: [plateOfFile('q', 'quay.exr')],
    activePlate: 'q',
    look: defaultLook(),
  });
  useDesk
    .getState()
    .set({ station: 'veil', subject: { kind: 'final' }, feed: { pixels: 0.002, light: 0.9 }, accounts: {} });
});

const number = (path: string): Setting & NumberMeta => settingAt(path) as Setting & NumberMeta;
const bloom = (): ReturnType<typeof defaultLook>['veil']['bloom'] => useShot.getState().look.veil.bloom;

describe('typed numbers', () => {
  it.each([
    ['3', 3],
    ['1/4', 0.25],
    ['2*(3+1)-1', 7],
    ['-1.5', -1.5],
    ['2^3', 8],
    ['1,5', 1.5],
    ['2.5 %', 2.5],
    ['0.6 % h', 0.6],
    ['4000 K', 4000],
    ['1e3', 1000],
    ['50 mm', 50, 'mm'],
    ['3 m', 3, 'm'],
    ['3 m', 3000, 'mm'],
    ['0,5 km', 500, 'm'],
    ['2 in', 50.8, 'mm'],
    ['35mm + 1cm', 45, 'mm'],
    ['f/2', 2, 'f/'],
    ['f / 5.6', 5.6, 'f/'],
    ['5k', 5000, 'K'],
    ['5.6kK', 5600, 'K'],
    ['6500', 6500, 'K'],
    ['2k', 2000, ''],
    ['1 rad', 57.29577951308232, 'deg'],
    ['45°', 45, 'deg'],
    ['1/3 EV', 1 / 3, 'st'],
    ['-2 stops', -2, 'st'],
  ])('%s is %d %s', (text, value, unit = text.includes('K') ? 'K' : text.includes('h') ? '% h' : '%') => {
    expect(readQuantity(text, unit)).toBeCloseTo(value, 10);
  });

  it.each(['', 'a lot', '1/0', '2 +', 'alert(1)', 'constructor', 'a.b', '[1]', '"3"+1'])(
    '%s is nothing',
    (text) => {
      expect(readQuantity(text)).toBeUndefined();
    },
  );
});

it('a unit of another kind is nothing', () => {
  for (const [text, unit] of [
    ['3 m', 'K'],
    ['5 K', 'mm'],
    ['20 %', 'm'],
  ] as const)
    expect(readQuantity(text, unit)).toBeUndefined();
});

describe('sliders', () => {
  it.each([
    'veil.bloom.amount',
    'veil.bloom.radius',
    'veil.feed.threshold',
    'veil.bloom.falloff',
    'plate.exposure',
    'veil.bloom.tint',
  ])('%s comes back from where it is put', (path) => {
    const setting = number(path);
    for (const position of [0, 120, 333, 500, 801, SLIDER_STEPS]) {
      const value = fromPosition(setting, position);
      expect(value).toBeGreaterThanOrEqual(setting.min);
      expect(value).toBeLessThanOrEqual(setting.max);
      expect(Math.abs(toPosition(setting, value) - position)).toBeLessThan(SLIDER_STEPS / 60);
    }
    expect(toPosition(setting, setting.min)).toBe(0);
    expect(toPosition(setting, setting.max)).toBeCloseTo(SLIDER_STEPS, 6);
  });

  it('halts at the f-stops that lenses have marked; others may be typed', () => {
    const fStop = number('camera.fStop');
    // Common practice: thirds of a stop as they are engraved.
    expect(nudged(fStop, 2.8, 1, false)).toBe(3.2);
    expect(nudged(fStop, 2.8, -1, false)).toBe(2.5);
    expect(nudged(fStop, 2.8, 1, true)).toBe(4);
    expect(nudged(fStop, 1.33, -1, false)).toBe(1.2);
    expect(nudged(fStop, 0.03, -1, false)).toBe(0.01);
    expect([1.4, 1.6, 1.8, 2]).toContain(fromPosition(fStop, toPosition(fStop, 1.7)));
    expect(fromPosition(fStop, toPosition(fStop, 0.1))).toBeCloseTo(0.1, 2);
  });

  it('shows values in the unit of the panel and never hides digits that were typed', () => {
    expect(shownText(number('veil.bloom.amount'), 0.02)).toBe('2.00');
    expect(shownText(number('veil.bloom.amount'), 0.012345)).toBe('1.2345');
    expect(shownText(number('veil.bloom.tint'), 3200)).toBe('3200');
  });
});

describe('the panel of a station', () => {
  it('is made from the schema', () => {
    render(<StationPanel />);
    expect(screen.getByRole('complementary', { name: 'Veil settings' })).toBeInTheDocument();
    for (const group of ['Feed', 'Bloom'])
      expect(screen.getByRole('heading', { name: group })).toBeInTheDocument();
    expect(screen.getByRole('textbox', { name: 'Bloom Amount' })).toHaveValue('0.00');
    act(() => useDesk.getState().set({ station: 'film' }));
    expect(screen.getByRole('textbox', { name: 'Film Exposure' })).toBeInTheDocument();
    act(() => useDesk.getState().set({ station: 'plate' }));
    expect(screen.getByText('1280 x 720, half, zip')).toBeInTheDocument();
    expect(screen.getByText('50 MB')).toBeInTheDocument();
  });

  it('takes a typed number in the shown unit, with arithmetic', () => {
    render(<StationPanel />);
    const field = screen.getByRole('textbox', { name: 'Bloom Amount' });
    act(() => field.focus());
    fireEvent.change(field, { target: { value: '3/2' } });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(bloom().amount).toBeCloseTo(0.015, 12);
    expect(field).toHaveValue('1.50');
  });

  it('refuses nonsense and keeps what was there; Escape gives up', () => {
    render(<StationPanel />);
    const field = screen.getByRole('textbox', { name: 'Bloom Fall-off' });
    fireEvent.change(field, { target: { value: 'steep' } });
    expect(field).toHaveAttribute('aria-invalid', 'true');
    fireEvent.blur(field);
    expect(bloom().falloff).toBe(2);
    fireEvent.change(field, { target: { value: '3' } });
    fireEvent.keyDown(field, { key: 'Escape' });
    expect(bloom().falloff).toBe(2);
    expect(field).toHaveValue('2.00');
  });

  it('holds values within their range, and steps them with the arrow keys', () => {
    render(<StationPanel />);
    const field = screen.getByRole('textbox', { name: 'Bloom Fall-off' });
    act(() => field.focus());
    fireEvent.change(field, { target: { value: '90' } });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(bloom().falloff).toBe(4);
    fireEvent.keyDown(field, { key: 'ArrowDown' });
    expect(bloom().falloff).toBeCloseTo(3.95, 9);
    fireEvent.keyDown(field, { key: 'ArrowDown', shiftKey: true });
    expect(bloom().falloff).toBeCloseTo(3.45, 9);
  });

  it('goes on with an arrow from what is typed', () => {
    render(<StationPanel />);
    const field = screen.getByRole('textbox', { name: 'Bloom Fall-off' });
    fireEvent.change(field, { target: { value: '3' } });
    fireEvent.keyDown(field, { key: 'ArrowUp' });
    expect(bloom().falloff).toBeCloseTo(3.05, 9);
    expect(field).toHaveValue('3.05');
  });

  it('shows a reset mark only beside what was changed', () => {
    render(<StationPanel />);
    expect(screen.queryByRole('button', { name: 'Reset Bloom Fall-off' })).toBeNull();
    act(() => useShot.getState().change('veil.bloom.falloff', 3));
    fireEvent.click(screen.getByRole('button', { name: 'Reset Bloom Fall-off' }));
    expect(bloom().falloff).toBe(2);
  });

  it('offers the passes that hold light, and keeps one that is missing', () => {
    render(<StationPanel />);
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Feed From pass' }));
    expect(screen.getAllByRole('option').map((option) => option.textContent)).toEqual(['beauty', 'emission']);
    fireEvent.click(screen.getByRole('option', { name: 'emission' }));
    expect(useShot.getState().look.veil.feed.pass).toBe('emission');
    act(() => useShot.getState().change('veil.feed.pass', 'fog'));
    expect(screen.getAllByText('fog (missing)').length).toBeGreaterThan(0);
  });

  it('tells what feeds, warns when everything will glow, and shows the feed', () => {
    render(<StationPanel />);
    const share = screen.getByRole('textbox', { name: 'Feed Wished share of the pixels' });
    expect(share).toHaveValue('0.20');
    act(() => useDesk.getState().set({ feed: { pixels: 0.3, light: 0.99, kind: 'scene' } }));
    expect(screen.getByTestId('feed-share')).toHaveTextContent('everything glows');
    fireEvent.click(screen.getByRole('button', { name: 'Show feed' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'feed' });
    fireEvent.click(screen.getByRole('button', { name: 'Bloom alone' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'separation', name: 'veil.bloom' });
    fireEvent.click(screen.getByRole('button', { name: 'Bloom alone' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'final' });
  });
});
