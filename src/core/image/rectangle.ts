/** Pixels across and down. */
export interface Size {
  width: number;
  height: number;
}

/** A rectangle in pixels; (x, y) is its upper left corner. */
export interface Rectangle extends Size {
  x: number;
  y: number;
}
