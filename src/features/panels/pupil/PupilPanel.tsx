'use client';
import { useShot } from '../../../state/shot-store';
import { Group } from '../Group';
import { pathsBelow, Rows } from '../Rows';
import { PupilChoice } from './PupilChoice';
import { PupilView } from './PupilView';

const APERTURE = pathsBelow('pupil');
const percent = (share: number): string => (share > 0 ? `${Number((share * 100).toFixed(2))} %` : '');
const many = (count: number): string => (count > 0 ? String(count) : '');

/** The pupil's panel: the pupil and what it makes of a point, its blades, and everything that lies in it. */
export function PupilPanel() {
  const { dust, scratches, fibres, ring, grating } = useShot((state) => state.look.pupil);
  const marks = [
    { name: 'dust', title: 'Dust', summary: percent(dust.amount) },
    { name: 'scratches', title: 'Scratches', summary: many(scratches.count) },
    { name: 'fibres', title: 'Fibres', summary: many(fibres.count) },
    { name: 'ring', title: 'Fibre ring', summary: many(ring.count) },
    { name: 'grating', title: 'Line grating', summary: many(grating.lines) },
  ];
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
