import { assignSetting, defaultLook } from '../core/look/look';
import { SettingError } from '../core/errors';
import { withKey } from '../core/look/track-edits';
import { plateOfFile } from '../core/shot/shot';
import { EMPTY_SHOT, beginGesture, endGesture, redo, startShot, undo, useShot } from './shot-store';

const history = () => ({
  ...useShot.temporal.getState(),
  undo,
  redo: (steps = 1) => {
    for (let k = 0; k < steps; k++) redo();
  },
});
const amount = (): number => useShot.getState().look.veil.bloom.amount;
const fresh = {
  ...EMPTY_SHOT,
  plates: [plateOfFile('a', 'a.exr')],
  activePlate: 'a',
  look: defaultLook(),
};

beforeEach(() => {
  endGesture();
  startShot(fresh);
});

describe('the shot in memory', () => {
  it('undoes and redoes changes of the look', () => {
    const { change } = useShot.getState();
    change('veil.bloom.amount', 0.01);
    change('veil.bloom.amount', 0.02);
    history().undo();
    expect(amount()).toBe(0.01);
    history().undo();
    expect(amount()).toBe(0);
    history().redo(2);
    expect(amount()).toBe(0.02);
  });

  it('keeps proofs whatever is undone, and those of another shot with it', () => {
    const { change, setProofs, replaceShot } = useShot.getState();
    const proof = (id: string) => ({
      ...{ id, name: id, note: '', time: 1, picture: null, look: defaultLook() },
      of: { plate: 'a', version: 'a', frame: 0 },
    });
    const names = (): string[] => useShot.getState().proofs.map(({ name }) => name);
    change('veil.bloom.amount', 0.01);
    setProofs([proof('one')]);
    change('veil.bloom.amount', 0.02);
    setProofs([proof('one'), proof('two')]);
    history().undo();
    history().undo();
    expect(amount()).toBe(0);
    expect(names()).toEqual(['one', 'two']);
    history().redo(2);
    expect(amount()).toBe(0.02);
    expect(names()).toEqual(['one', 'two']);
    replaceShot({ ...fresh, name: 'other', proofs: [proof('theirs')] });
    expect(names()).toEqual(['theirs']);
    history().undo();
    expect(names()).toEqual(['one', 'two']);
    history().redo();
    expect(names()).toEqual(['theirs']);
  });

  it('takes a drag as one step', () => {
    const { change } = useShot.getState();
    change('veil.bloom.amount', 0.01);
    beginGesture();
    for (let k = 0; k < 50; k++) change('veil.bloom.amount', 0.02 + k / 1000);
    endGesture();
    change('veil.bloom.amount', 0.5);
    history().undo();
    expect(amount()).toBeCloseTo(0.069, 9);
    history().undo();
    expect(amount()).toBe(0.01);
    history().redo();
    expect(amount()).toBeCloseTo(0.069, 9);
  });

  it('records nothing for a drag that ends where it began', () => {
    beginGesture();
    endGesture();
    expect(history().pastStates).toHaveLength(0);
  });

  it('refuses a value that does not fit and stays as it was', () => {
    expect(() => useShot.getState().change('veil.bloom.amount', 7)).toThrow(SettingError);
    expect(amount()).toBe(0);
    expect(history().pastStates).toHaveLength(0);
  });

  it('undoes a new name and a reset of everything', () => {
    const { rename, setLook } = useShot.getState();
    rename('Pier');
    setLook(assignSetting(defaultLook(), 'veil.bloom.amount=0.3'));
    history().undo();
    expect([useShot.getState().name, amount()]).toEqual(['Pier', 0]);
    history().undo();
    expect(useShot.getState().name).toBe(EMPTY_SHOT.name);
  });

  it('undoes plates, their order and roles, but not which one or which frame is looked at', () => {
    const { addPlate, choosePlate, movePlate, editPlate } = useShot.getState();
    const names = () => useShot.getState().plates.map(({ id }) => id);
    addPlate(plateOfFile('b', 'b.exr'));
    movePlate('b', 0);
    choosePlate('a');
    editPlate('a', { frame: 3 });
    editPlate('a', { roles: { glow: 'emission' } });
    expect(history().pastStates).toHaveLength(3);
    choosePlate('b');
    editPlate('a', { frame: 5 });
    history().undo();
    expect(useShot.getState().plates.find(({ id }) => id === 'a')).toMatchObject({ roles: {} });
    expect(useShot.getState().activePlate).toBe('b');
    history().undo();
    expect(names()).toEqual(['a', 'b']);
    expect(useShot.getState().plates[0]!.frame).toBe(5);
    history().undo();
    expect([names(), useShot.getState().activePlate]).toEqual([['a'], 'a']);
    history().redo();
    expect([names(), useShot.getState().activePlate]).toEqual([['a', 'b'], 'b']);
  });

  it('gives a drag up that is undone: what the hand goes on to say counts no more', () => {
    const { change } = useShot.getState();
    change('veil.bloom.amount', 0.01);
    const drag = beginGesture();
    change('veil.bloom.amount', 0.02);
    change('veil.bloom.amount', 0.03);
    history().undo();
    expect(amount()).toBe(0.01);
    change('veil.bloom.amount', 0.04);
    expect(amount()).toBe(0.01);
    expect(history().futureStates).toHaveLength(1);
    endGesture(drag);
    change('veil.bloom.amount', 0.05);
    history().undo();
    history().undo();
    expect(amount()).toBe(0);
  });

  it('is not ended by the end of another drag', () => {
    const { change } = useShot.getState();
    const colour = beginGesture();
    change('veil.bloom.amount', 0.5);
    beginGesture();
    endGesture(colour);
    for (let k = 0; k < 20; k++) change('veil.bloom.amount', 0.02 + k / 1000);
    expect(history().pastStates).toHaveLength(2);
  });

  it('makes no step of a value that is there already', () => {
    useShot.getState().change('veil.bloom.amount', 0);
    expect(history().pastStates).toHaveLength(0);
  });

  it('chooses another plate when the active one is removed', () => {
    const { addPlate, removePlate, choosePlate } = useShot.getState();
    addPlate(plateOfFile('b', 'b.exr'));
    removePlate('b');
    expect(useShot.getState().activePlate).toBe('a');
    choosePlate('a');
    removePlate('a');
    expect(useShot.getState()).toMatchObject({ plates: [], activePlate: null });
  });

  it('takes another shot as one step, unless it is the first', () => {
    useShot.getState().change('veil.bloom.amount', 0.2);
    useShot.getState().replaceShot({ ...fresh, name: 'T' });
    expect(amount()).toBe(0);
    history().undo();
    expect([useShot.getState().name, amount()]).toEqual([EMPTY_SHOT.name, 0.2]);
    startShot(fresh);
    expect(history().pastStates).toHaveLength(0);
  });
});

describe('the elements of a plate', () => {
  const order = (): readonly string[] => useShot.getState().plates[0]!.elements;
  const opacities = (): number[] => useShot.getState().look.elements.map(({ opacity }) => opacity);

  beforeEach(() => {
    const { addElement, change } = useShot.getState();
    addElement('a', plateOfFile('b', 'b.exr'));
    addElement('a', plateOfFile('c', 'c.exr'));
    change('elements[2].opacity', 0.25);
  });

  it('come over what there is, and move with what the look says of them, as one step', () => {
    expect(order()).toEqual(['a', 'b', 'c']);
    useShot.getState().moveElement('a', 2, 0);
    expect(order()).toEqual(['c', 'a', 'b']);
    expect(opacities()).toEqual([0.25, 1, 1]);
    undo();
    expect(order()).toEqual(['a', 'b', 'c']);
    expect(opacities()).toEqual([1, 1, 0.25]);
    expect(useShot.getState().activePlate).toBe('a');
  });

  it('go with their settings, and all of them with their plate', () => {
    useShot.getState().removePlate('b');
    expect(order()).toEqual(['a', 'c']);
    expect(opacities()).toEqual([1, 0.25]);
    useShot.getState().removePlate('c');
    expect(order()).toEqual([]);
    undo();
    undo();
    expect(order()).toEqual(['a', 'b', 'c']);
    useShot.getState().removePlate('a');
    expect(useShot.getState()).toMatchObject({ plates: [], activePlate: null });
  });
});

describe('time in the shot', () => {
  const keys = (): [number, unknown][] =>
    (useShot.getState().tracks['veil.bloom.amount']?.keys ?? []).map(({ frame, value }) => [frame, value]);
  const ramp = () =>
    useShot.getState().setTracks(
      withKey(withKey({}, 'veil.bloom.amount', { frame: 1, value: 0 }), 'veil.bloom.amount', {
        frame: 11,
        value: 0.1,
      }),
    );

  it('makes the look what the tracks say at the playhead, which is no step', () => {
    const { setPlayhead, change } = useShot.getState();
    ramp();
    const steps = (): number => useShot.temporal.getState().pastStates.length;
    const before = steps();
    setPlayhead(6);
    expect(amount()).toBeCloseTo(0.05, 12);
    setPlayhead(11);
    expect([amount(), steps()]).toEqual([0.1, before]);
    change('film.exposure', 1);
    history().undo();
    expect([amount(), useShot.getState().reel.playhead]).toEqual([0.1, 11]);
  });

  it('makes keys of what is dragged, as one step, which undo takes back at whatever frame', () => {
    const { setPlayhead, change } = useShot.getState();
    ramp();
    setPlayhead(6);
    beginGesture();
    change('veil.bloom.amount', 0.2);
    change('veil.bloom.amount', 0.3);
    endGesture();
    expect(keys()).toEqual([
      [1, 0],
      [6, 0.3],
      [11, 0.1],
    ]);
    setPlayhead(1);
    expect(amount()).toBe(0);
    history().undo();
    expect(keys()).toEqual([
      [1, 0],
      [11, 0.1],
    ]);
    expect([amount(), useShot.getState().reel.playhead]).toEqual([0, 1]);
    history().redo();
    setPlayhead(6);
    expect(amount()).toBe(0.3);
    history().undo();
    history().undo();
    expect([keys(), amount()]).toEqual([[], 0]);
  });

  it('belongs to a shot: another brings its own playhead', () => {
    useShot.getState().setPlayhead(9);
    useShot.getState().replaceShot({ ...fresh, name: 'other', reel: { ...fresh.reel, playhead: 4 } });
    expect(useShot.getState().reel.playhead).toBe(4);
    history().undo();
    expect(useShot.getState().reel.playhead).toBe(9);
  });
});
