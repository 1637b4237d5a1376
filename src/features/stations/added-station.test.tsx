/** A station that is not there: what a newcomer writes to add one, found in every place that lists stations. */
import '@testing-library/jest-dom';
import { render, screen } from '@testing-library/react';
import type { StationDefinition } from '../../core/light/station';
import type { StationView } from './station-view';

jest.mock('../../core/stations', () => {
  const { withGain } = jest.requireActual<typeof import('../../core/light/light')>('../../core/light/light');
  const { number, section, toggle } = jest.requireActual<typeof import('../../core/settings/setting')>(
    '../../core/settings/setting',
  );
  const { STATIONS } = jest.requireActual<{ STATIONS: StationDefinition[] }>('../../core/stations');
  const settings = section('Shade', {
    on: toggle({ label: 'Shade', help: 'Whether the shade is in the way', default: true }),
    density: number({
      label: 'Density',
      help: 'How many stops it holds back',
      unit: 'stops',
      min: 0,
      max: 10,
      step: 0.1,
      default: 0,
    }),
  });
  type ShadeLook = { shade: { on: boolean; density: number } };
  const density = (look: unknown): number => (look as ShadeLook).shade.density;
  const shade: StationDefinition = {
    id: 'shade',
    label: 'Shade',
    settings,
    effect: {
      isActive: (look) => (look as unknown as ShadeLook).shade.on,
      reads: density,
      reach: () => 0,
      run: (light, look) => Promise.resolve({ light: withGain(light, 2 ** -density(look)) }),
    },
  };
  return { STATIONS: [...STATIONS.slice(0, -1), shade, STATIONS.at(-1)] };
});
jest.mock('./views', () => {
  const { STATION_VIEWS } = jest.requireActual<{ STATION_VIEWS: StationView[] }>('./views');
  const shade = {
    id: 'shade',
    Glyph: () => <rect data-testid="shade-glyph" />,
    rayHeight: () => 10,
    figure: () => 'half a stop',
  } as unknown as StationView;
  return { STATION_VIEWS: [...STATION_VIEWS.slice(0, -1), shade, STATION_VIEWS.at(-1)] };
});
jest.mock('../session', () => ({
  useMattes: () => [],
  useOtherElements: () => [],
  usePlates: (select: (state: unknown) => unknown) => select({ cards: {}, images: {} }),
  useFileChooser: () => [null, () => undefined],
}));
jest.mock('../reality', () => ({ RealityCheck: () => null }));

import { evaluate } from '../../core/bench/evaluate';
import { addChannel, emptyPicture } from '../../core/image/picture';
import { serialRunner } from '../../core/jobs';
import { kernelsOn } from '../../core/kernels';
import { ContentCache } from '../../core/light/cache';
import { makePlate } from '../../core/light/plate';
import { describeSettings, settingsTable } from '../../core/look/describe';
import {
  assignSetting,
  defaultLook,
  isSwitched,
  STATION_IDS,
  stationOfPath,
  type StationId,
} from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { Bench } from '../bench';
import { StationPanel } from './StationPanel';

const SHADE = 'shade' as StationId;

beforeAll(() => {
  globalThis.ResizeObserver = class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
});

describe('a station added to the two lists', () => {
  it('stands on the bench in its place, with its switch and its figure', () => {
    render(<Bench />);
    expect(screen.getByTestId('shade-glyph')).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Shade, half a stop' })).toBeInTheDocument();
    expect(screen.getByRole('switch', { name: 'Shade on' })).toBeChecked();
    const labels = screen.getAllByRole('button', { name: /light behind/ }).map((one) => one.ariaLabel);
    expect(labels.at(-1)).toBe('Look at the light behind Shade');
  });

  it('has a panel with a row for each setting', () => {
    useDesk.getState().set({ station: SHADE });
    render(<StationPanel />);
    expect(screen.getByRole('heading', { name: 'Shade' })).toBeInTheDocument();
    expect(screen.getByRole('textbox', { name: 'Shade Density' })).toBeInTheDocument();
  });

  it('is known to look, command line, docs and number keys', () => {
    expect(STATION_IDS.indexOf(SHADE)).toBe(STATION_IDS.length - 2);
    expect(isSwitched(SHADE)).toBe(true);
    expect(stationOfPath('shade.density')).toBe('shade');
    expect(describeSettings()).toContain('shade.density   0 to 10 stops   default 0');
    expect(settingsTable()).toContain('`shade.density`');
    expect(assignSetting(defaultLook(), 'shade.density=2')).toMatchObject({ shade: { density: 2 } });
    expect(() => assignSetting(defaultLook(), 'shade.density=20')).toThrow('from 0 to 10');
  });

  it('acts on the light, and is passed by when it is off', async () => {
    const picture = emptyPicture(2, 1);
    for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', Float32Array.of(1, 4));
    const context = {
      plate: makePlate('p', 'p.exr', picture),
      cache: new ContentCache(1e6),
      kernels: kernelsOn(serialRunner),
    };
    const look = assignSetting(defaultLook(), 'shade.density=1');
    const red = async (changed: typeof look, behind?: StationId): Promise<number[]> => [
      ...(await evaluate(changed, context, { scale: 1, behind })).light.total[0],
    ];
    expect(await red(look)).toEqual([0.5, 2]);
    expect(await red(look, 'veil')).toEqual([1, 4]);
    expect(await red(assignSetting(look, 'shade.on=false'))).toEqual([1, 4]);
    expect(await red(assignSetting(look, 'shade.density=2'))).toEqual([0.25, 1]);
  });
});
