/** Follows a convex outline downwards and gives its two sides at each height. */
export class OutlineWalk {
  left = 0;
  right = 0;
  private readonly sides: [number, number][][];
  private readonly next: [number, number] = [1, 1];

  constructor(outline: readonly [number, number][]) {
    const count = outline.length;
    let top = 0;
    let bottom = 0;
    outline.forEach(([, y], k) => {
      if (y < outline[top]![1]) top = k;
      if (y > outline[bottom]![1]) bottom = k;
    });
    const side = (step: 1 | -1): [number, number][] => {
      const points: [number, number][] = [];
      for (let k = top; ; k = (k + step + count) % count) {
        points.push(outline[k]!);
        if (k === bottom) return points;
      }
    };
    this.sides = [side(1), side(-1)];
  }

  /** Moves down to a height; false outside the outline. */
  advanceTo(y: number): boolean {
    const [a, b] = [this.across(0, y), this.across(1, y)];
    if (a === undefined || b === undefined) return false;
    this.left = Math.min(a, b);
    this.right = Math.max(a, b);
    return true;
  }

  private across(which: 0 | 1, y: number): number | undefined {
    const points = this.sides[which]!;
    if (y < points[0]![1] || y > points.at(-1)![1]) return undefined;
    let k = this.next[which];
    while (k < points.length - 1 && points[k]![1] < y) k++;
    this.next[which] = k;
    const [ax, ay] = points[k - 1]!;
    const [bx, by] = points[k]!;
    return by > ay ? ax + ((y - ay) * (bx - ax)) / (by - ay) : bx;
  }
}
