/** Shows a line of progress on standard error, if that is a terminal. */
export function progressLine(label: string): { step: (done: number) => void; end: () => void } {
  if (!process.stderr.isTTY) return { step: () => undefined, end: () => undefined };
  let last = -1;
  return {
    step(done) {
      const percent = Math.floor(done * 100);
      if (percent === last) return;
      last = percent;
      process.stderr.write(`\r${label} ${percent} %`);
    },
    end: () => void process.stderr.write('\r\u001b[K'),
  };
}
