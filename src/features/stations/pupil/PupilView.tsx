'use client';
import Box from '@mui/material/Box';
import { REFERENCE_WAVELENGTH } from '../../../core/optics/diffraction';
import { useShot } from '../../../state/shot-store';
import { BitmapPicture, FigureLine } from '../../common';
import { useLatest } from '../../controls';
import { askBench } from '../../session';

const SIDE = 144;
/** Of the point image's height, in wavelengths times f-number, what the bar beside it is long. */
const BAR = 20;

/** Cause and effect: the pupil, and beside it the image that it makes of a point of light. */
export function PupilView() {
  const look = useShot((state) => state.look);
  const { fStop } = look.camera;
  const { softness, saturation, squeezed } = look.veil.spikes;
  const { squeeze } = look.focus;
  const key = [look.pupil, fStop, softness, saturation, squeezed && squeeze];
  const pictures = useLatest(JSON.stringify(key), () =>
    askBench({ name: 'pupilPictures', look: useShot.getState().look, input: {} }),
  );
  if (!pictures) return <Box sx={{ height: SIDE + 44 }} />;
  const { pupil, point, reach, stops } = pictures;
  const micrometres = BAR * REFERENCE_WAVELENGTH * 1e-3 * fStop;
  return (
    <Box sx={{ display: 'flex', justifyContent: 'space-between', pb: 1 }} data-testid="pupil-view">
      <Box sx={{ width: SIDE }}>
        <BitmapPicture bitmap={pupil} label="The pupil: bright where it lets light through" fill />
        <FigureLine pt={0.25}>
          <span>pupil</span>
          <span>{(look.camera.focalLength / fStop).toFixed(1)} mm</span>
        </FigureLine>
      </Box>
      <Box sx={{ width: SIDE }}>
        <BitmapPicture bitmap={point} label="The image of a point of light, in stops below its middle" fill />
        <FigureLine pt={0.25}>
          <span>point at f/{fStop}</span>
          <Box component="span" sx={{ textAlign: 'right' }}>
            <Box
              component="span"
              sx={{
                display: 'block',
                width: (SIDE * BAR) / (2 * reach),
                ml: 'auto',
                mt: '3px',
                borderBottom: '2px solid',
                borderColor: 'text.secondary',
              }}
            />
            {micrometres.toFixed(0)} µm
          </Box>
        </FigureLine>
        <Box
          role="img"
          aria-label={`Brightness from the middle's down to ${stops} stops below it`}
          sx={{
            height: 6,
            mt: 0.25,
            background: 'linear-gradient(to right, #ffffff, #000000)',
            border: '1px solid',
            borderColor: 'divider',
          }}
        />
        <FigureLine pt={0.25}>
          <span>0</span>
          <span>-{stops / 2}</span>
          <span>-{stops} st</span>
        </FigureLine>
      </Box>
    </Box>
  );
}
