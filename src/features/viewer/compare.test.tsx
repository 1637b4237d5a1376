import '@testing-library/jest-dom';
import { act, fireEvent, render, screen } from '@testing-library/react';
import { assignSetting, defaultLook, type Look } from '../../core/look/look';
import { EMPTY_SHOT, plateOfFile, type Proof } from '../../core/shot/shot';
import type { ShowRequest } from '../../engine/messages';
import { PLATE, useDesk } from '../../state/desk-store';
import { undo, useShot } from '../../state/shot-store';
import { containIn } from '../common';
import { CompareBar } from './CompareBar';
import { CompareView } from './compare-view';
import { swapCompared } from './compared';
import { PatchTool } from './PatchTool';
import { currentWish, type Wish } from './wish';

const mockShown: ShowRequest[] = [];
let mockPatches: Record<string, number[]> = {};

jest.mock('../../engine/browser/client', () => ({
  EngineError: class extends Error {},
  unwrap: (outcome: { value: unknown }) => outcome.value,
  benchEngine: () => ({
    show: (request: ShowRequest) => {
      mockShown.push(request);
      return Promise.resolve({ value: { bitmap: { width: 8, height: 8, close: () => undefined } } });
    },
    readPatch: (side: string) => Promise.resolve(mockPatches[side]),
  }),
}));
const mockNotes: string[] = [];
jest.mock('../session', () => ({
  benchLook: (look: Look) => look,
  notify: (text: string) => mockNotes.push(text),
  openEntry: () => Promise.resolve({ opened: { id: 'older' }, release: () => undefined }),
  proofPicture: () => Promise.resolve({ width: 4, height: 4, close: () => undefined }),
  putBack: ({ look }: Proof) => mockPutBack(look),
  reportError: (error: unknown) => {
    throw error;
  },
  referenceId: (id: string) => `reference ${id}`,
  REFERENCE_LOOK: jest.requireActual<{ defaultLook: () => Look }>('../../core/look/look').defaultLook(),
  useMattes: () => [],
  useOtherElements: () => [],
  usePlates: Object.assign((select: (state: unknown) => unknown) => select(mockPlates), {
    getState: () => mockPlates,
  }),
}));
const mockPutBack = (look: Look): void => useShot.getState().setLook(look);
const mockPlates = {
  cards: { q: { id: 'e', plate: 'q', revision: 0, name: 'quay.exr', width: 1280, height: 720 } },
  references: { r: { width: 600, height: 800 } },
};

const lookOf = (...settings: string[]): Look => settings.reduce(assignSetting, defaultLook());
const proof = (id: string, look: Look, frame = 0): Proof => ({
  ...{ id, name: `Proof ${id}`, note: '', time: 1, picture: null, look },
  of: { plate: 'q', version: 'q', frame },
});
const wish = (): Wish => currentWish({ width: 800, height: 600 })!;
const desk = (change: Partial<ReturnType<typeof useDesk.getState>>): void =>
  act(() => useDesk.getState().set(change));
const against = async (view = new CompareView()): Promise<ShowRequest | undefined> => {
  mockShown.length = 0;
  await view.refresh(wish());
  return mockShown[0];
};

beforeEach(() => {
  mockNotes.length = 0;
  useShot.getState().replaceShot({
    name: 'S',
    plates: [plateOfFile('q', 'quay.exr')],
    references: [
      { id: 'r', name: 'harbour.jpg', file: { id: 'f', name: 'f' }, exposure: 1, white: [1, 1, 2] },
    ],
    images: [],
    proofs: [proof('1', lookOf('veil.bloom.amount=0.01')), proof('2', lookOf('film.exposure=1'), 7)],
    follows: null,
    tracks: EMPTY_SHOT.tracks,
    reel: EMPTY_SHOT.reel,
    activePlate: 'q',
    look: lookOf('veil.bloom.amount=0.05', 'veil.stack[0].amount=0.1'),
  });
  desk({
    ...{ compare: 'wipe', against: PLATE, shownProof: null, patches: null, scopes: false },
    ...{ subject: { kind: 'final' }, falseColour: false, viewExposure: 0, holdPlate: false },
  });
});

const pointer = (type: string, clientX: number, clientY: number): Event =>
  Object.assign(new MouseEvent(type, { bubbles: true, clientX, clientY }), { pointerId: 1 });

describe('what the picture is held against', () => {
  it('is the plate, a proof of the same render computed anew, or one of another as it was saved', async () => {
    expect((await against())!.look.veil.on).toBe(false);
    desk({ against: { kind: 'proof', id: '1' } });
    expect(await against()).toMatchObject({ plate: 'e', look: { veil: { bloom: { amount: 0.01 } } } });
    desk({ against: { kind: 'proof', id: '2' } });
    expect(await new CompareView().refresh(wish())).toMatchObject({ bitmap: { width: 4 }, ownShape: true });
    desk({ compare: null });
    expect(await against()).toBeUndefined();
    desk({ holdPlate: true });
    expect((await against())!.look.veil.on).toBe(false);
  });

  it('is a reference under its exposure and white, through the view and false colour of the picture', async () => {
    act(() => useShot.getState().change('film.view', 'filmic'));
    desk({ against: { kind: 'reference', id: 'r' }, viewExposure: 0.5, falseColour: true });
    const request = await against();
    expect(request).toMatchObject({
      ...{ plate: 'reference r', viewExposure: 1.5, gains: [1, 1, 2], falseColour: true },
      look: { film: { view: 'filmic', exposure: 0 }, veil: { bloom: { amount: 0 } } },
    });
  });

  it('is asked for once, as long as it stays the same', async () => {
    desk({ against: { kind: 'proof', id: '1' } });
    const view = new CompareView();
    expect(await against(view)).toBeDefined();
    expect(await against(view)).toBeUndefined();
    // The present look is none of its business.
    act(() => useShot.getState().change('veil.bloom.amount', 0.2));
    expect(await against(view)).toBeUndefined();
    view.forget();
    expect(await against(view)).toBeDefined();
  });

  it('is taken from the picture in a difference, and changes places with it', () => {
    desk({ against: { kind: 'proof', id: '1' }, compare: 'difference', differenceGain: 3 });
    expect(wish()).toMatchObject({
      ...{ subject: { kind: 'difference', gain: 3 }, against: { veil: { bloom: { amount: 0.01 } } } },
      look: { veil: { bloom: { amount: 0.05 } } },
    });
    act(() => swapCompared());
    expect(wish()).toMatchObject({
      ...{ against: { veil: { bloom: { amount: 0.05 } } }, look: { veil: { bloom: { amount: 0.01 } } } },
    });
    act(() => swapCompared());
    expect(useDesk.getState()).toMatchObject({ shownProof: null, against: { kind: 'proof', id: '1' } });
    desk({ against: { kind: 'reference', id: 'r' } });
    act(() => swapCompared());
    expect(useDesk.getState().shownProof).toBeNull();
    expect(wish().subject).toEqual({ kind: 'final' });
  });
});

describe('the line of comparing', () => {
  const choose = (name: string, option: string): void => {
    fireEvent.mouseDown(screen.getByRole('combobox', { name }));
    fireEvent.click(screen.getByRole('option', { name: option }));
  };

  it('chooses what to compare with, and how', () => {
    render(<CompareBar />);
    choose('Held against', 'against Proof 1');
    expect(useDesk.getState().against).toEqual({ kind: 'proof', id: '1' });
    fireEvent.click(screen.getByRole('button', { name: 'Compare: blink' }));
    expect(screen.getByRole('textbox', { name: 'Blink seconds' })).toHaveValue('0.8');
    fireEvent.click(screen.getByRole('button', { name: 'Compare: difference' }));
    desk({ report: { difference: { max: 1.5, mean: 0.01 } } });
    expect(screen.getByTestId('difference')).toHaveTextContent('largest 1.5, mean 0.01');
    choose('Held against', 'against harbour.jpg');
    // Of a photograph there is no difference in figures.
    expect(useDesk.getState().compare).toBe('wipe');
    expect(screen.queryByRole('button', { name: 'Compare: difference' })).toBeNull();
    choose('Shown', 'Proof 2');
    choose('Held against', 'against present look');
    expect(useDesk.getState()).toMatchObject({ shownProof: '2', against: { kind: 'present' } });
    fireEvent.click(screen.getByRole('button', { name: 'End comparing' }));
    expect(useDesk.getState()).toMatchObject({ compare: null, shownProof: null });
    expect(screen.queryByRole('group', { name: 'Compare' })).toBeNull();
  });

  it('lists the settings that differ, of which each can be taken over, and puts a proof back', () => {
    desk({ against: { kind: 'proof', id: '1' } });
    render(<CompareBar />);
    fireEvent.click(screen.getByRole('button', { name: '2 settings differ' }));
    fireEvent.click(screen.getByRole('button', { name: 'Take over Bloom: Amount of Proof 1' }));
    expect(useShot.getState().look.veil.bloom.amount).toBe(0.01);
    expect(useShot.getState().look.veil.stack).toHaveLength(1);
    act(() => undo());
    expect(useShot.getState().look.veil.bloom.amount).toBe(0.05);
    fireEvent.click(screen.getByText('Put Proof 1 back'));
    expect(useShot.getState().look.veil.stack).toHaveLength(0);
    expect(screen.getByText('The two differ in no setting.')).toBeInTheDocument();
  });

  it('matches a reference to the picture by a patch on each', async () => {
    desk({ against: { kind: 'reference', id: 'r' }, compare: 'beside' });
    const layout = { left: 0, top: 0, zoom: 1 };
    const picture = { width: 100, height: 50 };
    render(
      <>
        <CompareBar />
        <PatchTool side="shown" picture={picture} layout={layout} />
        <PatchTool side="compared" picture={picture} layout={layout} />
      </>,
    );
    HTMLElement.prototype.setPointerCapture = () => undefined;
    const draw = (side: string): void => {
      const tool = screen.getByTestId(`patch-${side}`);
      fireEvent(tool, pointer('pointerdown', 10, 10));
      fireEvent(tool, pointer('pointermove', 20, 15));
      fireEvent(tool, pointer('pointerup', 30, 20));
    };
    fireEvent.click(screen.getByRole('button', { name: 'Match by patches' }));
    expect(screen.getByText('draw a patch on the picture')).toBeInTheDocument();
    draw('shown');
    expect(screen.getByText('draw a patch on the reference')).toBeInTheDocument();
    draw('compared');
    expect(useDesk.getState().patches!.shown).toMatchObject({ x: 0.1, y: 0.2 });
    mockPatches = { shown: [0.4, 0.4, 0.4], compared: [0.1, 0, 0.1] };
    await act(() => {
      fireEvent.click(screen.getByRole('button', { name: 'Match' }));
      return Promise.resolve();
    });
    expect(mockNotes.join()).toMatch(/black in one of its channels/);
    mockPatches = { shown: [0.4, 0.4, 0.4], compared: [0.1, 0.1, 0.1] };
    await act(() => {
      fireEvent.click(screen.getByRole('button', { name: 'Match' }));
      return Promise.resolve();
    });
    const [reference] = useShot.getState().references;
    expect(reference!.exposure).toBeCloseTo(2, 3);
    reference!.white.forEach((gain) => expect(gain).toBeCloseTo(1, 9));
    expect(useDesk.getState().patches).toBeNull();
  });
});

it('fits a shape into another in the middle', () => {
  const box = { x: 10, y: 20, width: 200, height: 100 };
  expect(containIn({ width: 50, height: 50 }, box)).toEqual({ x: 60, y: 20, width: 100, height: 100 });
  expect(containIn({ width: 400, height: 100 }, box)).toEqual({ x: 10, y: 45, width: 200, height: 50 });
});
