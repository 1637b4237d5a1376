'use client';
import Box from '@mui/material/Box';
import { SETTINGS } from '../../../core/look/look';
import { applyFlare } from '../../../core/look/starting-point';
import { FLARES } from '../../../core/stations/ghosts/starting-points';
import { useShot } from '../../../state/shot-store';
import { Group, pathsBelow, Rows } from '../../controls';
import { SoloRow } from '../SoloRow';
import { StartingPoints } from '../StartingPoints';
import { GhostList } from './GhostList';
import { LensFile } from './LensFile';
import { LensView } from './LensView';
import { LightList } from './LightList';
import { MirrorList } from './MirrorList';

const LENS = [
  'ghosts.design',
  'ghosts.quality',
  'ghosts.coating',
  'ghosts.coatingWavelength',
  'ghosts.refocus',
];
const GHOSTS = ['ghosts.amount', 'ghosts.count', 'ghosts.minSize', 'ghosts.maxSize', 'ghosts.perLight'];
const below = (prefix: string): string[] =>
  SETTINGS.map(({ path }) => path).filter((path) => path.startsWith(prefix));

/** The panel of Ghosts: where to start, the lens, its ghosts, the lights, and what air and filters make of them. */
export function GhostsPanel() {
  const coating = useShot((state) => state.look.ghosts.coating);
  const shafts = useShot((state) => state.look.ghosts.shafts.amount);
  const air = useShot((state) => state.look.ghosts.air.amount);
  const mirrors = useShot((state) => state.look.ghosts.mirror.length);
  const lights = useShot((state) => state.look.ghosts.lights.length);
  const hasNone = useShot(({ look: { ghosts } }) => ghosts.lights.length === 0 && !ghosts.find.on);
  const hidden = coating === 'single' ? [] : ['ghosts.coatingWavelength'];
  return (
    <>
      {hasNone && (
        <Box sx={{ fontSize: 11, color: 'text.secondary', py: 0.75 }}>
          Ghosts need a light: start from a flare, which takes the brightest spot of the picture, place a
          light, or bring some in from a file.
        </Box>
      )}
      <Group title="Starting points" open={hasNone}>
        <StartingPoints points={FLARES} apply={applyFlare} keeps={keepsOf} />
      </Group>
      <Group title="Lens" paths={LENS}>
        <LensView />
        <Rows paths={LENS.filter((path) => !hidden.includes(path))} />
        <LensFile />
      </Group>
      <Group
        title="Lights"
        summary={lights ? String(lights) : ''}
        paths={[...below('ghosts.lights['), ...below('ghosts.find.'), 'ghosts.steady']}
      >
        <LightList />
      </Group>
      <Group title="Ghosts" paths={GHOSTS}>
        <Rows paths={GHOSTS} />
        <GhostList />
        <SoloRow name="ghosts.flare" label="Ghosts" />
      </Group>
      <Group title="Shafts" summary={summary(shafts)} open={shafts > 0} paths={pathsBelow('ghosts.shafts')}>
        <Rows paths={pathsBelow('ghosts.shafts')} />
        <SoloRow name="ghosts.shafts" label="Shafts" />
      </Group>
      <Group title="Air glow" summary={summary(air)} open={air > 0} paths={pathsBelow('ghosts.air')}>
        <Rows paths={pathsBelow('ghosts.air')} />
        <SoloRow name="ghosts.air" label="Air glow" />
      </Group>
      <Group
        title="Mirror veil"
        summary={mirrors ? String(mirrors) : ''}
        open={mirrors > 0}
        paths={below('ghosts.mirror[')}
      >
        <MirrorList />
        <SoloRow name="ghosts.mirror" label="Mirror veil" />
      </Group>
    </>
  );
}

const summary = (amount: number): string => (amount > 0 ? `${Number((amount * 100).toFixed(2))} %` : '');

/** What a flare to start from leaves as it is. */
const keepsOf = (): string => {
  const { plate, camera, pupil, focus, veil, film, ghosts } = useShot.getState().look;
  const { lights, groups, find, shafts, air, mirror } = ghosts;
  return JSON.stringify([plate, camera, pupil, focus, veil, film, lights, groups, find, shafts, air, mirror]);
};
