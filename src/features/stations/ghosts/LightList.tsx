'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { parseLook } from '../../../core/look/look';
import { linearToHex } from '../../../core/color/hex';
import { luminance } from '../../../core/color/primaries';
import { LIGHT_EXTENSIONS } from '../../../core/formats/lights/space-light';
import { MOST_LIGHTS } from '../../../core/stations/ghosts/settings';
import type { ResolvedLight } from '../../../core/light/resolved-light';
import { useDesk } from '../../../state/desk-store';
import { useReelShown } from '../../../state/reel-shown';
import { useShot } from '../../../state/shot-store';
import { FileButton } from '../../common';
import { EntryList, pathsBelow, Rows, useSought } from '../../controls';
import { bringInLights } from '../../session';
import { useLights } from '../use-ghosts';

const ALL = pathsBelow('ghosts.lights[i]', ['on']).map((path) => path.split('.').at(-1)!);
/** Of use only where frames follow each other. */
const STEADY = ['ghosts.steady'];
const ON_PICTURE = ['x', 'y', 'distance'];
const IN_SPACE = ['px', 'py', 'pz'];
const DIRECTED = ['turn', 'tilt'];

/** A light of which less is seen is taken as if so much were. */
const LEAST_UNCOVERED = 0.2;

/** A light that was found, as one of the list. */
function taken({ name, x, y, flux, size, distance, uncovered = 1 }: ResolvedLight): object {
  // Its visibility counts from now on; what is seen of it now is to stay as bright.
  const bright = luminance(...flux) / Math.max(LEAST_UNCOVERED, uncovered);
  const most = Math.max(...flux, 1e-9);
  const round = (value: number): number => Number(value.toPrecision(5));
  return {
    name,
    x: round(x),
    y: round(y),
    gain: round(bright),
    tint: linearToHex(flux.map((value) => value / most)),
    size: round(Math.min(1, size)),
    ...(distance !== undefined && distance < 1e5 && { distance: round(distance) }),
  };
}

/** Puts the lights that are found now into the list, where they can be moved and tuned; finding is switched off. */
export function takeFound(found: readonly ResolvedLight[]): void {
  const { look, setLook } = useShot.getState();
  const lights = [...look.ghosts.lights, ...found.map(taken)].slice(0, MOST_LIGHTS);
  setLook(
    parseLook({ ...look, ghosts: { ...look.ghosts, lights, find: { ...look.ghosts.find, on: false } } }),
  );
  useDesk.getState().set({ light: look.ghosts.lights.length });
}

/** The lights: placed by hand, brought in, or found in the picture. */
export function LightList() {
  const lights = useShot((state) => state.look.ghosts.lights);
  const chosen = useDesk((state) => state.light);
  const set = useDesk((state) => state.set);
  const resolved = useLights() ?? [];
  const found = resolved.filter(({ isFound }) => isFound);
  const isReelShown = useReelShown();
  const isSteadySought = useSought(STEADY);
  return (
    <>
      <EntryList
        path="ghosts.lights"
        entries={lights}
        most={MOST_LIGHTS}
        addLabel="New light"
        nameOf={(index) => lights[index]?.name || `Light ${index + 1}`}
        newEntry={() => ({ x: 0.5, y: 0.3, gain: 10000 })}
        chosen={chosen}
        onChoose={(light) => set({ light })}
      >
        {(index) => (
          <LightRows index={index} light={resolved.find((one) => !one.isFound && one.index === index)} />
        )}
      </EntryList>
      <FileButton
        label="Lights from a file"
        name="File of lights"
        accept={LIGHT_EXTENSIONS.map((ending) => `.${ending}`).join(',')}
        onFile={(file) => void bringInLights(file)}
      />
      <Rows
        paths={[
          'ghosts.find.on',
          'ghosts.find.threshold',
          'ghosts.find.count',
          ...(isReelShown || isSteadySought ? STEADY : []),
        ]}
      />
      {found.length > 0 && (
        <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between', pt: 0.5 }}>
          <Box
            data-testid="found-lights"
            sx={{ fontFamily: 'var(--figures)', fontSize: 11, color: 'text.secondary' }}
          >
            {found.length} found, the brightest {Number(luminance(...found[0]!.flux).toPrecision(3))}
          </Box>
          <Button size="small" variant="outlined" color="inherit" onClick={() => takeFound(found)}>
            Take over
          </Button>
        </Box>
      )}
    </>
  );
}

function LightRows({ index, light }: { index: number; light: ResolvedLight | undefined }) {
  const settings = useShot((state) => state.look.ghosts.lights[index]);
  if (!settings) return null;
  const hidden = [...(settings.space ? ON_PICTURE : IN_SPACE), ...(settings.cone >= 360 ? DIRECTED : [])];
  return (
    <>
      <Rows
        paths={ALL.filter((key) => !hidden.includes(key)).map((key) => `ghosts.lights[${index}].${key}`)}
      />
      {settings.group && (
        <Rows paths={['on', 'gain', 'tint'].map((key) => `ghosts.groups.${settings.group}.${key}`)} />
      )}
      <Box
        data-testid="light-report"
        sx={{ fontFamily: 'var(--figures)', fontSize: 11, color: 'text.secondary', pt: 0.5 }}
      >
        {light
          ? `${Math.round(light.visibility * 100)} % seen${light.distance === undefined ? '' : `, ${Number(light.distance.toPrecision(3))} m away`}`
          : 'does not shine'}
      </Box>
    </>
  );
}
