import { AXIS } from '../station-view';

/** A strip of film, seen from its edge, with its holes. */
export function FilmGlyph() {
  return (
    <g>
      <path
        d={`M-4 ${AXIS - 25} C 4 ${AXIS - 12}, 4 ${AXIS + 12}, -4 ${AXIS + 25} L 6 ${AXIS + 25} C 14 ${AXIS + 12}, 14 ${AXIS - 12}, 6 ${AXIS - 25} Z`}
        fill="var(--panel)"
        stroke="currentColor"
      />
      {[-19, -11, -3, 5, 13].map((dy) => (
        <rect
          key={dy}
          x={4 - 0.012 * (dy + 3) ** 2}
          y={AXIS + dy}
          width={3}
          height={4.5}
          rx={0.8}
          fill="currentColor"
          opacity={0.7}
        />
      ))}
    </g>
  );
}
