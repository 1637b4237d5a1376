/** What the words in braces of a file-name pattern stand for. */
export interface NameParts {
  shot: string;
  plate: string;
  width: number;
  height: number;
  date: Date;
}

export const NAME_WORDS = ['{shot}', '{plate}', '{size}', '{date}', '{time}'] as const;

/**
 * Fills a pattern such as `{shot}_{plate}_{date}` and adds the extension. Whatever file systems refuse becomes `-`.
 * Words that are not known stay as they stand, so that the slip is seen.
 */
export function fileName(pattern: string, parts: NameParts, extension: string): string {
  const two = (value: number): string => String(value).padStart(2, '0');
  const { date } = parts;
  const words: Record<string, string> = {
    shot: parts.shot,
    plate: parts.plate.replace(/\.[a-z0-9]+$/i, ''),
    size: `${parts.width}x${parts.height}`,
    date: `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`,
    time: `${two(date.getHours())}${two(date.getMinutes())}${two(date.getSeconds())}`,
  };
  const filled = pattern.replace(/\{(\w+)\}/g, (whole, word: string) => words[word] ?? whole);

  const safe = filled
    .replace(/[\u0000-\u001f<>:"/\\|?*]+/g, '-')
    .replace(/\s+/g, '_')
    .replace(/^[.-]+|[.-]+$/g, '');
  return `${safe || 'print'}.${extension}`;
}
