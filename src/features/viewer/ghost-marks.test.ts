import type { GhostPlace } from '../../core/stations/ghosts/queries';
import { ghostAt, isInGhost } from './GhostMarks';

jest.mock('../stations', () => ({ useGhostTable: () => undefined }));
jest.mock('../session', () => ({}));

const place = (name: string, x: number, y: number, size: number): GhostPlace => ({
  name,
  light: 'Lamp',
  x: x - size / 2,
  y: y - size / 2,
  width: size,
  height: size,
});

describe('the ghost under the pointer', () => {
  it('is one whose ellipse holds the place, corners not counted', () => {
    const ghost = place('1-2', 0.5, 0.5, 0.2);
    expect(isInGhost(ghost, { x: 0.5, y: 0.5 })).toBe(true);
    expect(isInGhost(ghost, { x: 0.59, y: 0.5 })).toBe(true);
    expect(isInGhost(ghost, { x: 0.59, y: 0.59 })).toBe(false);
    expect(isInGhost({ ...ghost, width: 0.4, x: 0.3 }, { x: 0.68, y: 0.5 })).toBe(true);
  });

  it('is the smallest of those that lie over each other, or none', () => {
    const places = [place('0-3', 0.5, 0.5, 0.8), place('4-8', 0.45, 0.5, 0.2), place('1-2', 0.9, 0.1, 0.05)];
    expect(ghostAt(places, { x: 0.46, y: 0.52 })?.name).toBe('4-8');
    expect(ghostAt(places, { x: 0.7, y: 0.6 })?.name).toBe('0-3');
    expect(ghostAt(places, { x: 0.99, y: 0.99 })).toBeUndefined();
  });
});
