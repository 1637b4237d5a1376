import { bindingOf, type KeyPress } from './bindings';

const BOUND = new Set([
  'mod+z',
  'mod+shift+z',
  '/',
  '?',
  'w',
  'z',
  '.',
  ',',
  '1',
  'shift+1',
  '2',
  'shift+2',
  'space',
  'b',
]);
const press = (key: string, code: string, modifiers: Partial<KeyPress> = {}): string | undefined =>
  bindingOf(
    { key, code, shiftKey: false, ctrlKey: false, metaKey: false, altKey: false, ...modifiers },
    (name) => BOUND.has(name),
  );
const shift = { shiftKey: true };
const ctrl = { ctrlKey: true };

// Source: ISO/IEC 9995 layouts as the W3C UI Events code tables list them: `code` is the place on a US keyboard.
describe('a key', () => {
  it.each([
    ['US', 'z', 'KeyZ'],
    ['German', 'z', 'KeyY'],
    ['French', 'z', 'KeyW'],
    ['Russian', 'я', 'KeyZ'],
  ])('of Ctrl and Z is undo on a %s keyboard', (_, key, code) => {
    expect(press(key, code, ctrl)).toBe('mod+z');
    expect(press(key.toUpperCase(), code, { ...ctrl, ...shift })).toBe('mod+shift+z');
  });

  it.each([
    ['/', 'Slash', {}],
    ['/', 'Digit7', shift],
    ['/', 'Period', shift],
    ['/', 'NumpadDivide', {}],
  ])('that gives %s at %s finds', (key, code, modifiers) => {
    expect(press(key, code, modifiers)).toBe('/');
  });

  it('with a sign of its own is that sign, wherever it lies', () => {
    expect(press('?', 'Minus', shift)).toBe('?');
    expect(press('w', 'KeyZ')).toBe('w');
    expect(press('.', 'Comma', shift)).toBe('.');
  });

  it('with a digit goes by its place: some keyboards have digits only under Shift', () => {
    expect(press('1', 'Digit1')).toBe('1');
    expect(press('&', 'Digit1')).toBe('1');
    expect(press('@', 'Digit2', shift)).toBe('shift+2');
    expect(press('2', 'Digit2', shift)).toBe('shift+2');
    expect(press('2', 'Numpad2')).toBe('2');
  });

  it('that is none of ours, or has Alt, is left to the browser', () => {
    expect(press('q', 'KeyQ')).toBeUndefined();
    expect(press('z', 'KeyZ', { altKey: true })).toBeUndefined();
    expect(press('w', 'KeyW', ctrl)).toBeUndefined();
    expect(press(' ', 'Space')).toBe('space');
  });
});
