import '@testing-library/jest-dom';
import { act, createEvent, fireEvent, render, screen } from '@testing-library/react';
import { useDesk } from '../../state/desk-store';
import type { PlateCard } from '../session';
import { RegionFields } from './RegionFields';
import { regionBetween, RegionTool } from './RegionTool';

jest.mock('../session', () => ({}));

const card = { id: 'e', plate: 'p', width: 400, height: 200 } as PlateCard;
const layout = { left: 10, top: 20, zoom: 0.5 };

/** jsdom has no pointer events with places. */
function pointer(
  target: HTMLElement,
  kind: 'pointerDown' | 'pointerMove' | 'pointerUp',
  x: number,
  y: number,
): void {
  const event = createEvent[kind](target);
  Object.defineProperties(event, {
    clientX: { value: x },
    clientY: { value: y },
    pointerId: { value: 1 },
    button: { value: 0 },
  });
  fireEvent(target, event);
}

beforeEach(() => {
  HTMLElement.prototype.setPointerCapture = () => undefined;
  useDesk.getState().set({ region: null, drawingRegion: false });
});

describe('a region', () => {
  it.each([
    [[10.4, 20.6], [60, 90], { x: 10, y: 21, width: 50, height: 69 }],
    [[60, 90], [10, 20], { x: 10, y: 20, width: 50, height: 70 }],
    [[-50, -50], [900, 900], { x: 0, y: 0, width: 400, height: 200 }],
    [[10, 10], [20, 100], undefined],
    [[500, 10], [700, 100], undefined],
  ] as const)('between %j and %j is %j', (a, b, region) => {
    expect(regionBetween(a, b, card)).toEqual(region);
  });

  it('is drawn by a drag on the picture', () => {
    useDesk.getState().set({ drawingRegion: true });
    render(<RegionTool layout={layout} card={card} />);
    const pen = screen.getByTestId('region-pen');
    pointer(pen, 'pointerDown', 20, 40);
    pointer(pen, 'pointerMove', 60, 80);
    expect(screen.getByTestId('region')).toHaveStyle({ left: '20px', top: '40px', width: '40px' });
    pointer(pen, 'pointerUp', 110, 90);
    expect(useDesk.getState()).toMatchObject({
      drawingRegion: false,
      region: { x: 20, y: 40, width: 180, height: 100, plate: 'p' },
    });
  });

  it('stays as it was when the drag is a slip', () => {
    const region = { x: 0, y: 0, width: 50, height: 50, plate: 'p' };
    useDesk.getState().set({ drawingRegion: true, region });
    render(<RegionTool layout={layout} card={card} />);
    const pen = screen.getByTestId('region-pen');
    pointer(pen, 'pointerDown', 20, 40);
    pointer(pen, 'pointerUp', 22, 41);
    expect(useDesk.getState()).toMatchObject({ drawingRegion: false, region });
  });

  it('is moved and sized by the arrow keys, within the picture', () => {
    useDesk.getState().set({ region: { x: 4, y: 100, width: 50, height: 96, plate: 'p' } });
    render(<RegionTool layout={layout} card={card} />);
    const region = screen.getByRole('group', { name: /^Region/ });
    fireEvent.keyDown(region, { key: 'ArrowLeft' });
    fireEvent.keyDown(region, { key: 'ArrowDown' });
    expect(useDesk.getState().region).toMatchObject({ x: 0, y: 104, width: 50, height: 96 });
    fireEvent.keyDown(region, { key: 'ArrowRight', shiftKey: true });
    fireEvent.keyDown(region, { key: 'ArrowDown', shiftKey: true });
    expect(useDesk.getState().region).toMatchObject({ x: 0, y: 104, width: 58, height: 96 });
  });

  it('is typed, and given up', () => {
    useDesk.getState().set({ region: { x: 0, y: 0, width: 50, height: 50, plate: 'p' } });
    render(<RegionFields card={card} />);
    const field = screen.getByRole('textbox', { name: /^Region/ });
    expect(field).toHaveValue('0, 0, 50, 50');
    fireEvent.change(field, { target: { value: '100 50 80 40' } });
    fireEvent.blur(field);
    expect(useDesk.getState().region).toMatchObject({ x: 100, y: 50, width: 80, height: 40, plate: 'p' });
    fireEvent.change(field, { target: { value: 'the left half' } });
    fireEvent.blur(field);
    expect(useDesk.getState().region).toMatchObject({ x: 100, y: 50, width: 80, height: 40, plate: 'p' });
    act(() => screen.getByRole('button', { name: 'Region' }).click());
    expect(useDesk.getState().region).toBeNull();
    act(() => screen.getByRole('button', { name: 'Region' }).click());
    expect(useDesk.getState().drawingRegion).toBe(true);
  });
});
