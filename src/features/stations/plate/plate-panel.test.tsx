import '@testing-library/jest-dom';
import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { HISTOGRAM_BINS } from '../../../core/image/histogram';
import { defaultLook } from '../../../core/look/look';
import { elementOf } from '../../../core/settings/element';
import { plateOfFile } from '../../../core/shot/shot';
import { useDesk } from '../../../state/desk-store';
import { EMPTY_SHOT, useShot } from '../../../state/shot-store';
import { PlatePanel } from './PlatePanel';

const mockSetRole = jest.fn();
const mockChoose = jest.fn();
const mockShares = Array.from({ length: HISTOGRAM_BINS }, (_, i) => (i === 40 ? 0.5 : 0));
const mockPass = (name: string, role: string, change: object = {}) => ({
  name,
  role,
  kind: 'colour',
  light: true,
  component: true,
  channels: [`${name}.R`],
  ...change,
});

jest.mock('../../session', () => ({
  setRole: (...all: unknown[]) => void mockSetRole(...all),
  useMattes: () => ['matte.boats', 'matte.rope'],
  useOtherElements: () => [],
  useFileChooser: () => (purpose: unknown) => void mockChoose(purpose),
  renderId: ({ id }: { id: string }) => id,
  syncEngine: () => undefined,
  usePlates: (select: (state: unknown) => unknown) =>
    select({
      thumbnails: {},
      failures: {},
      cards: {
        q: {
          id: 'e',
          plate: 'q',
          name: 'quay.exr',
          width: 64,
          height: 32,
          frame: { x: 4, y: 0, width: 56, height: 32 },
          sampleType: 'half',
          compression: 'zip',
          bytes: 1 << 20,
          beauty: 'beauty',
          depth: 'depth',
          passes: [
            mockPass('beauty', 'beauty', { component: false }),
            mockPass('diffuse', 'diffuse'),
            mockPass('emission', 'emission'),
            mockPass('diffuse_direct', 'other', { component: false, doubt: 'it is a part of diffuse' }),
            mockPass('matte', 'matte', {
              kind: 'matte',
              light: false,
              component: false,
              channels: ['matte.boats', 'matte.rope'],
            }),
          ],
        },
      },
    }),
}));
jest.mock('../../../engine/browser/client', () => ({
  benchEngine: () => ({
    histogram: () =>
      Promise.resolve({
        channels: [mockShares, mockShares, mockShares],
        clipped: 0.04,
        negative: 0.002,
        black: 0,
      }),
  }),
}));
jest.mock('../../controls/Chart', () => ({
  Chart: function Chart() {
    return null;
  },
}));

const plate = () => useShot.getState().look.plate;
const element = () => elementOf(useShot.getState().look, 0);
const masks = () => useShot.getState().look.masks;
const subject = () => useDesk.getState().subject;

beforeAll(() => {
  // The DOM of the tests has no canvas, no capture of pointers and no pointer events of its own.
  HTMLCanvasElement.prototype.getContext = () => null;
  SVGElement.prototype.setPointerCapture = () => undefined;
});

beforeEach(() => {
  mockSetRole.mockReset();
  useShot.getState().replaceShot({
    ...EMPTY_SHOT,
    plates: [plateOfFile('q', 'quay.exr')],
    activePlate: 'q',
    look: defaultLook(),
  });
  useDesk.getState().set({
    station: 'plate',
    subject: { kind: 'final' },
    mask: null,
    touched: undefined,
    report: undefined,
    arrivals: 0,
    revealed: null,
  });
});

describe('the pass table', () => {
  it('has every pass, with what is done to those that add up', () => {
    render(<PlatePanel />);
    const rows = within(screen.getByRole('list', { name: 'Passes' })).getAllByRole('listitem');
    expect(rows).toHaveLength(5);
    const gain = screen.getByRole('textbox', { name: 'emission Exposure' });
    fireEvent.change(gain, { target: { value: '3/2' } });
    fireEvent.blur(gain);
    expect(element().passes.emission!.gain).toBe(1.5);
    fireEvent.click(screen.getByRole('switch', { name: 'emission on' }));
    fireEvent.click(screen.getByRole('switch', { name: 'diffuse solo' }));
    expect(element().passes).toMatchObject({ emission: { on: false }, diffuse: { solo: true } });
    act(() => useShot.temporal.getState().undo());
    expect(element().passes.diffuse?.solo ?? false).toBe(false);
  });

  it('says of a pass in doubt why it is not in the sum', () => {
    render(<PlatePanel />);
    const row = screen.getByText(/Not in the sum: it is a part of diffuse/).closest('[role=listitem]');
    expect(
      within(row as HTMLElement).getByRole('combobox', { name: 'What diffuse_direct is' }),
    ).toBeVisible();
  });

  it('looks at a pass and back', () => {
    render(<PlatePanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Look at matte' }));
    expect(subject()).toEqual({ kind: 'pass', pass: 'matte' });
    fireEvent.click(screen.getByRole('button', { name: 'Look at matte' }));
    expect(subject()).toEqual({ kind: 'final' });
  });

  it('takes a correction of what a pass is', () => {
    render(<PlatePanel />);
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'What matte is' }));
    fireEvent.click(screen.getByRole('option', { name: 'Depth' }));
    expect(mockSetRole).toHaveBeenCalledWith('q', 'matte', 'depth');
  });

  it('unfolds tint, mode, levels and curve of a pass', () => {
    render(<PlatePanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Settings of emission' }));
    const tint = screen.getByRole('textbox', { name: 'emission Tint' });
    fireEvent.change(tint, { target: { value: 'reddish' } });
    expect(tint).toHaveAttribute('aria-invalid', 'true');
    fireEvent.change(tint, { target: { value: '#FF8800' } });
    fireEvent.blur(tint);
    expect(element().passes.emission!.tint).toBe('#ff8800');
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'emission Mode' }));
    fireEvent.click(screen.getByRole('option', { name: 'Screen' }));
    expect(element().passes.emission!.mode).toBe('screen');
    expect(screen.getByRole('textbox', { name: 'emission Out high' })).toBeInTheDocument();
    expect(screen.getByRole('textbox', { name: 'emission Curve points' })).toHaveValue('none');
  });
});

describe('rebuild', () => {
  it('shows beauty, sum and difference with its figures, and puts either into the lens', () => {
    render(<PlatePanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Difference' }));
    expect(subject()).toEqual({ kind: 'rebuild', part: 'difference' });
    act(() => useDesk.getState().set({ report: { difference: { max: 0.25, mean: 0.0001 } } }));
    expect(screen.getByTestId('rebuild-difference')).toHaveTextContent('at most 0.250, on the mean 0.000100');
    fireEvent.click(screen.getByRole('button', { name: 'Put the sum into the lens' }));
    expect(element().source).toBe('sum');
    fireEvent.click(screen.getByRole('button', { name: 'Back to the beauty' }));
    expect(element().source).toBe('beauty');
  });
});

describe('clean-up and preparation', () => {
  it('counts what was touched and shows it', () => {
    render(<PlatePanel />);
    fireEvent.click(screen.getByRole('button', { name: /^Clean-up/ }));
    expect(screen.getByTestId('touched')).toHaveTextContent('nothing is touched');
    act(() => useDesk.getState().set({ touched: { despiked: 12, clamped: 3 } }));
    expect(screen.getByTestId('touched')).toHaveTextContent('3 pixels clamped12 pixels despiked');
    fireEvent.click(screen.getByRole('button', { name: 'Show touched' }));
    expect(subject()).toEqual({ kind: 'cleaned' });
  });

  it('draws the histogram with what is beyond black and white', async () => {
    render(<PlatePanel />);
    expect(screen.queryByTestId('histogram')).toBeNull();
    await act(async () => {
      useDesk.getState().set({ arrivals: 1 });
      await Promise.resolve();
    });
    expect(screen.getByTestId('histogram')).toHaveTextContent('over white 4.00 %negative 0.20 %black 0.00 %');
  });

  it('tells the frame where the picture goes beyond it', () => {
    render(<PlatePanel />);
    expect(screen.getByText('56 x 32 at 4, 0')).toBeInTheDocument();
  });

  it('unfolds the group that holds a setting that is looked for', () => {
    render(<PlatePanel />);
    expect(screen.queryByRole('textbox', { name: 'Levels Gamma' })).toBeNull();
    act(() => useDesk.getState().set({ revealed: 'plate.levels.gamma' }));
    expect(screen.getByRole('textbox', { name: 'Levels Gamma' })).toBeInTheDocument();
  });

  it('lays a background: none, a colour, or another plate', () => {
    act(() => useShot.getState().addPlate(plateOfFile('sky', 'sky.exr')));
    act(() => useShot.getState().choosePlate('q'));
    render(<PlatePanel />);
    const choose = (name: string): void => {
      fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Plate Background kind' }));
      fireEvent.click(screen.getByRole('option', { name }));
    };
    choose('a colour');
    expect(plate().background).toBe('#808080');
    choose('sky.exr');
    expect(plate().background).toBe('plate:sky');
    choose('none');
    expect(plate().background).toBe('none');
  });
});

describe('the curve editor', () => {
  const box = {
    left: 0,
    top: 0,
    width: 296,
    height: 148,
    right: 296,
    bottom: 148,
    x: 0,
    y: 0,
    toJSON: () => '',
  };
  const pointer = (type: string, clientX: number, clientY: number): Event => {
    const event = new MouseEvent(type, { bubbles: true, button: 0, clientX, clientY });
    return Object.assign(event, { pointerId: 1 });
  };

  it('adds a point with a click, drags it, and undoes both as one step', () => {
    render(<PlatePanel />);
    const surface = screen.getByRole('group', { name: 'Plate Curve: click adds a point' });
    surface.getBoundingClientRect = () => box;
    fireEvent(surface, pointer('pointerdown', 148, 74));
    fireEvent(surface, pointer('pointermove', 148, 37));
    fireEvent(surface, pointer('pointerup', 148, 37));
    expect(plate().curve).toEqual([[0, 5]]);
    act(() => useShot.temporal.getState().undo());
    expect(plate().curve).toEqual([]);
  });

  it('keeps points in order, moves them by keys, takes them away and takes typed ones', () => {
    act(() =>
      useShot.getState().change('plate.curve', [
        [-2, -2],
        [2, 2],
      ]),
    );
    render(<PlatePanel />);
    const point = (): HTMLElement => screen.getByRole('slider', { name: 'Plate Curve, point 1' });
    fireEvent.keyDown(point(), { key: 'ArrowUp' });
    expect(plate().curve[0]).toEqual([-2, -1.9]);
    for (let k = 0; k < 6; k++) fireEvent.keyDown(point(), { key: 'ArrowRight', shiftKey: true });
    expect(plate().curve[0]![0]).toBeCloseTo(1.9, 9);
    fireEvent.doubleClick(point());
    expect(plate().curve).toEqual([[2, 2]]);
    const typed = screen.getByRole('textbox', { name: 'Plate Curve points' });
    fireEvent.change(typed, { target: { value: '-4:-5, 3:2.5' } });
    fireEvent.blur(typed);
    expect(plate().curve).toEqual([
      [-4, -5],
      [3, 2.5],
    ]);
    fireEvent.change(typed, { target: { value: 'steep' } });
    fireEvent.blur(typed);
    expect(plate().curve).toHaveLength(2);
  });
});

describe('masks', () => {
  const open = (): void => {
    render(<PlatePanel />);
    fireEvent.click(screen.getByRole('button', { name: 'Masks' }));
    fireEvent.click(screen.getByRole('button', { name: 'New mask' }));
  };

  it('are made, named, inverted, shown and removed with all that hangs on them', () => {
    open();
    expect(masks()).toMatchObject([{ id: 'mask1', name: 'Mask 1', shapes: [{ kind: 'ellipse' }] }]);
    expect(useDesk.getState().mask).toBe('mask1');
    const name = screen.getByRole('textbox', { name: 'Name of Mask 1' });
    fireEvent.change(name, { target: { value: 'Lamps' } });
    fireEvent.blur(name);
    fireEvent.click(screen.getByRole('button', { name: 'Lamps inverted' }));
    expect(masks()[0]).toMatchObject({ name: 'Lamps', invert: true });
    fireEvent.click(screen.getByRole('button', { name: 'Show Lamps' }));
    expect(subject()).toEqual({ kind: 'mask', mask: 'mask1' });
    act(() => useShot.getState().change('plate.mask', 'mask1'));
    act(() => useShot.getState().change('veil.feed.mask', 'mask1'));
    fireEvent.click(screen.getByRole('button', { name: 'Remove Lamps' }));
    expect([masks().length, plate().mask, useShot.getState().look.veil.feed.mask]).toEqual([0, '', '']);
    expect(subject()).toEqual({ kind: 'final' });
    act(() => useShot.temporal.getState().undo());
    expect([masks().length, plate().mask]).toEqual([1, 'mask1']);
  });

  it('take further shapes, combined, with every figure typed', () => {
    open();
    const add = (kind: string): void => {
      fireEvent.click(screen.getByRole('button', { name: 'Add a shape' }));
      fireEvent.click(screen.getByRole('menuitem', { name: kind }));
    };
    add('Polygon');
    add('Gradient');
    add('Matte pass');
    expect(masks()[0]!.shapes.map(({ kind }) => kind)).toEqual(['ellipse', 'polygon', 'gradient', 'matte']);
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Mask 1, shape 2 combined by' }));
    fireEvent.click(screen.getByRole('option', { name: 'subtract' }));
    fireEvent.click(screen.getByRole('button', { name: 'Mask 1, shape 2 inverted' }));
    expect(masks()[0]!.shapes[1]).toMatchObject({ combine: 'subtract', invert: true });
    const type = (label: RegExp, text: string): void => {
      const field = screen.getByRole('textbox', { name: label });
      fireEvent.change(field, { target: { value: text } });
      fireEvent.blur(field);
    };
    type(/shape 1: x y, radii/, '25 75 10 20 5 45');
    expect(masks()[0]!.shapes[0]).toMatchObject({
      centre: [0.25, 0.75],
      radii: [0.1, 0.2],
      feather: 0.05,
      rotation: 45,
    });
    type(/shape 1: x y, radii/, '25 75 0 20 5 45');
    expect(masks()[0]!.shapes[0]).toMatchObject({ radii: [0.1, 0.2] });
    type(/shape 3: from/, '0 0 100 50');
    expect(masks()[0]!.shapes[2]).toMatchObject({ from: [0, 0], to: [1, 0.5] });
    type(/shape 4 id/, '7');
    expect(masks()[0]!.shapes[3]).toMatchObject({ channel: 'matte.boats', id: 7 });
    type(/shape 4 id/, 'coverage');
    expect(masks()[0]!.shapes[3]).toMatchObject({ id: null });
    fireEvent.click(screen.getByRole('button', { name: 'Remove Mask 1, shape 4' }));
    expect(masks()[0]!.shapes).toHaveLength(3);
    fireEvent.click(screen.getByRole('button', { name: 'Add a shape' }));
    fireEvent.click(screen.getByRole('menuitem', { name: 'By value' }));
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Mask 1, shape 4 goes by' }));
    fireEvent.click(screen.getByRole('option', { name: 'Depth' }));
    type(/shape 4: from, to/, '2.5 open 1');
    type(/shape 4: from, to/, '2.5 near 1');
    expect(masks()[0]!.shapes[3]).toMatchObject({ kind: 'value', of: 'depth', from: 2.5, to: null, soft: 1 });
  });
});

describe('elements', () => {
  it('are listed from the front, chosen, switched and corrected each by itself', () => {
    const { addElement } = useShot.getState();
    act(() => addElement('q', plateOfFile('h', 'hero.exr')));
    render(<PlatePanel />);
    const rows = within(screen.getByRole('list', { name: 'Elements, the nearest first' })).getAllByRole(
      'listitem',
    );
    expect(rows.map((row) => row.textContent)).toEqual([
      expect.stringContaining('hero.exr'),
      expect.stringContaining('quay.exr'),
    ]);
    fireEvent.click(screen.getByRole('switch', { name: 'hero.exr on' }));
    expect(elementOf(useShot.getState().look, 1).on).toBe(false);
    const opacity = screen.getByRole('textbox', { name: 'hero.exr Opacity' });
    fireEvent.change(opacity, { target: { value: '40' } });
    fireEvent.blur(opacity);
    expect(elementOf(useShot.getState().look, 1).opacity).toBeCloseTo(0.4, 9);
    fireEvent.click(screen.getByRole('button', { name: 'Work on quay.exr' }));
    fireEvent.click(screen.getByRole('button', { name: 'Another correction' }));
    expect(elementOf(useShot.getState().look, 0).corrections).toHaveLength(1);
    fireEvent.click(screen.getByRole('button', { name: 'Remove correction 2' }));
    expect(elementOf(useShot.getState().look, 0).corrections).toHaveLength(0);
    fireEvent.click(screen.getByRole('button', { name: 'Bring in an element…' }));
    expect(mockChoose).toHaveBeenCalledWith({ kind: 'element', plate: 'q' });
  });
});
