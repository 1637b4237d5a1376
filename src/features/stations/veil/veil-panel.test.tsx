import '@testing-library/jest-dom';
import { act, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import type { KernelProfile } from '../../../core/stations/veil/kernel-profile';
import { VEILS } from '../../../core/stations/veil/starting-points';
import { assignSetting, defaultLook, type Look } from '../../../core/look/look';
import { applyVeil } from '../../../core/look/starting-point';
import { EMPTY_SHOT, plateOfFile } from '../../../core/shot/shot';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { RealityCheck } from '../../reality';
import { PupilPanel } from '../pupil/PupilPanel';
import { outsideAt } from './KernelView';
import { balanced } from './Balance';
import { VeilPanel } from './VeilPanel';

const mockCard = { id: 'e', plate: 'q', width: 64, height: 32, passes: [], beauty: 'beauty' };
const mockShown: { lane: string; look: Look; scale: number }[] = [];
const mockProfile: KernelProfile = {
  radius: [0.005, 0.01, 0.1, 0.4],
  parts: [{ name: 'veil.bloom', amount: 0.02, density: [1e-3, 1e-4, 1e-6, 1e-8] }],
  whole: [1e-3, 1e-4, 1e-6, 1e-8],
  outside: [0.9, 0.8, 0.4, 0.1],
};
const mockBitmap = { width: 2, height: 1 } as ImageBitmap;
const mockChosen: object[] = [];
const mockPupils: Look[] = [];

const mockClient = () =>
  jest.requireMock<{ askStation: (request: unknown) => unknown }>('../../../engine/browser/client');

jest.mock('../../session', () => ({
  askBench: (request: unknown) => mockClient().askStation(request),
  useMattes: () => [],
  useOtherElements: () => [],
  usePlates: Object.assign(
    (select: (state: unknown) => unknown) =>
      select({ cards: { q: mockCard }, images: { 'leaf.png': mockBitmap } }),
    { getState: () => ({ cards: { q: mockCard } }) },
  ),
  useFileChooser: () => (purpose: object) => mockChosen.push(purpose),
  benchLook: (look: unknown) => look,
  reportError: (error: unknown) => {
    throw error;
  },
}));
jest.mock('../../../engine/browser/client', () => ({
  EngineError: class EngineError extends Error {},
  unwrap: (outcome: { value: unknown }) => outcome.value,
  benchEngine: () => ({
    show: (request: (typeof mockShown)[number]) => {
      mockShown.push(request);
      return Promise.resolve({ value: { bitmap: mockBitmap } });
    },
  }),
  askStation: ({ name, look }: { name: string; look: Look }) => {
    if (name === 'kernelProfile') return Promise.resolve(mockProfile);
    if (name === 'feedThreshold') return Promise.resolve(10);
    mockPupils.push(look);
    return Promise.resolve({ pupil: mockBitmap, point: mockBitmap, reach: 50, stops: 24 });
  },
}));
jest.mock('../../controls/Chart', () => ({
  Chart: function Chart({ data }: { data: { name: string }[] }) {
    return <div data-testid="chart">{data.map(({ name }) => name).join()}</div>;
  },
}));

const veil = (): Look['veil'] => useShot.getState().look.veil;
const put = (...settings: string[]): void =>
  act(() => useShot.getState().setLook(settings.reduce(assignSetting, defaultLook())));
const type = (name: string, value: string): void => {
  const field = screen.getByRole('textbox', { name });
  fireEvent.change(field, { target: { value } });
  fireEvent.blur(field);
};
const group = (name: string): HTMLElement => screen.getByRole('region', { name });
const undo = (): void => act(() => useShot.temporal.getState().undo());

beforeEach(() => {
  mockShown.length = mockChosen.length = mockPupils.length = 0;
  useShot.getState().replaceShot({
    name: 'S',
    plates: [plateOfFile('q', 'quay.exr')],
    references: [],
    images: [{ id: 'i', name: 'leaf.png' }],
    proofs: [],
    follows: null,
    tracks: EMPTY_SHOT.tracks,
    reel: EMPTY_SHOT.reel,
    activePlate: 'q',
    look: defaultLook(),
  });
  useDesk.getState().set({
    station: 'veil',
    subject: { kind: 'final' },
    phase: 'final',
    revealed: null,
    feed: { pixels: 0.002, light: 0.5 },
    ownFeeds: {},
    accounts: {},
  });
});

describe('the parts in the panel of the veil', () => {
  it('are each switched off and on, and keep their values', () => {
    put('veil.halo.amount=0.02');
    render(<VeilPanel />);
    fireEvent.click(screen.getByRole('switch', { name: 'Halo ring on' }));
    expect(veil().halo).toMatchObject({ on: false, amount: 0.02 });
    expect(screen.getByRole('button', { name: /^Halo ring/ })).toHaveTextContent('2 %');
    fireEvent.click(screen.getByRole('switch', { name: 'Halo ring on' }));
    expect(veil().halo.on).toBe(true);
  });

  it('unfold when they have an amount, or are looked for', () => {
    render(<VeilPanel />);
    expect(screen.queryByRole('textbox', { name: 'Halo ring Width' })).toBeNull();
    act(() => useDesk.getState().set({ revealed: 'veil.halo.width' }));
    expect(screen.getByRole('textbox', { name: 'Halo ring Width' })).toBeInTheDocument();
  });

  it('have streaks one by one and in sets, each with settings of its own', () => {
    render(<VeilPanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Streaks' }));
    fireEvent.click(screen.getByRole('button', { name: 'New streak' }));
    type('Streak 1 Length', '12');
    type('Streak 1 Angle', '20');
    type('Streaks Arms', '3');
    fireEvent.click(screen.getByRole('button', { name: 'New set of' }));
    expect(veil().streaks.map(({ angle, back, length }) => [angle, back, length])).toEqual([
      [20, 1, 0.12],
      [20, 0, 0.12],
      [140, 0, 0.12],
      [-100, 0, 0.12],
    ]);
    fireEvent.click(screen.getByRole('button', { name: 'Remove Streak 2' }));
    expect(veil().streaks).toHaveLength(3);
  });

  it('feed on sums of passes, each with a weight', () => {
    render(<VeilPanel />);
    const sum = screen.getByRole('combobox', { name: 'Feed Sum of passes' });
    fireEvent.mouseDown(sum);
    fireEvent.click(screen.getByRole('option', { name: 'beauty' }));
    type('Feed weight of beauty', '0.5');
    expect(veil().feed.passes).toEqual({ beauty: 0.5 });
    fireEvent.click(screen.getByRole('button', { name: 'Take beauty out of Feed' }));
    expect(veil().feed.passes).toEqual({});
  });

  it('tell how much light they move, and stand alone', () => {
    put('veil.bloom.amount=0.04');
    render(<VeilPanel />);
    expect(group('Bloom')).toHaveTextContent('moves 2 % of the light');
    expect(group('Spikes')).toHaveTextContent('spreads no light');
    fireEvent.click(screen.getByRole('button', { name: 'Spikes alone' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'separation', name: 'veil.spikes' });
  });

  it('are fed by a share that is typed, and say what feeds them', async () => {
    render(<VeilPanel />);
    const lone = { count: 40, light: 0.6 };
    const largest = { x: 1, y: 1, pixels: 0.1, light: 0.25 };
    const feed = { pixels: 0.12, light: 0.8, kind: 'glints' as const, sources: 200, lone, largest };
    act(() => useDesk.getState().set({ feed }));
    const report = screen.getByTestId('feed-share');
    expect(report).toHaveTextContent('200 sources, 25.0 % from one');
    expect(report).toHaveTextContent('many small glints');
    expect(report).toHaveTextContent('40 single pixels bring 60.0 % of it');
    const field = within(report).getByRole('textbox', { name: 'Feed Wished share of the pixels' });
    fireEvent.change(field, { target: { value: '2' } });
    fireEvent.blur(field);
    await waitFor(() => expect(veil().feed.threshold).toBe(10));
    undo();
    expect(veil().feed.threshold).toBe(1);
  });

  it('get a feed of their own, with a report of its own', () => {
    put('veil.bloom.amount=0.04');
    render(<VeilPanel />);
    expect(screen.queryByRole('textbox', { name: 'Bloom feed Threshold' })).toBeNull();
    fireEvent.click(screen.getByRole('switch', { name: 'Bloom feed Own feed' }));
    expect(veil().bloom.feed.own).toBe(true);
    expect(screen.getByRole('textbox', { name: 'Bloom feed Threshold' })).toBeInTheDocument();
    act(() =>
      useDesk.getState().set({ ownFeeds: { 'veil.bloom': { pixels: 0.3, light: 0.9, kind: 'scene' } } }),
    );
    expect(screen.getByTestId('feed-share veil.bloom')).toHaveTextContent('everything glows');
    fireEvent.click(within(group('Bloom')).getByRole('button', { name: 'Show feed' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'feed', part: 'veil.bloom' });
  });

  it('show what goes with their law', () => {
    render(<VeilPanel />);
    expect(screen.queryByRole('textbox', { name: 'Bloom Age' })).toBeNull();
    put('veil.bloom.law=eye');
    expect(screen.getByRole('textbox', { name: 'Bloom Age' })).toBeInTheDocument();
    expect(screen.queryByRole('textbox', { name: 'Bloom Fall-off' })).toBeNull();
  });

  it('take dirt from an image of the shot or from a file', () => {
    put('veil.dirt.amount=0.01', 'veil.dirt.image=gone.png');
    render(<VeilPanel />);
    const list = screen.getByRole('combobox', { name: 'Front-glass dirt Image' });
    expect(list).toHaveTextContent('gone.png (missing)');
    fireEvent.mouseDown(list);
    fireEvent.click(screen.getByRole('option', { name: 'leaf.png' }));
    expect(veil().dirt.image).toBe('leaf.png');
    fireEvent.mouseDown(list);
    fireEvent.click(screen.getByRole('option', { name: 'From a file…' }));
    expect(mockChosen).toEqual([{ kind: 'image', path: 'veil.dirt.image' }]);
  });
});

describe('layers of bloom', () => {
  it('are added wider and with a higher threshold than the last', () => {
    put('veil.bloom.radius=0.01', 'veil.feed.threshold=2');
    useDesk.getState().set({ feed: { pixels: 0.01, light: 0.5, peak: 9 } });
    render(<VeilPanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Layers' }));
    for (let k = 0; k < 3; k++) fireEvent.click(screen.getByRole('button', { name: 'New layer' }));
    // The last would lie over all light.
    expect(veil().stack.map(({ radius, threshold }) => [radius, threshold])).toEqual([
      [0.03, 4],
      [0.09, 8],
      [0.27, 8],
    ]);
    undo();
    expect(veil().stack).toHaveLength(2);
  });

  it('are put in order, switched and removed', () => {
    put('veil.stack[0].radius=0.01', 'veil.stack[1].radius=0.02', 'veil.stack[2].radius=0.03');
    render(<VeilPanel />);
    const radii = (): number[] => veil().stack.map(({ radius }) => radius);
    fireEvent.click(screen.getByRole('button', { name: 'Move Layer 3 up' }));
    expect(radii()).toEqual([0.01, 0.03, 0.02]);
    fireEvent.click(screen.getByRole('button', { name: 'Remove Layer 1' }));
    expect(radii()).toEqual([0.03, 0.02]);
    fireEvent.click(screen.getByRole('switch', { name: 'Layer 2 on' }));
    expect(veil().stack.map(({ on }) => on)).toEqual([true, false]);
    expect(screen.getByRole('button', { name: 'Move Layer 1 up' })).toBeDisabled();
    expect(screen.getByRole('button', { name: 'Move Layer 2 down' })).toBeDisabled();
  });

  it('have settings of their own', () => {
    put('veil.stack[0].radius=0.01', 'veil.stack[1].radius=0.02');
    render(<VeilPanel />);
    const field = within(group('Layer 2')).getByRole('textbox', { name: 'Layer 2 Threshold' });
    fireEvent.change(field, { target: { value: '40' } });
    fireEvent.blur(field);
    expect(veil().stack.map(({ threshold }) => threshold)).toEqual([1, 40]);
    fireEvent.click(screen.getByRole('button', { name: 'Layer 2 alone' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'separation', name: 'veil.stack[1]' });
  });
});

describe('the balance of bloom and spikes', () => {
  it('shares out what they have together', () => {
    put('veil.bloom.amount=0.03', 'veil.spikes.amount=0.01');
    render(<VeilPanel />);
    fireEvent.change(screen.getByRole('slider', { name: 'Balance of bloom and spikes' }), {
      target: { value: 0.75 },
    });
    expect(veil().bloom.amount).toBeCloseTo(0.01, 9);
    expect(veil().spikes.amount).toBeCloseTo(0.03, 9);
    undo();
    expect(veil().bloom.amount).toBe(0.03);
  });

  it('rests without light in either', () => {
    render(<VeilPanel />);
    expect(screen.getByRole('slider', { name: 'Balance of bloom and spikes' })).toBeDisabled();
    expect(balanced(veil(), 0.3)).toEqual(veil());
  });
});

describe('starting points', () => {
  it('are shown on the present plate, and taken as one step', async () => {
    put('veil.feed.threshold=7');
    render(<VeilPanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Starting points' }));
    await waitFor(() => expect(mockShown).toHaveLength(VEILS.length));
    const before = useShot.getState().look;
    mockShown.forEach(({ lane, look, scale }, k) => {
      expect(lane).toBe('trial');
      expect(scale).toBeLessThanOrEqual(1);
      expect(look).toEqual(applyVeil(before, VEILS[k]!));
    });
    fireEvent.click(screen.getByRole('button', { name: `Start from ${VEILS[3]!.name}` }));
    expect(useShot.getState().look).toEqual(applyVeil(before, VEILS[3]!));
    undo();
    expect(useShot.getState().look).toEqual(before);
  });
});

describe('the view of the kernel', () => {
  it('says what to do while there is none', () => {
    mockProfile.parts.splice(0, 1);
    render(<VeilPanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Kernel' }));
    expect(group('Kernel')).toHaveTextContent('give one');
  });

  it('draws the parts, the whole and the inverse square, and tells where the light goes', async () => {
    mockProfile.parts.push(
      { name: 'veil.bloom', amount: 0.02, density: [1, 1, 1, 1] },
      { name: 'veil.stack[1]', amount: 0.02, density: [1, 1, 1, 1] },
    );
    put('veil.bloom.amount=0.02');
    useDesk.getState().set({ accounts: { veil: { moved: 0.01, lostOutsideFrame: 0.001, gain: 0.999 } } });
    render(<VeilPanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Kernel' }));
    expect(await screen.findByTestId('chart')).toHaveTextContent('inverse square,bloom,layer 2,whole');
    expect(group('Kernel')).toHaveTextContent('scattered beyond 1 % h80 %');
    expect(group('Kernel')).toHaveTextContent('light out over light in0.9990');
  });

  it('finds shares between the distances that were computed', () => {
    expect(outsideAt(mockProfile, 0.001)).toBe(0.9);
    expect(outsideAt(mockProfile, 0.0316227766)).toBeCloseTo(0.6, 6);
    expect(outsideAt(mockProfile, 3)).toBe(0.1);
  });
});

describe('the panel of the pupil', () => {
  it('draws the pupil and its point, and draws them anew when the pupil changes', async () => {
    render(<PupilPanel />);
    expect(await screen.findByRole('img', { name: /^The pupil/ })).toBeInTheDocument();
    expect(screen.getByTestId('pupil-view')).toHaveTextContent('point at f/2.8');
    // Twenty wavelengths times f-number: 20 x 0.55 micrometres x 2.8.
    expect(screen.getByTestId('pupil-view')).toHaveTextContent('31 µm');
    const asked = mockPupils.length;
    put('pupil.blades=7');
    await waitFor(() => expect(mockPupils).toHaveLength(asked + 1));
    put('pupil.blades=7', 'veil.bloom.amount=0.2');
    await act(() => Promise.resolve());
    expect(mockPupils).toHaveLength(asked + 1);
  });

  it('begins from a pupil by its name, and knows when it is one', async () => {
    render(<PupilPanel />);
    const list = screen.getByRole('combobox', { name: 'Start from a pupil' });
    expect(list).toHaveTextContent('Round');
    fireEvent.mouseDown(list);
    fireEvent.click(screen.getByRole('option', { name: 'Lashes' }));
    expect(useShot.getState().look.pupil.fibres.count).toBe(70);
    expect(list).toHaveTextContent('Lashes');
    expect(screen.getByRole('button', { name: /^Fibres/ })).toHaveTextContent('70');
    act(() => useShot.getState().change('pupil.rotation', 9));
    expect(list).toHaveTextContent('of its own');
    await act(() => Promise.resolve());
  });
});

describe('the list of what lies beyond real lenses', () => {
  const open = (): void => {
    render(<RealityCheck />);
    fireEvent.click(screen.getByRole('button', { name: /^Reality check/ }));
  };

  it('says so when there is nothing', () => {
    open();
    expect(screen.getByRole('dialog')).toHaveTextContent('within what real lenses do');
  });

  it('tells value, band, reason and source, and brings back one or all', async () => {
    put('veil.bloom.amount=0.2', 'veil.bloom.falloff=1.5', 'focus.on=true', 'camera.fStop=0.5');
    open();
    const finding = screen.getByRole('region', { name: 'Bloom: Amount' });
    expect(finding).toHaveTextContent('20 %');
    expect(finding).toHaveTextContent('0.5 to 5 %');
    expect(finding).toHaveTextContent('it reads as fog');
    expect(finding).toHaveTextContent('ISO 9358');
    fireEvent.click(screen.getByRole('button', { name: 'Bring Bloom: Amount back' }));
    await waitFor(() => expect(veil().bloom.amount).toBe(0.05));
    expect(veil().bloom.falloff).toBe(1.5);
    fireEvent.click(screen.getByRole('button', { name: 'Bring all back' }));
    await waitFor(() => expect(veil().bloom.falloff).toBe(2));
    expect(useShot.getState().look.camera.fStop).toBe(0.95);
    undo();
    expect(veil().bloom.falloff).toBe(1.5);
  });

  it('finds a threshold under which little feeds', async () => {
    put('veil.bloom.amount=0.02', 'veil.feed.knee=1');
    useDesk.getState().set({ feed: { pixels: 0.2, light: 0.9, kind: 'scene' } });
    open();
    fireEvent.click(screen.getByRole('button', { name: 'Bring Feed: Threshold back' }));
    await waitFor(() => expect(veil().feed.threshold).toBe(10));
  });

  it('leads to the setting', () => {
    put('focus.on=true', 'camera.fStop=0.5');
    open();
    fireEvent.click(screen.getByRole('button', { name: /^Show Camera: F-stop|^Show .*f-stop/i }));
    expect(useDesk.getState()).toMatchObject({ station: 'focus', revealed: 'camera.fStop' });
  });
});
