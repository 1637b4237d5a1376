'use client';
import Add from '@mui/icons-material/Add';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { elementPath, parseLook } from '../../../core/look/look';
import { HUE_NAMES } from '../../../core/light/grading';
import { elementOf, MOST_CORRECTIONS } from '../../../core/settings/element';
import { useShot } from '../../../state/shot-store';
import { channelCurvePaths, ChannelCurves, Group, Rows } from '../../controls';
import { Fold } from './Fold';
import { useElement } from './use-element';

const LIGHT = ['exposure', 'offset', 'contrast', 'pivot', 'saturation'] as const;
const LEVELS = ['inLow', 'inHigh', 'gamma', 'outLow', 'outHigh'] as const;
const HUE_PARTS = ['shift', 'saturation', 'exposure'] as const;

/** What adds a correction, for those who look for settings of one. */
const CORRECTIONS = 'elements[i].corrections';

/** Paths of all settings of the correction that stands at a path. */
const pathsAt = (path: string): string[] => [
  ...[...LIGHT, 'mask'].map((name) => `${path}.${name}`),
  ...channelCurvePaths(path),
  ...LEVELS.map((name) => `${path}.levels.${name}`),
  ...HUE_NAMES.flatMap((hue) => HUE_PARTS.map((part) => `${path}.hues.${hue}.${part}`)),
];

/** What is done to the chosen element before the lens, and further corrections of it, each within a mask of its own. */
export function CorrectionGroup() {
  const { index, entry, count } = useElement();
  const settings = useShot((state) => elementOf(state.look, index));
  const { look, setLook } = useShot.getState();
  const further = settings.corrections;
  const put = (corrections: readonly object[]): void => {
    const elements = Array.from({ length: Math.max(look.elements.length, index + 1) }, (_, k) =>
      k === index ? { ...elementOf(look, k), corrections } : elementOf(look, k),
    );
    setLook(parseLook({ ...useShot.getState().look, elements }));
  };
  const own = elementPath(index, '').slice(0, -1);
  const places = [own, ...further.map((_, k) => `${own}.corrections[${k}]`)];
  return (
    <Group
      // With a second element it unfolds.
      key={count > 1 ? 'of several' : 'of one'}
      title={count > 1 ? `Correction of ${entry?.name ?? ''}` : 'Correction'}
      // The first further one is looked for here even if it is not there yet.
      paths={[...places, `${own}.corrections[0]`].flatMap(pathsAt)}
      summary={further.length ? `${1 + further.length}` : ''}
      open={count > 1}
    >
      {places.map((path, k) => (
        <Box component="section" aria-label={`Correction ${k + 1}`} key={path} sx={{ pb: 0.5 }}>
          {k > 0 && (
            <Box
              sx={{
                display: 'flex',
                alignItems: 'center',
                minHeight: 26,
                borderTop: '1px solid',
                borderColor: 'divider',
              }}
            >
              <Box sx={{ flex: 1 }}>Correction {k + 1}</Box>
              <IconButton
                size="small"
                aria-label={`Remove correction ${k + 1}`}
                onClick={() => put(further.filter((_, other) => other !== k - 1))}
                sx={{ width: 24, height: 24 }}
              >
                <Close sx={{ fontSize: 14 }} />
              </IconButton>
            </Box>
          )}
          <CorrectionRows path={path} />
        </Box>
      ))}
      <Button
        size="small"
        color="inherit"
        data-list={CORRECTIONS}
        startIcon={<Add />}
        disabled={further.length >= MOST_CORRECTIONS}
        onClick={() => put([...further, {}])}
        sx={{ color: 'text.secondary' }}
      >
        Another correction
      </Button>
    </Group>
  );
}

function CorrectionRows({ path }: { path: string }) {
  const levels = LEVELS.map((name) => `${path}.levels.${name}`);
  const hues = HUE_NAMES.flatMap((hue) => HUE_PARTS.map((part) => `${path}.hues.${hue}.${part}`));
  return (
    <>
      <Rows paths={['mask', ...LIGHT].map((name) => `${path}.${name}`)} />
      <Fold title="Curves" paths={channelCurvePaths(path)}>
        <ChannelCurves below={path} />
      </Fold>
      <Fold title="Levels" paths={levels}>
        <Rows paths={levels} />
      </Fold>
      <Fold title="By hue" paths={hues}>
        {HUE_NAMES.map((hue) => (
          <Box key={hue} component="section" aria-label={hue}>
            <Box sx={{ fontSize: 11, color: 'text.secondary', pt: 0.5 }}>{hue}</Box>
            <Rows paths={HUE_PARTS.map((part) => `${path}.hues.${hue}.${part}`)} />
          </Box>
        ))}
      </Fold>
    </>
  );
}
