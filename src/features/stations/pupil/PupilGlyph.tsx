import { useEffect, useRef } from 'react';
import { defaultLook, type Look } from '../../../core/look/look';
import { pupilOutline, shapeAt, type PupilShape } from '../../../core/optics/pupil';
import { hasMarks, pupilMask } from '../../../core/optics/pupil-mask';
import { useShot } from '../../../state/shot-store';
import { usePlates } from '../../session';
import { AXIS } from '../station-view';
import { pupilHeight } from './pupil-height';

/** The aperture itself, as it is: its blades, what lies in it, and how far it is open. */
export function PupilGlyph() {
  const pupil = useShot((state) => state.look.pupil);
  const fStop = useShot((state) => state.look.camera.fStop);
  const shape = shapeAt(pupil, fStop);
  const size = Math.max(3, pupilHeight(fStop));
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
function Marks({ shape, pupil }: { shape: PupilShape; pupil: Look['pupil'] }) {
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
