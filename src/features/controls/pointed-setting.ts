/** Path of the setting whose row is under the pointer, or has the keyboard. */
export function pointedSetting(): string | undefined {
  const under = [...document.querySelectorAll<HTMLElement>('[data-setting]:hover')].at(-1);
  const focused = document.activeElement?.closest<HTMLElement>('[data-setting]');
  return (under ?? focused ?? undefined)?.dataset['setting'];
}
