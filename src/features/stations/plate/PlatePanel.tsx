'use client';
import { levelsAreNeutral } from '../../../core/color/tone';
import { settingAt } from '../../../core/look/look';
import { elementOf } from '../../../core/settings/element';
import type { Setting } from '../../../core/settings/setting';
import { useShot } from '../../../state/shot-store';
import { CurveEditor, Group, HistogramChart, Rows, useHistogram, pathsBelow } from '../../controls';
import { PlateFacts } from './PlateFacts';
import { CleanReportRow } from './CleanReportRow';
import { MaskList } from './MaskList';
import { PassTable } from './PassTable';
import { Rebuild } from './Rebuild';

const SOURCE = ['elements[0].source', 'elements[0].pass', 'elements[0].primaries'] as const;
const CLEAN = ['elements[0].clamp', 'elements[0].despike'] as const;
const CURVE = 'plate.curve';
const PREPARATION = pathsBelow('plate', ['curve']);
const LEVELS = pathsBelow('plate.levels');

/** Passes and masks have tables of their own. */
export const PLATE_COVERS = [...SOURCE, ...CLEAN, ...PREPARATION, ...LEVELS, CURVE, 'masks'];

/** The plate's panel: what came in, its passes, and how it is made ready for the lens. */
export function PlatePanel() {
  const histogram = useHistogram();
  const plate = useShot((state) => state.look.plate);
  const element = useShot((state) => elementOf(state.look, 0));
  const masks = useShot((state) => state.look.masks.length);
  const cleaning = element.clamp > 0 || element.despike > 0;
  const curve = settingAt(CURVE) as Setting & { kind: 'curve' };
  return (
    <>
      <Group
        title="Source"
        paths={SOURCE}
        summary={element.source === 'sum' ? 'sum of passes' : element.pass}
      >
        <Rows paths={SOURCE.filter((path) => path !== 'elements[0].pass' || element.source === 'beauty')} />
        <PlateFacts />
      </Group>
      <Group title="Passes">
        <PassTable />
        <Rebuild />
      </Group>
      <Group title="Clean-up" paths={CLEAN} summary={cleaning ? 'on' : 'off'} open={cleaning}>
        <Rows paths={CLEAN} />
        <CleanReportRow />
      </Group>
      <Group title="Preparation" paths={[...PREPARATION, CURVE]}>
        <HistogramChart histogram={histogram} />
        <Rows paths={PREPARATION} />
        <CurveEditor setting={curve} histogram={histogram} />
      </Group>
      <Group
        title="Levels"
        paths={LEVELS}
        summary={levelsAreNeutral(plate.levels) ? '' : 'set'}
        open={!levelsAreNeutral(plate.levels)}
      >
        <Rows paths={LEVELS} />
      </Group>
      <Group title="Masks" summary={masks ? String(masks) : ''} open={masks > 0}>
        <MaskList />
      </Group>
    </>
  );
}
