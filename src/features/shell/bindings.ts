/** The part of a key event that tells which key it is. */
export type KeyPress = Pick<KeyboardEvent, 'key' | 'code' | 'shiftKey' | 'ctrlKey' | 'metaKey' | 'altKey'>;

const LETTER = /^[a-z]$/;

/**
 * What a key is called in the list of bindings: by the character that it gives, whatever the keyboard, and by its place only
 * where it gives none of ours (letters of another script; digits, which some keyboards have under Shift). `mod` is Ctrl or
 * Cmd. Undefined for keys with Alt, which belong to the system.
 */
export function bindingOf(press: KeyPress, isBound: (name: string) => boolean): string | undefined {
  const { key, code, shiftKey, altKey } = press;
  if (altKey) return undefined;
  const mod = press.ctrlKey || press.metaKey ? 'mod+' : '';
  const shift = shiftKey ? 'shift+' : '';
  const own = key === ' ' ? 'space' : key.toLowerCase();
  // A sign is what it is, with Shift or without.
  const names = LETTER.test(own) || own.length > 1 ? [`${mod}${shift}${own}`] : [];
  if (own.length === 1 && !/[a-z0-9]/.test(own)) names.push(`${mod}${own}`);
  const place = /^(?:Key([A-Z])|(?:Digit|Numpad)(\d))$/.exec(code);
  const isForeign = key.length === 1 && !/^[\x20-\x7e]$/.test(key);
  if (place?.[1] && isForeign) names.push(`${mod}${shift}${place[1].toLowerCase()}`);
  if (place?.[2]) names.push(`${mod}${shift}${place[2]}`);
  return names.find(isBound);
}
