'use client';
import Box from '@mui/material/Box';
import { applyFilm } from '../../../core/look/starting-point';
import { getSetting, settingAt } from '../../../core/look/look';
import { FILMS } from '../../../core/stations/film/starting-points';
import { HUE_NAMES } from '../../../core/light/grading';
import { useShot } from '../../../state/shot-store';
import {
  channelCurvePaths,
  ChannelCurves,
  Group,
  pathsBelow,
  Rows,
  useHistogram,
  useSought,
} from '../../controls';
import { SoloRow } from '../SoloRow';
import { StartingPoints } from '../StartingPoints';

const EXPOSURE = ['film.exposure', 'film.within.exposure'];
const BALANCE = ['film.temperature', 'film.tint', 'film.within.balance'];
const TONE = [
  'film.contrast',
  'film.within.contrast',
  'film.lift',
  'film.gamma',
  'film.gain',
  'film.within.tone',
];
const COLOUR = ['film.saturation', 'film.within.colour'];
const LUT = ['film.lut', 'film.lutInput', 'film.lutStrength'];

/** The panel of Film: where to start, and its parts in light's own order, the view last. */
export function FilmPanel() {
  const film = useShot((state) => state.look.film);
  const percent = (amount: number): string => (amount > 0 ? `${Number((100 * amount).toFixed(2))} %` : '');
  const halation = pathsBelow('film.halation', ['on']);
  const feed = pathsBelow('film.halation.feed');
  const grain = [...pathsBelow('film.grain', ['on']), 'film.within.grain'];
  const sharpen = [...pathsBelow('film.sharpen', ['on']), 'film.within.sharpen'];
  const isTableSought = useSought(LUT);
  return (
    <>
      <Group title="Starting points" open={false}>
        <StartingPoints points={FILMS} apply={applyFilm} keeps={keepsOf} />
      </Group>
      <Group
        title="Halation"
        toggle="film.halation.on"
        summary={percent(film.halation.amount)}
        open={film.halation.amount > 0}
        paths={[...halation, ...feed]}
      >
        <Rows paths={[...halation, ...feed]} />
        <SoloRow name="film.halation" label="Halation" />
      </Group>
      <Group title="Exposure" paths={[...EXPOSURE, ...BALANCE]}>
        <Rows paths={[...EXPOSURE, ...BALANCE]} />
      </Group>
      <Group title="Tone" paths={TONE}>
        <Rows paths={TONE} />
      </Group>
      <Curves />
      <Group title="Saturation" paths={COLOUR}>
        <Rows paths={COLOUR} />
      </Group>
      <Hues />
      <Group
        title="Grain"
        toggle="film.grain.on"
        summary={percent(film.grain.amount)}
        open={film.grain.amount > 0}
        paths={grain}
      >
        <Rows paths={grain} />
      </Group>
      <Group
        title="Sharpening"
        toggle="film.sharpen.on"
        summary={percent(film.sharpen.amount)}
        open={film.sharpen.amount > 0}
        paths={sharpen}
      >
        <Rows paths={sharpen} />
        <SoloRow name="film" label="Grade">
          what tone, colour, grain and sharpening change
        </SoloRow>
      </Group>
      <Group title="View" paths={['film.view', ...LUT]}>
        <Rows paths={['film.view']} />
        {(film.view === 'lut' || film.lut !== '' || isTableSought) && <Rows paths={LUT} />}
        {film.lut !== '' && film.view !== 'lut' && (
          <Box sx={{ fontSize: 11, color: 'text.secondary', py: 0.5 }}>
            The table is used once the view is Look-up table.
          </Box>
        )}
      </Group>
    </>
  );
}

/** The curve of all channels and those of each, one at a time. */
function Curves() {
  const histogram = useHistogram();
  const film = useShot((state) => state.look.film);
  const paths = channelCurvePaths('film');
  const set = paths.filter(
    (path) => (getSetting({ ...useShot.getState().look, film }, path) as unknown[]).length > 0,
  );
  return (
    <Group
      title="Curves"
      summary={set.length ? `${set.length} set` : ''}
      open={set.length > 0}
      paths={[...paths, 'film.within.curve']}
    >
      <ChannelCurves below="film" histogram={histogram} />
      <Rows paths={['film.within.curve']} />
    </Group>
  );
}

/** The curve over hue: three numbers for each of six hues, smooth between them. */
function Hues() {
  const hues = useShot((state) => state.look.film.hues);
  const paths = HUE_NAMES.flatMap((name) => pathsBelow(`film.hues.${name}`));
  const set = HUE_NAMES.filter((name) => {
    const { shift, saturation, exposure } = hues[name];
    return shift !== 0 || saturation !== 1 || exposure !== 0;
  });
  return (
    <Group
      title="Curve over hue"
      summary={set.length ? set.join(', ') : ''}
      open={set.length > 0}
      paths={paths}
    >
      {HUE_NAMES.map((name) => (
        <Box key={name} component="section" aria-label={settingAt(`film.hues.${name}.shift`).group}>
          <Box sx={{ fontSize: 11, color: 'text.secondary', pt: 0.5 }}>
            {settingAt(`film.hues.${name}.shift`).group}
          </Box>
          <Rows paths={pathsBelow(`film.hues.${name}`)} />
        </Box>
      ))}
    </Group>
  );
}

/** What a film to start from leaves as it is. */
const keepsOf = (): string => {
  const { film, ...rest } = useShot.getState().look;
  return JSON.stringify([rest, film.exposure, film.within, film.lut, film.lutInput]);
};
