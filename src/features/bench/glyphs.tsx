import type { StationId } from '../../core/look/look';
import { useEffect, useRef } from 'react';
import { defaultLook, type Look } from '../../core/look/look';
import { pupilOutline, shapeAt, type PupilShape } from '../../core/optics/pupil';
import { hasMarks, pupilMask } from '../../core/optics/pupil-mask';
import { usePlates } from '../session';
import { AXIS, pupilHeight } from './drawing';

interface GlyphProps {
  id: StationId;
  /** How much the veil scatters, 0 to 1. */
  strength: number;
  pupil: Look['pupil'];
  fStop: number;
}

/** The elements on the bench, drawn around (0, AXIS). */
export function StationGlyph({ id, strength, pupil, fStop }: GlyphProps) {
  switch (id) {
    case 'plate':
      return <PlateGlyph />;
    case 'focus':
      return <LensGlyph />;
    case 'pupil':
      return <PupilGlyph shape={shapeAt(pupil, fStop)} pupil={pupil} height={pupilHeight(fStop)} />;
    case 'veil':
      return <VeilGlyph strength={strength} />;
    case 'film':
      return <FilmGlyph />;
  }
}

/** The lens that focuses, seen from its edge. */
function LensGlyph() {
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

interface PupilGlyphProps {
  shape: PupilShape;
  pupil: Look['pupil'];
  height: number;
}

/** The aperture itself, as it is: its blades, what lies in it, and how far it is open. */
function PupilGlyph({ shape, pupil, height }: PupilGlyphProps) {
  const size = Math.max(3, height);
  const held = pupil.obstruction;
  const points = pupilOutline(shape)
    .map(([x, y]) => `${(x * size).toFixed(2)},${(AXIS + y * size).toFixed(2)}`)
    .join(' ');
  return (
    <g>
      <circle cx={0} cy={AXIS} r={22} fill="var(--panel)" stroke="currentColor" />
      <polygon points={points} fill="#161616" stroke="var(--amber)" strokeWidth={0.8} />
      {held > 0 && (
        <circle
          cx={0}
          cy={AXIS}
          r={held * size}
          fill="var(--panel)"
          stroke="var(--amber)"
          strokeWidth={0.6}
        />
      )}
      {hasMarks(pupil) && (
        <foreignObject x={-size} y={AXIS - size} width={2 * size} height={2 * size}>
          <Marks shape={shape} pupil={pupil} />
        </foreignObject>
      )}
    </g>
  );
}

/** Pixels across of what lies in the pupil, drawn small. */
const MARKS_SIZE = 64;

/** What lies in the pupil, over its opening; an image that masks it is laid over as it is. */
function Marks({ shape, pupil }: Omit<PupilGlyphProps, 'height'>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const image = usePlates((state) => state.images[pupil.mask]);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const [marked, open] = [pupil, withoutMarks(pupil)].map((one) => pupilMask(shape, one, MARKS_SIZE)) as [
      Float32Array,
      Float32Array,
    ];
    const pixels = new ImageData(MARKS_SIZE, MARKS_SIZE);
    for (let i = 0; i < marked.length; i++)
      pixels.data.set([168, 168, 168, 255 * Math.max(0, open[i]! - marked[i]!)], 4 * i);
    context.putImageData(pixels, 0, 0);
    if (!image) return;
    context.globalAlpha = 0.7;
    context.drawImage(image, 0, 0, MARKS_SIZE, MARKS_SIZE);
    context.globalAlpha = 1;
  }, [shape, pupil, image]);
  return (
    <canvas
      ref={canvas}
      width={MARKS_SIZE}
      height={MARKS_SIZE}
      style={{ display: 'block', width: '100%', height: '100%', borderRadius: '50%' }}
    />
  );
}

const withoutMarks = (pupil: Look['pupil']): Look['pupil'] => ({
  ...defaultLook().pupil,
  obstruction: pupil.obstruction,
});

/** The render: a frame with a lamp in it. */
function PlateGlyph() {
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

/** Scattering glass: a thin pane, and round it the glow of what it scatters. */
function VeilGlyph({ strength }: { strength: number }) {
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

/** A strip of film, seen from its edge, with its holes. */
function FilmGlyph() {
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
