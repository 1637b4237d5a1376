'use client';
import { levelsAreNeutral } from '../../../core/color/tone';
import { elementPath, settingAt } from '../../../core/look/look';
import { elementOf } from '../../../core/settings/element';
import type { Setting } from '../../../core/settings/setting';
import { useShot } from '../../../state/shot-store';
import { CurveEditor, Group, HistogramChart, Rows, useHistogram, pathsBelow } from '../../controls';
import { PlateFacts } from './PlateFacts';
import { CleanReportRow } from './CleanReportRow';
import { CorrectionGroup } from './Correction';
import { ElementGroup } from './ElementGroup';
import { MaskList } from './MaskList';
import { PassTable } from './PassTable';
import { Rebuild } from './Rebuild';
import { useElement } from './use-element';

const SOURCE = ['source', 'pass', 'primaries'] as const;
const CLEAN = ['clamp', 'despike'] as const;
const CURVE = 'plate.curve';
const PREPARATION = pathsBelow('plate', ['curve']);
const LEVELS = pathsBelow('plate.levels');

/** Passes and masks have tables of their own. */
export const PLATE_COVERS = [...SOURCE, ...CLEAN, ...PREPARATION, ...LEVELS, CURVE, 'masks'];

/** The plate's panel: what came in, its passes, and how it is made ready for the lens. */
export function PlatePanel() {
  const histogram = useHistogram();
  const plate = useShot((state) => state.look.plate);
  const { index, count, entry } = useElement();
  const element = useShot((state) => elementOf(state.look, index));
  const of = (names: readonly string[]): string[] => names.map((name) => elementPath(index, name));
  const titled = (title: string): string => (count > 1 ? `${title} of ${entry?.name ?? ''}` : title);
  const masks = useShot((state) => state.look.masks.length);
  const cleaning = element.clamp > 0 || element.despike > 0;
  const curve = settingAt(CURVE) as Setting & { kind: 'curve' };
  return (
    <>
      <ElementGroup />
      <Group
        title={titled('Source')}
        paths={of(SOURCE)}
        summary={element.source === 'sum' ? 'sum of passes' : element.pass}
      >
        <Rows paths={of(SOURCE.filter((name) => name !== 'pass' || element.source === 'beauty'))} />
        <PlateFacts />
      </Group>
      <Group title={titled('Passes')}>
        <PassTable />
        <Rebuild />
      </Group>
      <Group title={titled('Clean-up')} paths={of(CLEAN)} summary={cleaning ? 'on' : 'off'} open={cleaning}>
        <Rows paths={of(CLEAN)} />
        <CleanReportRow />
      </Group>
      <CorrectionGroup />
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
