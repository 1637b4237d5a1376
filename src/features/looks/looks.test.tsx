import '@testing-library/jest-dom';
import { act, fireEvent, render, screen } from '@testing-library/react';
import { assignSetting, defaultLook, type Look } from '../../core/look/look';
import { SHIPPED_LOOKS } from '../../core/look/shipped-looks';
import { plateOfFile } from '../../core/shot/shot';
import type { ShowRequest } from '../../engine/messages';
import { useDesk } from '../../state/desk-store';
import { EMPTY_SHOT, undo, useShot } from '../../state/shot-store';
import type { KeptLook } from '../../state/storage';
import { followedChange, setNotify, takeFollowed, useLooks, usePlates, type PlateCard } from '../session';
import { LookSection, LooksView } from '.';

const mockShown: ShowRequest[] = [];
const mockKept = new Map<string, KeptLook>();
const bitmap = { width: 8, height: 4, close: () => undefined };

jest.mock('../../engine/browser/client', () => ({
  EngineError: class extends Error {},
  unwrap: (outcome: { value: unknown }) => outcome.value,
  benchEngine: () => ({
    show: (request: ShowRequest) => {
      mockShown.push(request);
      return Promise.resolve({ value: { bitmap: mockBitmap() } });
    },
  }),
}));
const mockBitmap = () => bitmap;
jest.mock('../../state/storage', () => ({
  loadLooks: () => Promise.resolve([...mockKept.values()]),
  saveLook: (look: KeptLook) => Promise.resolve(void mockKept.set(look.id, look)),
  removeLook: (id: string) => Promise.resolve(void mockKept.delete(id)),
}));
globalThis.OffscreenCanvas = class {
  getContext = () => ({ drawImage: () => undefined });
  convertToBlob = () => Promise.resolve(new Blob(['png']));
} as unknown as typeof OffscreenCanvas;
globalThis.createImageBitmap = () => Promise.resolve(bitmap as unknown as ImageBitmap);

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());
const keep = (name: string, note: string, look: Look): void => {
  const kept = { id: name, name, note, look, time: 1, thumbnail: null };
  mockKept.set(name, kept);
  useLooks.setState({ looks: [kept] });
};
const told: string[] = [];
const settle = (change: () => unknown): Promise<void> =>
  act(async () => {
    await change();
    for (let turn = 0; turn < 60; turn++) await Promise.resolve();
  });
const press = (name: string | RegExp): Promise<void> =>
  settle(() => fireEvent.click(screen.getByRole('button', { name })));
const changes = (): string[] =>
  screen.queryAllByRole('listitem').map((item) => item.getAttribute('title') ?? '');

beforeEach(() => {
  HTMLCanvasElement.prototype.getContext = () => null;
  mockShown.length = 0;
  told.length = 0;
  mockKept.clear();
  setNotify((text) => told.push(text));
  useLooks.setState({ looks: [] });
  useShot.getState().replaceShot({
    ...EMPTY_SHOT,
    name: 'Pier',
    plates: [plateOfFile('q', 'quay.exr')],
    activePlate: 'q',
    look: lookOf('film.exposure=1', 'veil.bloom.amount=0.002'),
  });
  const card = { id: 'e', name: 'quay.exr', width: 1280, height: 720 } as PlateCard;
  usePlates.setState({ cards: { q: card } });
  useDesk.getState().set({ looks: true, phase: 'final', viewExposure: 0 });
});

describe('whole looks', () => {
  it('are shown on the present plate, and change nothing until one is taken', async () => {
    await settle(() => render(<LooksView />));
    expect(mockShown).toHaveLength(12);
    expect(
      mockShown.every(({ lane, plate, scale }) => lane === 'looks' && plate === 'e' && scale < 0.2),
    ).toBe(true);
    // What goes by the render stays as it is.
    expect(mockShown.every(({ look }) => look.film.exposure === 1)).toBe(true);
    await press('Look Silver');
    expect(changes()).toContain('film.saturation');
    expect(screen.getByText(/^It would change/)).toHaveTextContent(`${changes().length} settings`);
    expect(useShot.getState().look.film.saturation).toBe(1);
    await press('Take it');
    expect(useShot.getState().look.film).toMatchObject({ saturation: 0, exposure: 1 });
    expect(useDesk.getState().looks).toBe(false);
    act(() => undo());
    expect(useShot.getState().look.film.saturation).toBe(1);
  });

  it('can be taken by station and in part, of which a picture is made', async () => {
    await settle(() => render(<LooksView />));
    await press('Look Silver');
    for (const station of ['Focus', 'Pupil', 'Veil', 'Ghosts', 'Glass']) await press(`Take ${station}`);
    expect(changes().every((path) => path.startsWith('film.'))).toBe(true);
    const field = screen.getByRole('textbox', { name: /strength/ });
    await settle(() => {
      fireEvent.focus(field);
      fireEvent.change(field, { target: { value: '50' } });
      fireEvent.keyDown(field, { key: 'Enter' });
      fireEvent.blur(field);
    });
    expect(mockShown.at(-1)!.look.film.saturation).toBeCloseTo(0.5, 9);
    await press('Take it');
    expect(useShot.getState().look).toMatchObject({ film: { saturation: 0.5 }, pupil: { blades: 0 } });
  });

  it('take what goes by the render with them if that is wanted', async () => {
    keep('Mine', 'of the other pier', lookOf('film.exposure=-2'));
    await settle(() => render(<LooksView />));
    await press('Look Mine');
    expect(changes()).toEqual(['veil.bloom.amount']);
    await press(/^Take what goes by the render/);
    expect(changes()).toEqual(['veil.bloom.amount', 'film.exposure']);
  });

  it('are kept with name, note and picture, removed and brought back', async () => {
    await settle(() => render(<LooksView />));
    await press('Keep the present look');
    const [kept] = [...mockKept.values()];
    expect(kept).toMatchObject({ name: 'My look', look: useShot.getState().look });
    expect(kept!.thumbnail).toBeInstanceOf(Blob);
    await press('Rename…');
    const field = screen.getByRole('textbox', { name: 'Name of the look' });
    // A name that ships is taken.
    fireEvent.change(field, { target: { value: SHIPPED_LOOKS[0]!.name } });
    await settle(() => fireEvent.keyDown(field, { key: 'Enter' }));
    expect([...mockKept.values()][0]!.name).toBe(`${SHIPPED_LOOKS[0]!.name} 2`);
    await press('Remove');
    expect(mockKept.size).toBe(0);
    await press(/^Bring back/);
    expect([...mockKept.values()]).toMatchObject([{ id: kept!.id, look: kept!.look }]);
  });
});

describe('a look that several shots follow', () => {
  const shared = lookOf('veil.bloom.amount=0.01', 'film.contrast=1.2');

  it('is offered to each when it changes, and trims stay', async () => {
    keep('Pier nights', '', shared);
    await settle(() =>
      render(
        <>
          <LookSection />
          <LooksView />
        </>,
      ),
    );
    await press('Look Pier nights');
    await press('Take and follow it');
    expect(screen.getByText(/^follows Pier nights/)).toBeInTheDocument();
    expect(useShot.getState().follows).toEqual({ name: 'Pier nights', look: shared });
    act(() => useShot.getState().change('film.contrast', 1.4));
    // Another shot, or another tab, changes it.
    const [kept] = useLooks.getState().looks;
    const look = ['veil.bloom.amount=0.03', 'film.contrast=0.9', 'pupil.blades=7'].reduce(
      assignSetting,
      shared,
    );
    await settle(() => useLooks.setState({ looks: [{ ...kept!, look, time: kept!.time + 1 }] }));
    expect(screen.getByRole('status', { name: '' })).toHaveTextContent(
      'It has changed since: 2 settings here.',
    );
    expect(useShot.getState().look.veil.bloom.amount).toBe(0.01);
    await press('Take them');
    expect(useShot.getState().look).toMatchObject({
      ...{ veil: { bloom: { amount: 0.03 } }, pupil: { blades: 7 } },
      film: { contrast: 1.4, exposure: 1 },
    });
    expect(screen.queryByText(/It has changed since/)).toBeNull();
    act(() => undo());
    expect(useShot.getState().look.veil.bloom.amount).toBe(0.01);
    await press('Not now');
    expect(screen.queryByText(/It has changed since/)).toBeNull();
    await press('Follow it no more');
    expect(useShot.getState().follows).toBeNull();
  });

  it('is changed by one of them, which has no trims then', async () => {
    keep('Pier nights', '', shared);
    act(() => useShot.getState().follow({ name: 'Pier nights', look: shared }, shared));
    act(() => useShot.getState().change('film.contrast', 1.4));
    await settle(() => render(<LooksView />));
    await press('Look Pier nights');
    await press('Put the present look in its place');
    const [kept] = useLooks.getState().looks;
    expect(kept!.look.film.contrast).toBe(1.4);
    const { follows, look } = useShot.getState();
    expect(follows!.look).toBe(look);
    expect(followedChange({ follows, look }, useLooks.getState().looks)).toBeUndefined();
  });

  it('that is not among those that are kept here offers nothing', () => {
    const state = { follows: { name: 'Elsewhere', look: shared }, look: shared };
    expect(followedChange(state, useLooks.getState().looks)).toBeUndefined();
    expect(() => takeFollowed({ kept: { name: 'x', look: shared } as KeptLook, paths: [] })).not.toThrow();
  });
});
