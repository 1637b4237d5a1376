import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { AXIS } from '../station-view';

/** Scattering glass: a thin pane, and round it the glow of what it scatters. */
export function VeilGlyph() {
  const on = useShot((state) => state.look.veil.on);
  const moved = useDesk((state) => state.accounts.veil?.moved ?? 0);
  const strength = on ? Math.min(1, 0.25 + moved * 12) : 0.1;
  return (
    <g>
      {[9, 14, 20].map((radius, index) => (
        <circle
          key={radius}
          cx={0}
          cy={AXIS}
          r={radius}
          fill="none"
          stroke="var(--amber)"
          opacity={strength * (0.7 - 0.2 * index)}
          strokeDasharray={`${1.5 + index} ${2 + index}`}
        />
      ))}
      <rect x={-2.5} y={AXIS - 23} width={5} height={46} rx={2} fill="var(--panel)" stroke="currentColor" />
      {[-16, -8, 0, 8, 16].map((dy) => (
        <circle key={dy} cx={dy % 16 === 0 ? -0.6 : 0.7} cy={AXIS + dy} r={0.8} fill="currentColor" />
      ))}
    </g>
  );
}
