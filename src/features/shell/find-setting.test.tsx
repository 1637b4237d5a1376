import '@testing-library/jest-dom';
import { act, render } from '@testing-library/react';
import { defaultLook } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { EMPTY_SHOT, startShot } from '../../state/shot-store';
import { StationPanel } from '../stations';
import { ENTRIES, fieldOf } from './find-setting';

jest.mock('../../engine/browser/client', () => ({
  benchEngine: () => new Proxy({}, { get: () => () => new Promise(() => undefined) }),
  askStation: () => new Promise(() => undefined),
  EngineError: class extends Error {},
}));
jest.mock('../controls/Chart', () => ({ Chart: () => null, loadCharts: () => Promise.resolve() }));

beforeAll(() => {
  startShot({
    ...EMPTY_SHOT,
    plates: [],
    activePlate: null,
    look: defaultLook(),
  });
});

describe('a setting that is looked for', () => {
  it.each(ENTRIES.map(({ path, station }) => [path, station] as const))(
    '%s is there to be set',
    (path, station) => {
      act(() => useDesk.getState().set({ station, revealed: path }));
      render(<StationPanel />);
      expect(fieldOf(path)).not.toBeNull();
    },
  );
});
