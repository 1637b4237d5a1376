'use client';
import type { Look } from '../../../core/look/look';
import { useShot } from '../../../state/shot-store';
import { Group, pathsBelow, Rows, sectionsBelow } from '../../controls';
import { PupilChoice } from './PupilChoice';
import { PupilView } from './PupilView';

const APERTURE = pathsBelow('pupil');
const percent = (share: number): string => (share > 0 ? `${Number((share * 100).toFixed(2))} %` : '');
const many = (count: number): string => (count > 0 ? String(count) : '');

/** What is said beside the title of a group: how much of it there is. */
const SUMMARY: Readonly<Record<string, (pupil: Look['pupil']) => string>> = {
  dust: ({ dust }) => percent(dust.amount),
  scratches: ({ scratches }) => many(scratches.count),
  fibres: ({ fibres }) => many(fibres.count),
  ring: ({ ring }) => many(ring.count),
  grating: ({ grating }) => many(grating.lines),
};

/** The pupil's panel: the pupil and what it makes of a point, its blades, and everything that lies in it. */
export function PupilPanel() {
  const pupil = useShot((state) => state.look.pupil);
  const marks = sectionsBelow('pupil').map(({ name, title }) => ({
    name,
    title,
    summary: SUMMARY[name]?.(pupil) ?? '',
  }));
  return (
    <>
      <PupilView />
      <Group title="Aperture" paths={APERTURE}>
        <PupilChoice />
        <Rows paths={APERTURE} />
      </Group>
      {marks.map(({ name, title, summary }) => {
        const paths = pathsBelow(`pupil.${name}`);
        return (
          <Group key={name} title={title} summary={summary} open={summary !== ''} paths={paths}>
            <Rows paths={paths} />
          </Group>
        );
      })}
    </>
  );
}
