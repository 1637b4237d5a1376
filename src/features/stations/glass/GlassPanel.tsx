'use client';
import Box from '@mui/material/Box';
import { applyGlass } from '../../../core/look/starting-point';
import { getSetting, SETTINGS } from '../../../core/look/look';
import { LENSES } from '../../../core/stations/glass/starting-points';
import { useShot } from '../../../state/shot-store';
import { Facts } from '../../common';
import { Group, pathsBelow, Rows, useSought } from '../../controls';
import { SoloRow } from '../SoloRow';
import { StartingPoints } from '../StartingPoints';
import { GlassCharts, useGlassCurves } from './GlassCharts';
import { SceneGlass } from './SceneGlass';
import { ShakeCamera } from './ShakeCamera';

const GLASS = ['glass.abbe', 'glass.index', 'glass.residue'];
const TYPED = ['glass.lateral', 'glass.axial'];
const LINKS = ['glass.bend.lateral', 'glass.bend.axial', 'glass.bend.vignette', 'glass.bend.catsEye'];
const DISTORTION = ['glass.k1', 'glass.k2', 'glass.fill'];
const SHAKE = pathsBelow('glass.shake');
const VIGNETTE = pathsBelow('glass.vignette');
const OPTICAL = ['glass.vignette.optical', 'glass.vignette.wideOpen'];
const DRAWN = ['midpoint', 'roundness', 'x', 'y'].map((name) => `glass.vignette.${name}`);
const SCENE = SETTINGS.map(({ path }) => path).filter(
  (path) => path.startsWith('glass.scene.') || path.startsWith('glass.pieces['),
);

/** The panel of Glass: where to start, what parts colours, distortion, vignetting, and glass in the scene. */
export function GlassPanel() {
  const { fromLens, drive, vignette, scene, pieces } = useShot((state) => state.look.glass);
  const sought = {
    glass: useSought(GLASS),
    typed: useSought(TYPED),
    links: useSought(LINKS),
    optical: useSought(OPTICAL),
    drawn: useSought(DRAWN),
  };
  const isShaken = useShot(({ tracks, look }) =>
    SHAKE.some((path) => path in tracks || getSetting(look, path) !== 0),
  );
  const isTyped = !fromLens && drive === 'typed';
  const count = [scene, ...pieces].filter(({ on }) => on).length;
  return (
    <>
      <Group title="Starting points" open={false}>
        <StartingPoints points={LENSES} apply={applyGlass} keeps={keepsOf} />
      </Group>
      <Group title="Colour" paths={['glass.fromLens', 'glass.drive', ...GLASS, ...TYPED, ...LINKS]}>
        <Rows paths={['glass.fromLens']} />
        {!fromLens && <Rows paths={['glass.drive']} />}
        {(isTyped || sought.typed) && <Rows paths={TYPED} />}
        {(!fromLens || sought.glass) && (
          <Rows paths={GLASS.filter((path) => !isTyped || sought.glass || path !== 'glass.residue')} />
        )}
        {(fromLens || sought.links) && <Rows paths={LINKS} />}
        <Amounts />
        <GlassCharts />
      </Group>
      <Group title="Distortion" open={false} paths={DISTORTION}>
        <Rows paths={DISTORTION} />
      </Group>
      <Group title="Shake" open={isShaken} paths={SHAKE}>
        <Rows paths={SHAKE} />
        <ShakeCamera />
      </Group>
      <Group title="Vignetting" paths={VIGNETTE}>
        <Rows
          paths={VIGNETTE.filter(
            (path) =>
              (!OPTICAL.includes(path) || !fromLens || sought.optical) &&
              (!DRAWN.includes(path) || vignette.amount !== 0 || sought.drawn),
          )}
        />
        <GlassCharts fallOff />
      </Group>
      <Group title="Glass in the scene" summary={count ? String(count) : ''} open={count > 0} paths={SCENE}>
        <SceneGlass />
        <SoloRow name="glass.scene" label="Colours" />
      </Group>
    </>
  );
}

/** How far colours lie apart, in every unit that it is thought in, and what drives them. */
function Amounts() {
  const curves = useGlassCurves();
  const { fromLens, drive } = useShot((state) => state.look.glass);
  if (!curves) return null;
  const { lateral, axial, pixels } = curves.between;
  const by = fromLens ? 'traced lens' : drive === 'glass' ? 'glass' : 'typed';
  const facts: [string, string][] = [
    ['F to C in the corner', `${(100 * lateral).toFixed(4)} % h`],
    ['in pixels', `${pixels.toFixed(2)} px`],
    ['F to C along the axis', `${(100 * axial).toFixed(4)} % f`],
    ['driven by', by],
  ];
  return (
    <Box data-testid="glass-amounts" sx={{ py: 0.5 }}>
      <Facts facts={facts} />
    </Box>
  );
}

/** What a lens to start from leaves as it is. */
const keepsOf = (): string => {
  const { glass, ...rest } = useShot.getState().look;
  return JSON.stringify([rest, glass.scene, glass.pieces]);
};
