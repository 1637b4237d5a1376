import { useShot } from '../../../state/shot-store';
import { AXIS } from '../station-view';

/** Two facing surfaces, and light that goes back and forth between them. */
export function GhostsGlyph() {
  const on = useShot((state) => state.look.ghosts.on);
  return (
    <g>
      <path
        d={`M-13 ${AXIS - 21} Q -5 ${AXIS} -13 ${AXIS + 21} M 13 ${AXIS - 21} Q 5 ${AXIS} 13 ${AXIS + 21}`}
        fill="none"
        stroke="currentColor"
        strokeWidth={1.4}
      />
      <path
        d={`M-16 ${AXIS - 12} L 10 ${AXIS - 5} L -9 ${AXIS + 2} L 16 ${AXIS + 10}`}
        fill="none"
        stroke="var(--amber)"
        opacity={on ? 0.9 : 0.25}
      />
    </g>
  );
}
