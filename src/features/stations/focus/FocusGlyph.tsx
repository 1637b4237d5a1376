import { AXIS } from '../station-view';

/** The lens that focuses, seen from its edge. */
export function FocusGlyph() {
  const [top, bottom] = [AXIS - 24, AXIS + 24];
  return (
    <path
      d={`M0 ${top} Q 11 ${AXIS} 0 ${bottom} Q -11 ${AXIS} 0 ${top} Z`}
      fill="var(--panel)"
      fillOpacity={0.85}
      stroke="currentColor"
    />
  );
}
