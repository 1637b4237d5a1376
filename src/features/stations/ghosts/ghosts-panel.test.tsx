import '@testing-library/jest-dom';
import { act, fireEvent, render, screen, within } from '@testing-library/react';
import type { ResolvedLight } from '../../../core/light/resolved-light';
import type { GhostTable, LensDrawing } from '../../../core/stations/ghosts/queries';
import { FLARES } from '../../../core/stations/ghosts/starting-points';
import { assignSetting, defaultLook, type Look } from '../../../core/look/look';
import { plateOfFile } from '../../../core/shot/shot';
import { useDesk } from '../../../state/desk-store';
import { EMPTY_SHOT, useShot } from '../../../state/shot-store';
import { RealityCheck } from '../../reality';
import { GhostsPanel } from './GhostsPanel';

const mockCard = { id: 'e', plate: 'q', width: 64, height: 32, passes: [], beauty: 'beauty' };
const mockBitmap = { width: 64, height: 32 } as ImageBitmap;
const mockBrought: string[] = [];

const mockFound: ResolvedLight = {
  name: 'Found 1',
  index: 0,
  isFound: true,
  x: 0.25,
  y: 0.75,
  flux: [200, 100, 50],
  size: 0.02,
  distance: 12,
  visibility: 1,
  flare: 1,
  veil: 0,
};
const mockTable: Omit<GhostTable, 'sheet'> & { sheet: ImageBitmap } = {
  rows: [
    { name: '8-10', isKept: true, size: 0.12, flux: 2e-5, stops: 0 },
    { name: '0-6', isKept: false, size: 0.4, flux: 1e-6, stops: -3.2 },
    { name: '1-9', isKept: false, size: 0.01, flux: 0, stops: -Infinity },
  ],
  sheet: mockBitmap,
  places: [],
  shown: 2e-5,
  light: 'Light 1',
};
const mockDrawing: LensDrawing = {
  section: {
    glasses: [
      {
        outline: [
          [0, -5],
          [1, 0],
          [0, 5],
        ],
        nd: 1.6,
      },
    ],
    stop: { z: 3, edge: 2, outer: 5 },
    sensor: { z: 30, half: 20 },
    rays: [
      [
        [-10, 2],
        [30, 0],
      ],
    ],
    ghost: undefined,
  },
  facts: {
    focalLength: 35,
    backFocus: 24.5,
    length: 20,
    fNumber: 2.8,
    entrancePupilDiameter: 12.5,
    entrancePupilPlace: 10,
  },
  scale: 0.7,
  shift: 0,
  surfaces: 11,
};
const mockAsked: { name: string; input: Record<string, unknown> }[] = [];

jest.mock('../../session', () => ({
  askBench: ({ name, look, input }: { name: string; look: Look; input: Record<string, unknown> }) => {
    mockAsked.push({ name, input });
    if (name === 'ghostTable') return Promise.resolve(mockTable);
    if (name === 'lensDrawing') return Promise.resolve(mockDrawing);
    const listed = look.ghosts.lights.map((light, index) => ({
      ...mockFound,
      ...light,
      index,
      isFound: false,
      name: light.name || `Light ${index + 1}`,
      flux: [light.gain, light.gain, light.gain],
      visibility: 0.6,
    }));
    return Promise.resolve({ lights: look.ghosts.find.on ? [...listed, mockFound] : listed });
  },
  useMattes: () => [],
  useOtherElements: () => [],
  usePlates: Object.assign((select: (state: unknown) => unknown) => select({ cards: { q: mockCard } }), {
    getState: () => ({ cards: { q: mockCard } }),
  }),
  benchLook: (look: unknown) => look,
  download: (_: unknown, name: string) => mockBrought.push(`saved ${name}`),
  bringInLights: (file: File) => mockBrought.push(file.name),
  bringInLens: (file: File) => mockBrought.push(file.name),
  reportError: (error: unknown) => {
    throw error;
  },
}));
jest.mock('../../../engine/browser/client', () => ({
  EngineError: class EngineError extends Error {},
  unwrap: (outcome: { value: unknown }) => outcome.value,
  benchEngine: () => ({ show: () => Promise.resolve({ value: { bitmap: mockBitmap } }) }),
}));

const ghosts = (): Look['ghosts'] => useShot.getState().look.ghosts;
const put = (...settings: string[]): void =>
  act(() => useShot.getState().setLook(['ghosts.on=true', ...settings].reduce(assignSetting, defaultLook())));
const undo = (): void => act(() => useShot.temporal.getState().undo());
const show = async (): Promise<void> => {
  render(<GhostsPanel />);
  await act(async () => Promise.resolve());
};

beforeEach(() => {
  mockAsked.length = mockBrought.length = 0;
  Element.prototype.scrollIntoView = jest.fn();
  useShot.getState().replaceShot({
    ...EMPTY_SHOT,
    plates: [plateOfFile('q', 'q.exr')],
    activePlate: 'q',
    look: defaultLook(),
  });
  useDesk.setState({ station: 'ghosts', light: null, ghost: null, phase: 'final', dragging: false });
});

describe('the panel of Ghosts', () => {
  it('says what is missing, and begins from a flare that takes the brightest spot', async () => {
    await show();
    expect(screen.getByText(/Ghosts need a light/)).toBeVisible();
    fireEvent.click(screen.getByRole('button', { name: `Start from ${FLARES[1]!.name}` }));
    expect(ghosts()).toMatchObject({ on: true, find: { on: true }, count: 5, amount: 60 });
    expect(screen.queryByText(/Ghosts need a light/)).toBeNull();
    undo();
    expect(ghosts().on).toBe(false);
  });

  it('draws the lens with its figures, in a colour that is chosen', async () => {
    await show();
    expect(
      await screen.findByRole('img', { name: /Cross-section of the lens with rays at 8 degrees/ }),
    ).toBeVisible();
    expect(screen.getByText('scaled x0.700')).toBeVisible();
    expect(screen.getByText('back focus 24.5 mm')).toBeVisible();
    fireEvent.click(screen.getByRole('button', { name: 'Rays in blue, 486.1 nm' }));
    await act(async () => Promise.resolve());
    expect(mockAsked.filter(({ name }) => name === 'lensDrawing').at(-1)!.input.wavelength).toBe(486.1);
  });

  it('has a list of lights: placed, named, switched, removed, each a step', async () => {
    put();
    await show();
    fireEvent.click(screen.getByRole('button', { name: 'New light' }));
    expect(ghosts().lights).toMatchObject([{ x: 0.5, y: 0.3, gain: 10000 }]);
    expect(useDesk.getState().light).toBe(0);
    expect(await screen.findByText(/60 % seen/)).toBeVisible();
    const name = screen.getByRole('textbox', { name: 'Light 1 Name' });
    fireEvent.change(name, { target: { value: 'Beacon' } });
    fireEvent.blur(name);
    expect(ghosts().lights[0]!.name).toBe('Beacon');
    fireEvent.click(screen.getByRole('switch', { name: 'Beacon on' }));
    expect(ghosts().lights[0]!.on).toBe(false);
    fireEvent.click(screen.getByRole('button', { name: 'Remove Beacon' }));
    expect(ghosts().lights).toEqual([]);
    undo();
    expect(ghosts().lights[0]!.name).toBe('Beacon');
  });

  it('shows the settings that have a say: places in space, angles of directed lights, the group', async () => {
    put('ghosts.lights[0].x=0.4');
    act(() => useDesk.setState({ light: 0 }));
    await show();
    const list = screen.getByRole('region', { name: 'Light 1' });
    expect(within(list).queryByText('Toward the viewer')).toBeNull();
    expect(within(list).queryByText('Turn')).toBeNull();
    act(() => useShot.getState().change('ghosts.lights[0].space', true));
    act(() => useShot.getState().change('ghosts.lights[0].cone', 60));
    expect(within(list).getByText('Toward the viewer')).toBeVisible();
    expect(within(list).queryByText('Across')).toBeNull();
    expect(within(list).getByText('Turn')).toBeVisible();
    act(() => useShot.getState().change('ghosts.lights[0].group', 'quay'));
    const gains = within(list).getAllByText('Gain');
    expect(gains).toHaveLength(2);
    act(() => useShot.getState().change('ghosts.groups.quay.gain', 3));
    expect(ghosts().groups.quay).toMatchObject({ on: true, gain: 3 });
  });

  it('takes found lights over into the list as one step', async () => {
    put('ghosts.find.on=true');
    await show();
    expect(await screen.findByTestId('found-lights')).toHaveTextContent('1 found');
    fireEvent.click(screen.getByRole('button', { name: 'Take over' }));
    expect(ghosts().find.on).toBe(false);
    const [light] = ghosts().lights;
    expect(light).toMatchObject({ name: 'Found 1', x: 0.25, y: 0.75, distance: 12, size: 0.02 });
    // Luminance of the light that was found.
    expect(light!.gain).toBeCloseTo(0.2126 * 200 + 0.7152 * 100 + 0.0722 * 50, 1);
    expect(light!.tint).toMatch(/^#ff/);
    undo();
    expect(ghosts().find.on).toBe(true);
    expect(ghosts().lights).toEqual([]);
  });

  it('lists ghosts by brightness; each is chosen, soloed, switched off, weighted', async () => {
    put('ghosts.lights[0].x=0.4');
    await show();
    const table = await screen.findByTestId('ghost-table');
    expect(table).toHaveTextContent('1 of 3 shown, 0.002 % of the light of Light 1');
    expect(table).toHaveTextContent('-3.2 st');
    expect(table).toHaveTextContent('none');
    fireEvent.click(within(table).getByRole('button', { name: 'Ghost 0-6 solo' }));
    expect(ghosts().pairs['0-6']).toMatchObject({ on: true, solo: true });
    fireEvent.click(within(table).getByRole('switch', { name: 'Ghost 8-10 on' }));
    expect(ghosts().pairs['8-10']!.on).toBe(false);
    fireEvent.click(within(table).getByRole('button', { name: 'Ghost 8-10' }));
    expect(useDesk.getState().ghost).toBe('8-10');
    await act(async () => Promise.resolve());
    expect(mockAsked.filter(({ name }) => name === 'lensDrawing').at(-1)!.input.ghost).toBe('8-10');
    expect(within(table).getByText('Gain')).toBeVisible();
    fireEvent.click(within(table).getByRole('button', { name: 'Ghost 8-10' }));
    expect(useDesk.getState().ghost).toBeNull();
  });

  it('brings in files of lights and of lenses, and saves the present design', async () => {
    await show();
    const choose = (label: string, name: string): void => {
      fireEvent.change(screen.getByLabelText(label), { target: { files: [new File(['x'], name)] } });
    };
    choose('File of lights', 'scene.gltf');
    choose('File of a lens design', 'own.json');
    fireEvent.click(screen.getByRole('button', { name: 'Save design' }));
    expect(mockBrought).toEqual(['scene.gltf', 'own.json', 'saved double-gauss-f2.json']);
  });

  it('has mirrored copies, and shows each effect alone', async () => {
    put();
    await show();
    fireEvent.click(screen.getByRole('button', { name: /^Mirror veil/ }));
    fireEvent.click(screen.getByRole('button', { name: 'New copy' }));
    expect(ghosts().mirror).toMatchObject([{ on: true, scaleX: -1, amount: 0.02 }]);
    fireEvent.click(screen.getByRole('button', { name: 'Mirror veil alone' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'separation', name: 'ghosts.mirror' });
    fireEvent.click(screen.getByRole('button', { name: 'Mirror veil alone' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'final' });
  });

  it('is told of by the reality check when too many lights flare', () => {
    put(...[0, 1, 2, 3, 4].map((k) => `ghosts.lights[${k}].gain=${1000 + k}`));
    render(<RealityCheck />);
    fireEvent.click(screen.getByRole('button', { name: /^Reality check/ }));
    expect(screen.getByText(/one light flares, seldom two or three/)).toBeVisible();
  });
});
