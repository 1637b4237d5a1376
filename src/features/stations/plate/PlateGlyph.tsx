import { AXIS } from '../station-view';

/** The render: a frame with a lamp in it. */
export function PlateGlyph() {
  return (
    <g>
      <rect x={-17} y={AXIS - 17} width={34} height={34} rx={1.5} fill="var(--panel)" stroke="currentColor" />
      <path
        d={`M-13 ${AXIS + 11} L-6 ${AXIS + 4} L-1 ${AXIS + 8} L5 ${AXIS + 5} L13 ${AXIS + 11} Z`}
        fill="none"
        stroke="currentColor"
        opacity={0.6}
      />
      <circle cx={0} cy={AXIS} r={2.6} fill="var(--amber)" />
    </g>
  );
}
