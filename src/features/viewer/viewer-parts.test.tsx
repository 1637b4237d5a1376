import '@testing-library/jest-dom';
import { act, fireEvent, render, screen } from '@testing-library/react';
import { assignSetting, defaultLook } from '../../core/look/look';
import { plateOfFile } from '../../core/shot/shot';
import { useDesk } from '../../state/desk-store';
import { EMPTY_SHOT, useShot } from '../../state/shot-store';
import type { PlateCard } from '../session';
import { FalseColourLegend, LookAt } from './LookAt';
import { MaskHandles } from './MaskHandles';
import { MaskPen } from './MaskPen';

const mockCard = {
  id: 'e',
  plate: 'q',
  width: 200,
  height: 100,
  frame: { x: 0, y: 0, width: 200, height: 100 },
  passes: [
    { name: 'beauty', channels: ['R', 'G', 'B'] },
    { name: 'depth', channels: ['Z'] },
  ],
};
jest.mock('../session', () => ({
  useMattes: () => [],
  useOtherElements: () => [],
  usePlates: (select: (state: unknown) => unknown) => select({ cards: { q: mockCard } }),
}));

const card = mockCard as unknown as PlateCard;
const layout = { zoom: 2, left: 10, top: 20 };
const shape = () => useShot.getState().look.masks[0]!.shapes[0]!;

function withShape(json: string): void {
  const look = assignSetting(defaultLook(), `masks=[{"id":"m","name":"Lamp","shapes":[${json}]}]`);
  useShot.getState().replaceShot({
    ...EMPTY_SHOT,
    plates: [plateOfFile('q', 'quay.exr')],
    activePlate: 'q',
    look,
  });
  useDesk.getState().set({ mask: 'm', subject: { kind: 'final' }, falseColour: false, report: undefined });
}

beforeAll(() => {
  SVGElement.prototype.setPointerCapture = () => undefined;
});

const pointer = (type: string, clientX: number, clientY: number): Event =>
  Object.assign(new MouseEvent(type, { bubbles: true, clientX, clientY }), { pointerId: 1 });

/** Drags a handle to a place of the frame, in shares of it. */
function drag(name: string, ...places: [number, number][]): void {
  const surface = screen.getByRole('group', { name: 'Handles of Lamp' });
  fireEvent(screen.getByRole('button', { name: `Lamp, shape 1: ${name}` }), pointer('pointerdown', 0, 0));
  for (const [x, y] of places) fireEvent(surface, pointer('pointermove', 10 + x * 400, 20 + y * 200));
  fireEvent(surface, pointer('pointerup', 0, 0));
}

describe('handles of a mask', () => {
  it('of an ellipse move, size, turn and feather it, each drag one step', () => {
    withShape('{"kind":"ellipse","centre":[0.5,0.5],"radii":[0.2,0.1]}');
    render(<MaskHandles layout={layout} card={card} />);
    drag('centre', [0.3, 0.3], [0.25, 0.5]);
    expect(shape()).toMatchObject({ centre: [0.25, 0.5] });
    act(() => useShot.temporal.getState().undo());
    expect(shape()).toMatchObject({ centre: [0.5, 0.5] });
    drag('width and turn', [0.5, 0.9]);
    expect(shape()).toMatchObject({ radii: [0.4, 0.1], rotation: 90 });
    drag('height', [0.4, 0.5]);
    expect(shape()).toMatchObject({ radii: [0.4, 0.2] });
    drag('feather', [0.5, 0.5 - 0.62]);
    expect((shape() as { feather: number }).feather).toBeCloseTo(2 * (0.62 - 0.4 - 24 / 200), 3);
  });

  it('of a polygon move corners and the whole, add corners and take them away', () => {
    withShape('{"kind":"polygon","points":[[0.2,0.2],[0.6,0.2],[0.6,0.6],[0.2,0.6]]}');
    render(<MaskHandles layout={layout} card={card} />);
    drag('corner 3', [0.8, 0.9]);
    expect(shape()).toMatchObject({
      points: [
        [0.2, 0.2],
        [0.6, 0.2],
        [0.8, 0.9],
        [0.2, 0.6],
      ],
    });
    drag('new corner 1', [0.4, 0.1], [0.45, 0.05]);
    expect(shape()).toMatchObject({
      points: [
        [0.2, 0.2],
        [0.45, 0.05],
        [0.6, 0.2],
        [0.8, 0.9],
        [0.2, 0.6],
      ],
    });
    fireEvent.doubleClick(screen.getByRole('button', { name: 'Lamp, shape 1: corner 2' }));
    expect((shape() as { points: unknown[] }).points).toHaveLength(4);
    fireEvent.keyDown(screen.getByRole('button', { name: 'Lamp, shape 1: corner 1' }), {
      key: 'ArrowRight',
      shiftKey: true,
    });
    expect((shape() as { points: number[][] }).points[0]).toEqual([0.25, 0.2]);
    fireEvent.keyDown(screen.getByRole('button', { name: 'Lamp, shape 1: corner 1' }), { key: 'Delete' });
    expect((shape() as { points: unknown[] }).points).toHaveLength(3);
    fireEvent.doubleClick(screen.getByRole('button', { name: 'Lamp, shape 1: corner 1' }));
    expect((shape() as { points: unknown[] }).points).toHaveLength(3);
  });

  it('of a gradient set where it begins and ends', () => {
    withShape('{"kind":"gradient","from":[0.5,0],"to":[0.5,1]}');
    render(<MaskHandles layout={layout} card={card} />);
    drag('where it ends', [0.5, 0.75]);
    drag('where it is full', [0.25, 0.25]);
    expect(shape()).toMatchObject({ from: [0.25, 0.25], to: [0.5, 0.75] });
  });

  it('are there only for the chosen mask', () => {
    withShape('{"kind":"ellipse","centre":[0.5,0.5],"radii":[0.2,0.1]}');
    useDesk.getState().set({ mask: null });
    render(<MaskHandles layout={layout} card={card} />);
    expect(screen.queryByRole('button')).toBeNull();
  });
});

describe('the pen', () => {
  const draw = (...places: [type: string, x: number, y: number][]): void => {
    const sheet = screen.getByTestId('mask-pen');
    sheet.setPointerCapture = () => undefined;
    for (const [type, x, y] of places) fireEvent(sheet, pointer(type, 10 + x * 400, 20 + y * 200));
  };
  const ready = (json: string): void => {
    withShape(json);
    useDesk.getState().set({ pen: { mask: 'm', shape: 0 } });
    render(<MaskPen layout={layout} card={card} />);
  };

  it('draws an ellipse from its middle, in one step', () => {
    ready('{"kind":"ellipse","centre":[0.5,0.5],"radii":[0.2,0.1],"feather":0.3}');
    draw(
      ['pointerdown', 0.25, 0.5],
      ['pointermove', 0.3, 0.6],
      ['pointermove', 0.35, 0.8],
      ['pointerup', 0.35, 0.8],
    );
    expect(shape()).toMatchObject({ centre: [0.25, 0.5], radii: [0.2, 0.3], feather: 0.3 });
    expect(useDesk.getState().pen).toBeNull();
    act(() => useShot.temporal.getState().undo());
    expect(shape()).toMatchObject({ centre: [0.5, 0.5] });
  });

  it('draws a gradient, and takes a slip of the hand for nothing', () => {
    ready('{"kind":"gradient","from":[0.5,0],"to":[0.5,1]}');
    draw(['pointerdown', 0.1, 0.1], ['pointermove', 0.101, 0.1], ['pointerup', 0.101, 0.1]);
    expect(shape()).toMatchObject({ from: [0.5, 0] });
    draw(['pointerdown', 0.1, 0.2], ['pointermove', 0.9, 0.8], ['pointerup', 0.9, 0.8]);
    expect(shape()).toMatchObject({ from: [0.1, 0.2], to: [0.9, 0.8] });
  });

  it('sets the corners of a polygon one by one', () => {
    ready('{"kind":"polygon","points":[[0,0],[1,0],[1,1]]}');
    draw(
      ['pointerdown', 0.2, 0.2],
      ['pointerdown', 0.6, 0.2],
      ['pointerdown', 0.6, 0.7],
      ['pointerdown', 0.2, 0.7],
    );
    draw(['pointerdown', 0.2, 0.2]);
    expect((shape() as { points: unknown[] }).points).toHaveLength(4);
    expect(useDesk.getState().pen).toBeNull();
  });
});

describe('what is looked at', () => {
  it('is chosen from the passes and channels, and its range is told', () => {
    withShape('{"kind":"gradient","from":[0.5,0],"to":[0.5,1]}');
    render(<LookAt />);
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Look at' }));
    const wanted = ['final', 'behind the plate', 'feed of the veil', 'beauty', 'depth', 'R', 'G', 'B', 'Z'];
    for (const name of wanted) expect(screen.getByRole('option', { name })).toBeInTheDocument();
    fireEvent.click(screen.getByRole('option', { name: 'Z' }));
    expect(useDesk.getState().subject).toEqual({ kind: 'pass', pass: 'depth', channel: 'Z' });
    act(() => useDesk.getState().set({ report: { range: [1.914, 10000] } }));
    expect(screen.getByTestId('range')).toHaveTextContent('1.914 to 10000');
    act(() => useDesk.getState().set({ subject: { kind: 'rebuild', part: 'sum' } }));
    expect(screen.getAllByText('rebuild: sum')[0]).toBeInTheDocument();
  });

  it('may be false colour, with its scale', () => {
    withShape('{"kind":"gradient","from":[0.5,0],"to":[0.5,1]}');
    render(
      <>
        <LookAt />
        <FalseColourLegend />
      </>,
    );
    expect(screen.queryByRole('img', { name: /Scale of the false colours/ })).toBeNull();
    fireEvent.click(screen.getByText('False colour'));
    expect(screen.getByRole('img', { name: /Scale of the false colours/ })).toHaveTextContent('-0.5');
  });
});
