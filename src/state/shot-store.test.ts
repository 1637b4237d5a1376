import { assignSetting, defaultLook } from '../core/look/look';
import { SettingError } from '../core/errors';
import { plateOfFile } from '../core/shot/shot';
import { beginGesture, endGesture, useShot } from './shot-store';

const history = () => useShot.temporal.getState();
const amount = (): number => useShot.getState().look.veil.bloom.amount;
const fresh = {
  name: 'S',
  plates: [plateOfFile('a', 'a.exr')],
  references: [],
  images: [],
  activePlate: 'a',
  look: defaultLook(),
};

beforeEach(() => useShot.getState().replaceShot(fresh));

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
    expect(useShot.getState().name).toBe('S');
  });

  it('does not undo plates: their files would be gone', () => {
    useShot.getState().addPlate(plateOfFile('b', 'b.exr'));
    expect(history().pastStates).toHaveLength(0);
    expect(useShot.getState().activePlate).toBe('b');
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

  it('forgets its steps when another shot comes', () => {
    useShot.getState().change('veil.bloom.amount', 0.2);
    useShot.getState().replaceShot({ ...fresh, name: 'T' });
    expect(history().pastStates).toHaveLength(0);
    expect(amount()).toBe(0);
  });
});
