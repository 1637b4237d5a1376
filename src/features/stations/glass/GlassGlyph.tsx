import { useShot } from '../../../state/shot-store';
import { AXIS } from '../station-view';

/** A prism, and the light that it fans out. */
export function GlassGlyph() {
  const on = useShot((state) => state.look.glass.on);
  return (
    <g>
      <path
        d={`M0 ${AXIS - 20} L 17 ${AXIS + 13} L -17 ${AXIS + 13} Z`}
        fill="var(--panel)"
        stroke="currentColor"
        strokeWidth={1.4}
        strokeLinejoin="round"
      />
      <path d={`M-20 ${AXIS + 4} L -8 ${AXIS - 3}`} fill="none" stroke="currentColor" />
      <g fill="none" opacity={on ? 0.95 : 0.25}>
        <path d={`M8 ${AXIS - 3} L 22 ${AXIS + 1}`} stroke="#d98a7d" />
        <path d={`M8 ${AXIS - 3} L 22 ${AXIS + 5}`} stroke="var(--amber)" />
        <path d={`M8 ${AXIS - 3} L 22 ${AXIS + 9}`} stroke="#8fb0d9" />
      </g>
    </g>
  );
}
