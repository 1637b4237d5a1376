import '@testing-library/jest-dom';
import { act, fireEvent, render, screen } from '@testing-library/react';
import { defaultLook } from '../../../core/look/look';
import { plateOfFile } from '../../../core/shot/shot';
import { useDesk } from '../../../state/desk-store';
import { EMPTY_SHOT, useShot } from '../../../state/shot-store';
import { FocusPanel } from './FocusPanel';

const mockCard = {
  id: 'e',
  plate: 'q',
  width: 64,
  height: 32,
  beauty: 'beauty',
  depth: 'depth',
  frame: { x: 0, y: 0, width: 64, height: 32 },
  camera: { focalLength: 50, fStop: 4 },
  passes: [
    { name: 'beauty', light: true },
    { name: 'depth', light: false },
    { name: 'depth_filtered', light: false },
  ],
};
let mockWarnings: string[] = [];
let mockBlurWarnings: string[] = [];
/** What the chart was given last. */
const mockChart: {
  props?: {
    data: { y: number[] }[];
    layout: { shapes: { x0: number }[] };
    onRelayout: (event: object) => void;
  };
} = {};

const mockClient = () =>
  jest.requireMock<{ askStation: (request: unknown) => unknown }>('../../../engine/browser/client');

jest.mock('../../session', () => ({
  askBench: (request: unknown) => mockClient().askStation(request),
  reportError: (error: unknown) => {
    throw error;
  },
  useMattes: () => [],
  useOtherElements: () => [],
  usePlates: (select: (state: unknown) => unknown) => select({ cards: { q: mockCard } }),
}));
jest.mock('../../../engine/browser/client', () => ({
  EngineError: class EngineError extends Error {},
  askStation: ({ name }: { name: string }) => {
    const histogram = { place: [0, 1], share: [0.75, 0.25], beyond: 0 };
    const survey = { picture: undefined, histogram, warnings: mockWarnings };
    const facts = {
      subjects: { near: 2.5, far: 48 },
      largest: 6.25,
      blurred: 0.4,
      warnings: mockBlurWarnings,
    };
    return Promise.resolve(name === 'depthSurvey' ? survey : name === 'blurSurvey' ? facts : histogram);
  },
}));
jest.mock('../../controls/Chart', () => ({
  Chart: function Chart(props: never) {
    // The plan view is the chart that can be dragged in.
    if ('onRelayout' in (props as object)) mockChart.props = props;
    return null;
  },
}));

const camera = () => useShot.getState().look.camera;

async function open(): Promise<void> {
  render(<FocusPanel />);
  await act(() => new Promise((resolve) => setTimeout(resolve, 0)));
}

beforeEach(() => {
  mockWarnings = mockBlurWarnings = [];
  useShot.getState().replaceShot({
    ...EMPTY_SHOT,
    plates: [plateOfFile('q', 'quay.exr')],
    activePlate: 'q',
    look: defaultLook(),
  });
  useDesk.getState().set({ subject: { kind: 'final' }, picking: null, overblur: false, revealed: null });
});

describe('the depth', () => {
  it('has its ends set by a place whose distance is known', async () => {
    const { change } = useShot.getState();
    change('focus.depth.reading', 'normalised');
    change('focus.depth.near', 2);
    change('focus.depth.far', 12);
    await open();
    fireEvent.click(screen.getByText('Pick far'));
    expect(useDesk.getState().picking).toBe('far');
    act(() =>
      useDesk
        .getState()
        .set({ picking: null, depthPick: { end: 'far', x: 4, y: 5, share: 0.5, distance: 7 } }),
    );
    const known = screen.getByRole('textbox', { name: 'Known distance' });
    fireEvent.change(known, { target: { value: '11' } });
    fireEvent.blur(known);
    // Half way from 2 m: 11 m is the middle of 2 and 20.
    expect(useShot.getState().look.focus.depth.far).toBeCloseTo(20, 4);
    expect(screen.queryByTestId('known-distance')).toBeNull();
  });
});

describe('the camera', () => {
  it('tells what the lens makes of its numbers', async () => {
    await open();
    const facts = screen.getByTestId('camera-facts');
    expect(facts).toHaveTextContent('sharp3.73 m to 7.582 m');
    expect(facts).toHaveTextContent(/view54\.4 deg across, \d+\.\d high/);
    expect(facts).toHaveTextContent('pupil12.5 mm');
  });

  it('takes a sensor by its size, and the camera that the file speaks of, each as one step', async () => {
    await open();
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Sensor' }));
    fireEvent.click(screen.getByRole('option', { name: '17.3 x 13' }));
    expect(camera()).toMatchObject({ sensorWidth: 17.3, sensorHeight: 13 });
    act(() => useShot.temporal.getState().undo());
    expect(camera()).toMatchObject({ sensorWidth: 36, sensorHeight: 24 });
    fireEvent.click(screen.getByRole('button', { name: 'Take the camera of the file' }));
    expect(camera()).toMatchObject({ focalLength: 50, fStop: 4, focusDistance: 5 });
    expect(screen.queryByRole('button', { name: 'Take the camera of the file' })).toBeNull();
  });

  it('has tools to find the focus', async () => {
    await open();
    fireEvent.click(screen.getByText('Click to focus'));
    expect(useDesk.getState().picking).toBe('focus');
    fireEvent.pointerDown(screen.getByText('Overblur'));
    expect(useDesk.getState().overblur).toBe(true);
    fireEvent.pointerUp(screen.getByText('Overblur'));
    expect(useDesk.getState().overblur).toBe(false);
    fireEvent.click(screen.getByText('In focus'));
    expect(useDesk.getState().subject).toEqual({ kind: 'sharpness' });
  });
});

describe('the plan view', () => {
  it('shows where surfaces lie and how much a point is blurred at three f-stops', async () => {
    await open();
    const [bars, opener, own, closer] = mockChart.props!.data;
    expect(bars!.y).toEqual([75, 25]);
    // A stop opener blurs by the square root of 2 more (common practice).
    opener!.y.forEach((value, i) => expect(value).toBeCloseTo(own!.y[i]! * Math.SQRT2, 6));
    closer!.y.forEach((value, i) => expect(value).toBeCloseTo(own!.y[i]! / Math.SQRT2, 6));
    expect(mockChart.props!.layout.shapes[0]!.x0).toBeCloseTo(Math.log10(5), 9);
  });

  it('takes a dragged focus, and a dragged limit as the f-stop that puts it there', async () => {
    await open();
    act(() => mockChart.props!.onRelayout({ 'shapes[0].x0': 1 }));
    expect(camera().focusDistance).toBe(10);
    const near = mockChart.props!.layout.shapes[1]!.x0;
    act(() => mockChart.props!.onRelayout({ 'shapes[1].x0': near - 0.2 }));
    expect(camera().fStop).toBeGreaterThan(2.8);
    expect(mockChart.props!.layout.shapes[1]!.x0).toBeCloseTo(near - 0.2, 2);
  });
});

describe('the depth', () => {
  it('offers passes that hold no light, asks for a range only where it needs one, and warns', async () => {
    mockWarnings = ['every distance is the same'];
    await open();
    expect(screen.getByTestId('depth-warning')).toHaveTextContent('every distance is the same');
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Depth Pass' }));
    expect(screen.getAllByRole('option').map((option) => option.textContent)).toEqual([
      'depth',
      'depth_filtered',
    ]);
    fireEvent.click(screen.getByRole('option', { name: 'depth_filtered' }));
    expect(screen.queryByRole('textbox', { name: 'Depth Near' })).toBeNull();
    act(() => useShot.getState().change('focus.depth.reading', 'normalised'));
    expect(screen.getByRole('textbox', { name: 'Depth Near' })).toBeInTheDocument();
    fireEvent.click(screen.getByRole('switch', { name: 'Focus Breathing' }));
    expect(useShot.getState().look.focus).toMatchObject({
      breathing: true,
      depth: { pass: 'depth_filtered' },
    });
  });
});

describe('the blur', () => {
  it('tells how large discs get, what is wrong, and near and far for a depth that is rendered anew', async () => {
    mockBlurWarnings = ['nothing blurs over a pixel: the amount is 0'];
    await open();
    expect(screen.getByTestId('blur-report')).toHaveTextContent('40 % blurs, discs up to 6.3 px');
    expect(screen.getByTestId('blur-warning')).toHaveTextContent('the amount is 0');
    expect(screen.getByTestId('suggested-range')).toHaveTextContent('Subjects lie from 2.5 m to 48 m');
  });

  it('takes a wish for a disc in pixels or shares of the height, for the next click', async () => {
    await open();
    const type = (name: string, value: string): void => {
      const field = screen.getByRole('textbox', { name });
      fireEvent.change(field, { target: { value } });
      fireEvent.blur(field);
    };
    type('Wished disc Pixels', '12');
    expect(useDesk.getState().wishedDisc).toEqual({ pixels: 12, by: 'fStop' });
    type('Wished disc Share of the height', '50');
    expect(useDesk.getState().wishedDisc.pixels).toBe(16);
    fireEvent.click(screen.getByRole('button', { name: 'Click what should blur so' }));
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Wished disc by' }));
    fireEvent.click(screen.getByRole('option', { name: 'amount' }));
    expect(useDesk.getState()).toMatchObject({ wishedDisc: { pixels: 16, by: 'amount' }, picking: 'disc' });
  });
});
